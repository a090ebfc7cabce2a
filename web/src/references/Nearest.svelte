<script lang="ts">
  // For a reference that points at nothing: what is likest to what it printed, and how each would read there.
  import { api, type LikelyTarget } from '../shared/api';
  import type { Pointing } from './filters';

  interface Props {
    manualId: string;
    reference: Pointing;
    /** How many point at the same nothing, this one with them. */
    together: number;
    all: boolean;
    onall: (all: boolean) => void;
    onpoint: (target: string) => void;
    onplain: () => void;
    onsearch: (from: Element) => void;
    composition: number;
  }
  let { manualId, reference, together, all, onall, onpoint, onplain, onsearch, composition }: Props = $props();

  let likely = $state.raw<LikelyTarget[]>([]);
  let read = $state('');

  $effect(() => {
    const id = reference.id;
    void composition;
    api.likelyTargets(manualId, id).then(
      (l) => {
        if (id !== reference.id) return;
        likely = l;
        read = id;
        const number = asked?.id === id ? asked.number : 0;
        asked = null;
        if (number > 0) take(number);
      },
      () => (likely = []),
    );
  });

  /** A key that was pressed before the proposals were there. */
  let asked: { id: string; number: number } | null = null;

  /** Points at a proposal by its number; whether there is one. */
  export function take(number: number): boolean {
    if (read !== reference.id) {
      asked = { id: reference.id, number };
      return true;
    }
    const target = likely[number - 1];
    if (target) onpoint(target.id);
    return !!target;
  }
</script>

<section class="nearest" aria-label="Point at">
  <p>
    <b>Point at</b>
    <span class="soft"
      >{reference.lost ? `nearest to what it printed: ${reference.lost}` : 'what it printed is not known any more; these stand near'}</span
    >
  </p>
  <ol>
    {#each likely as t, i (t.id)}
      <li>
        <button onclick={() => onpoint(t.id)}>
          <span class="number">{t.number}</span><span class="title">{t.title}</span><span class="folio">{t.folio}</span>
          <span class="soft">prints</span><span class="prints">{t.prints}</span><kbd class="key">{i === 0 ? 'Enter' : i + 1}</kbd>
        </button>
      </li>
    {/each}
  </ol>
  {#if likely.length === 0 && read === reference.id}<p class="soft">Nothing in this edition is like it.</p>{/if}
  <p class="row">
    {#if together > 1}<label
        ><input type="checkbox" checked={all} onchange={(e) => onall(e.currentTarget.checked)} />
        {together - 1}
        {together === 2 ? 'other reference' : 'other references'} pointed there: all together <kbd class="key">o</kbd></label
      >{/if}
    <button class="btn small" onclick={(e) => onsearch(e.currentTarget)}>Search … <kbd class="key">p</kbd></button>
    <button class="btn small" onclick={onplain}>Make plain text <kbd class="key">d</kbd></button>
  </p>
</section>

<style>
  .nearest {
    padding: 8px 14px 10px;
    border-top: 1px solid var(--rule);
    background: var(--board);
    max-height: 46%;
    overflow: auto;
  }
  ol {
    display: grid;
    gap: 3px;
    padding: 5px 0;
  }
  li button {
    display: grid;
    grid-template-columns: 62px minmax(0, 1fr) 46px 46px minmax(0, 1.1fr) auto;
    gap: 8px;
    align-items: baseline;
    width: 100%;
    padding: 4px 10px;
    background: var(--paper);
    border: 1px solid transparent;
    border-radius: var(--r);
    text-align: left;
    cursor: pointer;
  }
  li:first-child button {
    border-color: var(--bottle);
  }
  li button:hover {
    border-color: var(--ink-soft);
  }
  .title {
    font: 15px/1.3 var(--text);
  }
  .prints {
    color: var(--woad);
  }
  .folio {
    font-variant-numeric: tabular-nums;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
    align-items: center;
    font-size: 12.5px;
  }
  .small {
    padding: 1px 8px;
    font-size: 12px;
  }
  .soft {
    color: var(--ink-soft);
  }
</style>
