<script lang="ts">
  import { route } from './shared/route.svelte';
  import NoticeBar from './shared/NoticeBar.svelte';
  import Shelf from './shelf/Shelf.svelte';
  import Write from './write/Write.svelte';
</script>

{#if route.place.manual}
  {#key route.place.manual}
    <Write manualId={route.place.manual} />
  {/key}
{:else}
  <Shelf />
{/if}
<NoticeBar />
