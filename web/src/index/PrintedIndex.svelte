<script lang="ts">
  // The index as it will be printed, live; the chosen heading's lines have a bar.
  import PrintedPage from '../live/PrintedPage.svelte';
  import type { LiveProof } from '../live/live-proof.svelte';
  import type { IndexView } from '../shared/api';
  import { withFaces } from '../shared/faces';

  interface Props {
    proof: LiveProof;
    view: IndexView;
    /** Lines of the chosen heading and of what stands beneath it. */
    lines: number[];
    online: (line: number) => void;
    /** Asked where the manual prints no index. */
    onadd: () => void;
    /** Its pages as they were, drawn: they stand beside those of now. */
    was: readonly string[] | null;
    onstop: () => void;
  }
  let { proof, view, lines, online, onadd, was, onstop }: Props = $props();

  let scroller = $state<HTMLElement>();
  const pages = $derived(view.pages.map((p) => ({ ...p, page: proof.pages[p.sheet] })).filter((p) => p.page !== undefined));

  // The page with the chosen line comes into sight.
  $effect(() => {
    const line = lines[0];
    const at = pages.findIndex((p) => line !== undefined && line >= p.first && line <= p.last);
    if (at >= 0) scroller?.querySelector(`[data-at="${at}"]`)?.scrollIntoView({ block: 'nearest' });
  });
</script>

{#snippet count(what: string, pages: number)}<p class="count">{what}: {pages} {pages === 1 ? 'page' : 'pages'}</p>{/snippet}

{#if was}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="pages was" role="region" aria-label="The index as it was" tabindex="0">
    {@render count('As it was', was.length)}
    {#each was as svg, i (i)}<div class="page kept">{@html withFaces(svg)}</div>{/each}
  </div>
{/if}
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="pages" bind:this={scroller} role="region" aria-label="The index as printed" tabindex="0">
  {#if was}<div class="now">
      {@render count('As it is now', pages.length)}<button class="btn small" onclick={onstop}>Stop comparing</button>
    </div>{/if}
  {#if view.block === ''}
    <div class="none">
      <p>This manual prints no index yet.</p>
      <button class="btn do" onclick={onadd}>Add an index</button>
    </div>
  {/if}
  {#each pages as p, at (p.sheet)}
    <div class="page" data-at={at}>
      <PrintedPage {proof} page={p.page!} block={view.block} parts={lines} lazy onpart={(_, part) => online(part)} />
    </div>
  {/each}
</div>

<style>
  .pages {
    overflow: auto;
    background: var(--desk);
    padding: 14px;
    min-height: 0;
  }
  .page {
    max-width: 460px;
    margin: 0 auto 14px;
    cursor: pointer;
  }
  .was {
    border-right: 1px solid var(--rule);
  }
  .kept {
    background: white;
    cursor: default;
    box-shadow: 0 1px 2px rgb(60 50 30 / 0.35);
  }
  .count {
    max-width: 460px;
    min-height: 26px;
    margin: 0 auto 8px;
    color: var(--ink-soft);
    font-size: 12.5px;
  }
  .now {
    display: flex;
    justify-content: space-between;
    max-width: 460px;
    margin: 0 auto;
  }
  .now .count {
    margin-left: 0;
  }
  .now .btn {
    align-self: start;
    padding: 1px 8px;
    font-size: 12px;
  }
  .none {
    display: grid;
    place-content: center;
    justify-items: center;
    gap: 10px;
    height: 100%;
  }
</style>
