<script lang="ts">
  import { route, views, type View } from '../shared/route.svelte';

  interface Props {
    manualId: string;
    view: View;
  }
  let { manualId, view }: Props = $props();
</script>

<nav class="views" aria-label="Views">
  {#each views as v (v.view)}
    <button class:on={v.view === view} aria-current={v.view === view ? 'page' : undefined} onclick={() => route.open(manualId, v.view)}
      >{v.name}</button
    >
  {/each}
</nav>

<style>
  .views {
    display: flex;
    flex: none;
  }
  button {
    padding: 6px 10px;
    color: var(--ink-soft);
    cursor: pointer;
  }
  button.on {
    color: var(--ink);
    font-weight: 600;
    box-shadow: inset 0 -2px 0 var(--bottle);
  }
</style>
