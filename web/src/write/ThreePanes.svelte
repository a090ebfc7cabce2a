<script lang="ts">
  // The three panes of Write side by side, folded to a tab, or one at a time where the window is narrow.
  import type { Snippet } from 'svelte';
  import type { Panes } from './panes.svelte';

  interface Props {
    panes: Panes;
    fore: Snippet;
    text: Snippet;
    page: Snippet;
  }
  let { panes, fore, text, page }: Props = $props();
</script>

<main
  class="panes {panes.shown}"
  class:folded={!panes.foreOpen}
  class:whole={panes.proof === 'whole'}
  class:folded-proof={panes.proof === 'folded'}
  style:--proof="{panes.proofWidth}px"
>
  {#if !panes.foreOpen}<button class="tab" title="Open the divisions (F2)" onclick={panes.foldFore}>Divisions</button>{/if}
  {@render fore()}
  {@render text()}
  <div class="divider" role="separator" aria-orientation="vertical" aria-label="Width of the proof" onpointerdown={panes.resize}></div>
  {#if panes.proof === 'folded'}<button class="tab" title="Open the proof (F8)" onclick={panes.foldProof}>Proof</button>{/if}
  {@render page()}
</main>

<style>
  .panes {
    display: grid;
    min-height: 0;
    --fore: 212px;
    /* The text keeps some 60 letters a line whatever width the proof was given; in a window with less room, 45. */
    --beside: min(var(--proof), max(100vw - var(--fore) - 676px, 31vw));
    grid-template-columns: var(--fore) minmax(0, 1fr) 5px var(--beside);
  }
  .panes.folded {
    --fore: 27px;
  }
  .panes:is(.folded, .whole) > :global(.fore),
  .panes.folded.whole > .tab:first-child,
  .panes:is(.folded-proof, .whole) > .divider,
  .panes.whole > :global(.scroll) {
    display: none;
  }
  .panes.folded-proof {
    grid-template-columns: var(--fore) minmax(0, 1fr) 27px;
  }
  .panes.folded-proof > :global(.proof) {
    display: none;
  }
  .panes.whole {
    grid-template-columns: minmax(0, 1fr);
  }
  .tab {
    writing-mode: vertical-rl;
    padding: 14px 4px;
    text-align: left;
    background: var(--board);
    border-inline: 1px solid var(--rule);
    color: var(--ink-soft);
    font-size: 12px;
    cursor: pointer;
  }
  .tab:hover {
    background: var(--bottle-tint);
    color: var(--ink);
  }
  .divider {
    cursor: col-resize;
    background: var(--board);
  }
  .divider:hover {
    background: var(--bottle-tint);
  }
  @media (max-width: 860px) {
    .panes,
    .panes.folded-proof {
      grid-template-columns: minmax(0, 1fr);
    }
    /* Over what each pane says of itself, in whatever order their styles come. */
    main.panes > :global(*) {
      display: none;
    }
    main.panes.fore > :global(.fore),
    main.panes.text > :global(.scroll),
    main.panes.page > :global(.proof) {
      display: grid;
    }
    main.panes.text > :global(.scroll) {
      display: block;
    }
    main.panes.fore > :global(.fore) {
      display: flex;
    }
  }
</style>
