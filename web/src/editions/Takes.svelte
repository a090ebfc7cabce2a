<script lang="ts">
  // The contents of an edition: ticked and put in order; beside each how many pages it costs.
  import type { Edition, OutlineRow, SeenEdition } from '../shared/api';
  import Rows from '../ui/Rows.svelte';
  import { emptied, inManualsOrder, moved, ownOrder, rowsOf, toggled, type TakenRow } from './taking';

  interface Props {
    edition: Edition;
    outline: readonly OutlineRow[];
    seen: SeenEdition | undefined;
    /** The whole manual, for the pages of what is left out. */
    whole: SeenEdition | undefined;
    onchange: (next: Edition) => void;
  }
  let { edition, outline, seen, whole, onchange }: Props = $props();

  let at = $state(0);
  let folded = $state(new Set<string>());
  const all = $derived(rowsOf(edition, outline));
  const rows = $derived(all.filter((r) => r.depth === 0 || (!folded.has(r.division) && r.depth <= 2)));
  const here = $derived(new Map((seen?.rows ?? []).map((r) => [r.id, r])));
  const there = $derived(new Map((whole?.rows ?? []).map((r) => [r.id, r])));

  function key(event: KeyboardEvent, row: TakenRow | undefined): boolean {
    if (!row) return false;
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      const next = moved(edition, outline, row, event.key === 'ArrowUp' ? -1 : 1);
      if (next !== edition) {
        onchange(next);
        const to = rowsOf(next, outline)
          .filter((r) => rows.some((o) => o.id === r.id && !!o.opening === !!r.opening) || r.depth === 0)
          .findIndex((r) => r.id === row.id && !!r.opening === !!row.opening);
        if (to >= 0) at = to;
      }
      return true;
    }
    if (event.ctrlKey || event.altKey || event.metaKey) return false;
    if (event.key === ' ') onchange(toggled(edition, outline, row));
    else if (event.key === 'a') onchange({ ...edition, takes: [], leavesOut: [] });
    else if (event.key === '0') onchange(emptied(edition, outline));
    else if (event.key === 'ArrowLeft' && row.depth === 0) folded = new Set([...folded, row.id]);
    else if (event.key === 'ArrowRight' && row.depth === 0) folded = new Set([...folded].filter((f) => f !== row.id));
    else return false;
    return true;
  }

  const said = { all: 'taken', some: 'taken in part', none: 'left out' };
  const pages = (tenths: number) => (tenths >= 10 ? `${Math.round(tenths / 10)} p.` : tenths > 0 ? '< 1 p.' : '');
</script>

<section class="takes" aria-label="Contents of the edition">
  <header>
    <h3>Contents, in {ownOrder(edition) ? 'its own order' : 'the manual’s order'}</h3>
    <span class="acts">
      {#if ownOrder(edition)}<button class="btn small" onclick={() => onchange(inManualsOrder(edition, outline))}>As the manual</button
        >{/if}
      <button class="btn small" onclick={() => onchange({ ...edition, takes: [], leavesOut: [] })}>All</button>
      <button class="btn small" onclick={() => onchange(emptied(edition, outline))}>None</button>
    </span>
  </header>
  <Rows items={rows} rowHeight={26} label="Contents of the edition: Space takes in or leaves out, Alt and arrows move" bind:at onkey={key}>
    {#snippet row(row)}
      {@const own = row.opening ? undefined : here.get(row.id)}
      <div class="row" class:out={row.taken === 'none'} style:padding-left="{10 + row.depth * 16}px">
        <!-- The row says whether it is taken and takes the key; the tick is for the mouse. -->
        <span class="tick {row.taken}" aria-hidden="true" onclick={() => onchange(toggled(edition, outline, row))}
          >{row.taken === 'all' ? '✓' : row.taken === 'some' ? '–' : ''}</span
        >
        <span class="sr">{said[row.taken]}</span>
        <span class="number">{(own && row.taken !== 'none' ? own.number : row.number) || ''}</span>
        <span class="title" class:soft={row.opening}>{row.title || '…'}</span>
        <span class="pages"
          >{#if own && row.taken !== 'none'}{own.folio} · {pages(own.pages)}{:else if !row.opening}{pages(
              there.get(row.id)?.pages ?? 0,
            )}{/if}</span
        >
      </div>
    {/snippet}
  </Rows>
</section>

<style>
  .takes {
    display: grid;
    grid-template-rows: auto minmax(160px, 1fr);
    min-height: 0;
  }
  header {
    display: flex;
    align-items: center;
    justify-content: space-between;
    min-height: 38px;
    padding: 0 14px;
  }
  .acts {
    display: flex;
    flex: none;
    gap: 4px;
  }
  h3 {
    font-size: 12.5px;
    font-weight: 600;
  }
  .row {
    display: flex;
    align-items: center;
    gap: 7px;
    height: 100%;
    padding-right: 12px;
  }
  .tick {
    flex: none;
    width: 14px;
    height: 14px;
    border: 1px solid var(--ink-soft);
    border-radius: 2px;
    font: 700 10px/12px var(--ui);
    text-align: center;
    cursor: pointer;
    background: var(--paper);
  }
  .tick.all,
  .tick.some {
    background: var(--bottle);
    border-color: var(--bottle);
    color: var(--on-bottle);
  }
  .number {
    flex: none;
    min-width: 30px;
    color: var(--ink-soft);
    font-variant-numeric: tabular-nums;
  }
  .title {
    font: 14px/1.2 var(--text);
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .out .title,
  .soft {
    color: var(--ink-soft);
  }
  .pages {
    margin-left: auto;
    flex: none;
    font-size: 11.5px;
    color: var(--ink-soft);
    font-variant-numeric: tabular-nums;
  }
</style>
