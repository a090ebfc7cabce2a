<script lang="ts">
  // For the chosen heading: each locator with the words that carry it, and what can be done with it.
  import type { LocatorWhy } from '../shared/api';
  import { saidPath, samePath, type Heading } from './headings';

  interface Props {
    heading: Heading;
    why: LocatorWhy[];
    /** Marked, to be moved together. */
    marked: ReadonlySet<string>;
    onmark: (entry: string) => void;
    onprincipal: (l: LocatorWhy) => void;
    onrange: (l: LocatorWhy) => void;
    onedit: (l: LocatorWhy, from: Element) => void;
    ontakeout: (entries: string[]) => void;
    onmove: (from: Element) => void;
    ongo: (l: LocatorWhy) => void;
    onleave: () => void;
  }
  let { heading, why, marked, onmark, onprincipal, onrange, onedit, ontakeout, onmove, ongo, onleave }: Props = $props();

  let at = $state(0);
  let list = $state<HTMLElement>();
  $effect(() => {
    void heading.path;
    at = 0;
  });

  export function focus() {
    list?.focus();
  }

  const folio = (l: LocatorWhy) => (l.folio === l.to || !l.to ? l.folio : `${l.folio}–${l.to}`);
  const kind = (l: LocatorWhy) =>
    l.see
      ? `see ${l.see}`
      : l.seeAlso
        ? `see also ${l.seeAlso}`
        : [l.principal ? 'principal' : '', l.kind === 'RangeStart' ? 'range' : '', l.in === 'Text' ? '' : `in a ${l.in.toLowerCase()}`]
            .filter(Boolean)
            .join(', ') || 'point';

  function key(event: KeyboardEvent) {
    if (event.target !== list || event.ctrlKey || event.metaKey || event.altKey) return;
    const l = why[at];
    const row = list?.querySelector(`[data-at="${at}"]`) ?? list!;
    if (event.key === 'ArrowDown') at = Math.min(at + 1, why.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if (event.key === 'Escape' || event.key === 'ArrowLeft') onleave();
    else if (!l) return;
    else if (event.key === 'Enter') ongo(l);
    else if (event.key === 'p') onprincipal(l);
    else if (event.key === 'g') onrange(l);
    else if (event.key === 'r') onedit(l, row);
    else if (event.key === 'x') onmark(l.entry);
    else if (event.key === 'v') onmove(row);
    else if (event.key === 'Delete') ontakeout(marked.size > 0 ? [...marked] : [l.entry]);
    else return;
    event.preventDefault();
    list?.querySelector(`[data-at="${at}"]`)?.scrollIntoView({ block: 'nearest' });
  }
</script>

<!-- The list takes the keys. -->
<div
  class="list"
  role="listbox"
  tabindex="0"
  aria-label="Locators of {saidPath(heading.path)}"
  aria-multiselectable="true"
  aria-activedescendant="why-{at}"
  bind:this={list}
  onkeydown={key}
>
  {#each why as l, i (l.entry + i)}
    <!-- svelte-ignore a11y_click_events_have_key_events -->
    <div
      class="row"
      class:at={i === at}
      id="why-{i}"
      data-at={i}
      data-entry={l.entry}
      role="option"
      tabindex="-1"
      aria-selected={marked.has(l.entry)}
      onclick={() => {
        at = i;
        list?.focus();
      }}
      ondblclick={() => ongo(l)}
    >
      <b class:principal={l.principal}>{marked.has(l.entry) ? '✓ ' : ''}{folio(l)}</b>
      <span class="words">
        {#if !samePath(l.heading, heading.path)}<i>{l.heading.slice(heading.path.length).join(' › ')}</i>&ensp;{/if}{l.before}<mark
          >{l.match}</mark
        >{l.after}
      </span>
      <span class="kind">{kind(l)}</span>
      {#if i === at}
        <span class="do">
          <button class="btn small" tabindex="-1" onclick={() => ongo(l)}>Open</button>
          {#if !l.see && !l.seeAlso}<button class="btn small" tabindex="-1" onclick={() => onprincipal(l)}
              >{l.principal ? 'Plain' : 'Principal'} <kbd class="key">p</kbd></button
            >
            {#if l.kind === 'Point'}<button class="btn small" tabindex="-1" onclick={() => onrange(l)}
                >To the end of its section <kbd class="key">g</kbd></button
              >{/if}{/if}
          <button class="btn small" tabindex="-1" onclick={(e) => onedit(l, e.currentTarget)}
            >Another heading … <kbd class="key">r</kbd></button
          >
          <button class="btn small" tabindex="-1" onclick={() => ontakeout([l.entry])}>Take out</button>
        </span>
      {/if}
    </div>
  {/each}
  {#if why.length === 0}<p class="soft">No entry stands under these words any more.</p>{/if}
</div>

<style>
  .list {
    overflow: auto;
    min-height: 0;
    padding: 2px 0 20px;
  }
  .row {
    display: grid;
    grid-template-columns: 62px minmax(0, 1fr) 92px;
    gap: 8px;
    padding: 7px 12px;
    border-bottom: 1px solid var(--rule);
    cursor: default;
  }
  .row.at {
    background: color-mix(in srgb, var(--bottle-tint) 60%, transparent);
  }
  b {
    font-weight: 500;
    font-variant-numeric: tabular-nums;
  }
  b.principal {
    font-weight: 700;
  }
  .words {
    font: 15px/1.4 var(--text);
    overflow-wrap: anywhere;
  }
  mark {
    background: color-mix(in srgb, var(--plum) 18%, transparent);
    color: inherit;
  }
  .kind {
    font-size: 12px;
    color: var(--ink-soft);
  }
  .do {
    grid-column: 2 / 4;
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
  }
  .small {
    padding: 1px 7px;
    font-size: 11.5px;
  }
  .soft {
    padding: 10px 12px;
    color: var(--ink-soft);
  }
</style>
