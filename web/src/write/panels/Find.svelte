<script lang="ts">
  import { SvelteSet } from 'svelte/reactivity';
  import Drawer from '../../ui/Drawer.svelte';
  import { focusFirst } from '../../ui/focus';
  import { api, newId, type FoundPlace, type Looking, type ProofDivision } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import { writer } from '../../live/tab';

  interface Props {
    manualId: string;
    divisions: ProofDivision[];
    /** The division that is open. */
    division: string | null;
    /** Looked for at once. */
    words: string;
    ongo: (division: string, block: string | null) => void;
    /** What is typed is stored before anything is replaced. */
    onbefore: () => Promise<void>;
    /** Something was replaced: by this act. */
    onreplaced: (act: number) => void;
    ontakeback: () => void;
    onclose: () => void;
  }
  let { manualId, divisions, division, words: begun, ongo, onbefore, onreplaced, ontakeback, onclose }: Props = $props();

  // svelte-ignore state_referenced_locally
  let words = $state(begun);
  let wholeWords = $state(false);
  let sameCase = $state(false);
  let pattern = $state(false);
  let here = $state(false);
  let replacing = $state(false);
  let other = $state('');
  let places = $state.raw<FoundPlace[]>([]);
  let total = $state(0);
  let refused = $state('');
  let at = $state(0);
  let busy = $state(false);
  let list = $state<HTMLElement>();
  /** Places that stay as they are when the chosen ones are replaced. */
  const left = new SvelteSet<string>();

  const looking = $derived<Looking>({ words, wholeWords, sameCase, pattern, division: here ? division : null });
  const keyOf = (p: FoundPlace) => `${p.block} ${p.ordinal}`;
  const chosen = $derived(places.filter((p) => !left.has(keyOf(p))));
  const titleOf = (id: string) => {
    const found = divisions.find((d) => d.id === id);
    return found ? `${found.number ? found.number + ' ' : ''}${found.title}` : '';
  };
  const kinds: Record<string, string> = { Note: 'footnote', IndexEntry: 'index entry', Listing: 'listing', Title: 'title' };

  async function look(asked = looking) {
    if (!asked.words) {
      places = [];
      total = 0;
      refused = '';
      return;
    }
    try {
      const found = await api.find(manualId, asked);
      if (asked !== looking) return;
      places = found.places;
      total = found.total;
      refused = found.refused ?? '';
      left.clear();
      at = 0;
    } catch (e) {
      if (asked === looking) refused = e instanceof Error ? e.message : String(e);
    }
  }

  // As it is typed, after a moment in which nothing was.
  $effect(() => {
    const asked = looking;
    const timer = setTimeout(() => void look(asked), 120);
    return () => clearTimeout(timer);
  });

  function go(place: FoundPlace | undefined) {
    if (place) ongo(place.division, place.inner === place.division ? null : place.inner);
  }

  function walk(event: KeyboardEvent) {
    if (event.key === 'Escape') onclose();
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      at = Math.max(0, Math.min(places.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)));
      list?.querySelector(`[data-at="${at}"]`)?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') go(places[at]);
    else return;
    event.preventDefault();
  }

  async function replace(all: boolean) {
    busy = true;
    try {
      await onbefore();
      const byBlock = new Map<string, { block: string; version: number; ordinals: number[] }>();
      for (const p of chosen) {
        const own = byBlock.get(p.block) ?? { block: p.block, version: p.version, ordinals: [] };
        own.ordinals.push(p.ordinal);
        byBlock.set(p.block, own);
      }
      const done = await api.replace(manualId, { id: newId(), writer, looking, with: other, chosen: all ? null : [...byBlock.values()] });
      if (done.refused) notices.problem(new Error(done.refused));
      else {
        notices.tell(done.words, ontakeback);
        onreplaced(done.act);
      }
      await look();
    } catch (e) {
      notices.problem(e);
    } finally {
      busy = false;
    }
  }
</script>

<Drawer label="Find" {onclose}>
  {#snippet head()}
    <input
      class="field words"
      placeholder="Find in the manual"
      aria-label="Find"
      bind:value={words}
      onkeydown={walk}
      {@attach focusFirst}
    />
    <label><input type="checkbox" bind:checked={wholeWords} /> whole words</label>
    <label><input type="checkbox" bind:checked={sameCase} /> capitals as typed</label>
    <label><input type="checkbox" bind:checked={pattern} /> expression</label>
    <label><input type="checkbox" bind:checked={here} /> this division only</label>
    <label><input type="checkbox" bind:checked={replacing} /> replace</label>
    <span class="count" role="status"
      >{refused ||
        (words ? `${total} ${total === 1 ? 'place' : 'places'}${total > places.length ? `, ${places.length} shown` : ''}` : '')}</span
    >
  {/snippet}
  {#if replacing}
    <div class="with">
      <input
        class="field words"
        placeholder={pattern ? 'By ($1 is the first group)' : 'By'}
        aria-label="Replace by"
        bind:value={other}
        onkeydown={(e) => e.key === 'Escape' && onclose()}
      />
      <button class="btn" disabled={busy || chosen.length === 0} onclick={() => void replace(false)}
        >Replace {chosen.length === 1 ? 'the chosen one' : `the ${chosen.length} chosen`}</button
      >
      <button class="btn" disabled={busy || total === 0} onclick={() => void replace(true)}>Replace all {total}</button>
    </div>
  {/if}
  <ul bind:this={list}>
    {#each places as place, i (keyOf(place))}
      <li class:here={i === at}>
        {#if replacing}
          <input
            type="checkbox"
            aria-label="Replace here"
            checked={!left.has(keyOf(place))}
            onchange={() => (left.has(keyOf(place)) ? left.delete(keyOf(place)) : left.add(keyOf(place)))}
          />
        {/if}
        <button
          data-at={i}
          tabindex={i === at ? 0 : -1}
          onclick={() => {
            at = i;
            go(place);
          }}
        >
          <span class="where">{titleOf(place.division)}{place.folio ? `, page ${place.folio}` : ''}</span>
          <span class="before">{place.before}</span><b>{place.match}</b><span class="after">{place.after}</span>
          <span class="kind">{kinds[place.in] ?? ''}</span>
        </button>
      </li>
    {/each}
  </ul>
</Drawer>

<style>
  .with {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 14px;
    padding-bottom: 6px;
  }
  .words {
    width: 300px;
  }
  .count {
    margin-left: auto;
    color: var(--ink-soft);
  }
  li {
    display: flex;
    align-items: center;
    gap: 8px;
    content-visibility: auto;
    contain-intrinsic-block-size: 26px;
  }
  li button {
    display: grid;
    grid-template-columns: 210px minmax(0, 1fr) auto minmax(0, 1fr) 80px;
    gap: 4px;
    flex: 1;
    min-width: 0;
    min-height: 26px;
    align-items: center;
    text-align: left;
    padding: 0 6px;
    border-radius: var(--r);
    cursor: pointer;
  }
  li.here button,
  li button:hover {
    background: var(--bottle-tint);
  }
  li span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .where {
    color: var(--ink-soft);
  }
  .before {
    text-align: right;
    direction: rtl;
    unicode-bidi: plaintext;
  }
  .before,
  .after {
    white-space: pre !important;
  }
  .kind {
    color: var(--ink-soft);
    text-align: right;
  }
  b {
    white-space: pre;
  }
  @media (max-width: 860px) {
    li button {
      grid-template-columns: 120px minmax(0, 1fr) auto minmax(0, 1fr) 60px;
    }
  }
</style>
