<script lang="ts">
  import { route } from './shared/route.svelte';
  import NoticeBar from './frame/NoticeBar.svelte';
  import BringIn from './bring-in/BringIn.svelte';
  import Contents from './contents/Contents.svelte';
  import Editions from './editions/Editions.svelte';
  import Index from './index/Index.svelte';
  import Look from './look/Look.svelte';
  import Plan from './plan/Plan.svelte';
  import References from './references/References.svelte';
  import Shelf from './shelf/Shelf.svelte';
  import Write from './write/Write.svelte';
</script>

{#if route.place.bringIn}
  {#key route.place.bringIn}
    <BringIn id={route.place.bringIn} />
  {/key}
{:else if route.place.manual && route.place.view === 'plan'}
  {#key route.place.manual}
    <Plan manualId={route.place.manual} />
  {/key}
{:else if route.place.manual && route.place.view === 'references'}
  {#key route.place.manual}
    <References manualId={route.place.manual} />
  {/key}
{:else if route.place.manual && route.place.view === 'contents'}
  {#key route.place.manual}
    <Contents manualId={route.place.manual} />
  {/key}
{:else if route.place.manual && route.place.view === 'index'}
  {#key route.place.manual}
    <Index manualId={route.place.manual} />
  {/key}
{:else if route.place.manual && route.place.view === 'editions'}
  {#key route.place.manual}
    <Editions manualId={route.place.manual} />
  {/key}
{:else if route.place.manual && route.place.view === 'look'}
  {#key route.place.manual}
    <Look manualId={route.place.manual} />
  {/key}
{:else if route.place.manual}
  {#key route.place.manual}
    <Write manualId={route.place.manual} />
  {/key}
{:else}
  <Shelf />
{/if}
<NoticeBar />
