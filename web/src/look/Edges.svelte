<script lang="ts">
  // The book's edge twice: division by division as it was, and as it is in the look that is tried.
  import type { TriedLook } from '../shared/api';

  interface Props {
    outcome: TriedLook | null;
    working: boolean;
    pages: number;
    divisions: readonly { id: string; title: string; pages: number }[];
    ongo: (division: string) => void;
  }
  let { outcome, working, pages, divisions, ongo }: Props = $props();

  const titles = $derived(new Map(divisions.map((d) => [d.id, d.title])));
  const was = $derived(outcome?.divisionsWorn ?? divisions);
  const now = $derived(outcome?.divisions ?? []);
  const before = $derived(new Map((outcome?.divisionsWorn ?? []).map((d) => [d.id, d])));
  const widest = $derived(Math.max(outcome?.pageCount ?? 0, outcome?.pagesWorn ?? pages, 1));

  function effect(d: { id: string; firstSheet: number; pages: number }): 'same' | 'moved' | 'otherwise' {
    const old = before.get(d.id);
    return !old || old.pages !== d.pages ? 'otherwise' : old.firstSheet !== d.firstSheet ? 'moved' : 'same';
  }

  function says(d: { id: string; firstSheet: number; pages: number }): string {
    const old = before.get(d.id);
    const by = d.pages - (old?.pages ?? 0);
    return `${titles.get(d.id) || 'Untitled'}: ${d.pages} ${d.pages === 1 ? 'page' : 'pages'}${by ? `, ${by > 0 ? '+' : '−'}${Math.abs(by)}` : ''}`;
  }
</script>

<div class="edges" class:working>
  <span class="soft">as it was</span>
  <span class="bar" style:width="{((outcome?.pagesWorn ?? pages) / widest) * 100}%">
    {#each was as d (d.id)}<i style:flex-grow={d.pages}></i>{/each}
  </span>
  <span class="soft count">{outcome?.pagesWorn ?? pages} pages</span>
  <span class="soft">as it is now</span>
  {#if outcome}
    <span class="bar now" role="group" aria-label="Divisions in the look that is tried" style:width="{(outcome.pageCount / widest) * 100}%">
      {#each now as d (d.id)}<button
          class={effect(d)}
          style:flex-grow={d.pages}
          title={says(d)}
          aria-label={says(d)}
          tabindex="-1"
          onclick={() => ongo(d.id)}
        ></button>{/each}
    </span>
    <b class="count">{outcome.pageCount} pages</b>
  {:else}
    <span class="bar idle">{working ? 'composing …' : 'nothing is changed'}</span><span></span>
  {/if}
</div>

<style>
  .edges {
    display: grid;
    grid-template-columns: max-content minmax(0, 1fr) max-content;
    gap: 4px 10px;
    align-items: center;
    font-size: 12px;
  }
  .bar {
    display: flex;
    height: 11px;
    gap: 1px;
    min-width: 20px;
  }
  .bar i {
    flex: 1 1 0;
    background: color-mix(in srgb, var(--ink-soft) 45%, var(--board));
  }
  .bar button {
    flex: 1 1 0;
    min-width: 0;
    background: color-mix(in srgb, var(--ink-soft) 45%, var(--board));
    cursor: pointer;
  }
  .bar .moved {
    background: color-mix(in srgb, var(--bottle) 55%, var(--board));
    height: 11px;
  }
  .bar .otherwise {
    background: var(--ochre);
    margin-top: -2px;
    height: 15px;
  }
  .idle {
    color: var(--ink-soft);
    font-size: 12px;
    line-height: 11px;
  }
  .soft {
    color: var(--ink-soft);
  }
  .count {
    min-width: 74px;
  }
</style>
