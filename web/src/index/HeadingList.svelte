<script lang="ts">
  // The headings as a tree, with the letters and a filter.
  import Rows from '../ui/Rows.svelte';
  import { filtered, letters, type Heading } from './headings';

  interface Props {
    headings: Heading[];
    /** The chosen one, among all. */
    at: number;
    loose: boolean;
    onat: (index: number) => void;
    onkey: (event: KeyboardEvent) => boolean;
    onopen: () => void;
  }
  let { headings, at, loose, onat, onkey, onopen }: Props = $props();

  let asked = $state('');
  let place = $state(0);
  let rows = $state<ReturnType<typeof Rows<Heading>>>();
  let field = $state<HTMLInputElement>();

  const shown = $derived(filtered(headings, asked, loose));
  const rail = $derived(letters(shown));

  // What is chosen elsewhere is shown here.
  $effect(() => {
    const index = shown.findIndex((h) => h.index === at);
    if (index >= 0 && index !== place) {
      place = index;
      rows?.show(index);
    }
  });

  export function focus() {
    rows?.focus();
  }
  export function filter() {
    field?.focus();
    field?.select();
  }

  function moved(index: number) {
    place = index;
    const heading = shown[index];
    if (heading) onat(heading.index);
  }
</script>

<div class="head">
  <input
    class="field"
    placeholder="Filter {headings.length} headings"
    aria-label="Filter headings"
    bind:value={asked}
    bind:this={field}
    onkeydown={(e) => {
      if (e.key === 'ArrowDown' || e.key === 'Enter') {
        moved(0);
        rows?.focus();
      } else if (e.key === 'Escape') {
        asked = '';
        rows?.focus();
      } else return;
      e.preventDefault();
    }}
  />
</div>
<div class="both">
  <nav class="rail" aria-label="Letters">
    {#each rail as l (l.letter)}<button
        tabindex="-1"
        class:on={l === rail.findLast((r) => r.at <= place)}
        onclick={() => {
          moved(l.at);
          rows?.show(l.at);
        }}>{l.letter}</button
      >{/each}
  </nav>
  <Rows items={shown} rowHeight={25} label="Headings of the index" bind:this={rows} bind:at={() => place, moved} {onkey} {onopen}>
    {#snippet row(h: Heading)}
      <div class="heading" style:padding-left="{12 + h.row.depth * 18}px" class:sees={h.row.see}>
        <span class="text"
          >{h.row.text}{#if h.row.see}&ensp;<i>see</i> {h.row.see}{/if}</span
        >
        {#if h.row.loose.length > 0}<span class="m" title={h.row.loose.map((l) => l.message).join('\n')}>○</span>{/if}
        {#if !h.row.see || h.row.count > 0}<span class="n">{h.row.count || ''}</span>{/if}
      </div>
    {/snippet}
    {#snippet empty()}
      <p class="none">
        {headings.length === 0
          ? 'No entry stands in the text yet. Sweep for a phrase, or select words in Write and press Ctrl ; i.'
          : 'No heading has these words.'}
      </p>
    {/snippet}
  </Rows>
</div>

<style>
  .head {
    padding: 8px 10px;
    border-bottom: 1px solid var(--rule);
  }
  .both {
    display: grid;
    grid-template-columns: 24px minmax(0, 1fr);
    min-height: 0;
  }
  .rail {
    display: flex;
    flex-direction: column;
    overflow: hidden auto;
    scrollbar-width: none;
    padding: 4px 0;
    border-right: 1px solid var(--rule);
    background: var(--paper);
  }
  .rail button {
    font-size: 10.5px;
    line-height: 1.55;
    color: var(--ink-soft);
    cursor: pointer;
  }
  .rail .on {
    color: var(--plum);
    font-weight: 700;
  }
  .heading {
    display: flex;
    gap: 8px;
    align-items: baseline;
    height: 100%;
    padding-right: 12px;
    font: 15px/25px var(--text);
    white-space: nowrap;
  }
  .text {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .sees {
    color: var(--ink-soft);
  }
  .n {
    margin-left: auto;
    font: 12px/1 var(--ui);
    color: var(--ink-soft);
    font-variant-numeric: tabular-nums;
  }
  .m {
    color: var(--madder);
    font: 12px/1 var(--ui);
  }
  .none {
    padding: 12px;
    color: var(--ink-soft);
  }
</style>
