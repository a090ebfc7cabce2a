<script lang="ts">
  // The files as one book: in which order and how deep they stand, what each is. Changed by keys, or dragged.
  import type { BringInView } from '../shared/api';
  import Pick from '../ui/Pick.svelte';
  import Rows from '../ui/Rows.svelte';
  import { called, dropped, kindName, kinds, moved, nested, toggled, type TreePlace } from './tree';

  interface Props {
    tree: NonNullable<BringInView['tree']>;
    busy: boolean;
    /** The places as they are to be. */
    onchange: (places: TreePlace[]) => void;
    onplace: (place: TreePlace) => void;
  }
  let { tree, busy, onchange, onplace }: Props = $props();

  let at = $state(0);
  let list = $state<ReturnType<typeof Rows>>();
  let choosing = $state.raw<Element | null>(null);
  let dragged = $state(-1);
  let holder = $state<HTMLElement>();

  $effect(() => {
    const place = tree.places[at];
    if (place) onplace(place);
  });

  function key(event: KeyboardEvent): boolean {
    if (busy) return false;
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      const next = moved(tree.places, at, event.key === 'ArrowUp' ? -1 : 1);
      at = next.at;
      onchange(next.places);
      return true;
    }
    if (event.altKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
      onchange(nested(tree.places, at, event.key === 'ArrowLeft' ? -1 : 1));
      return true;
    }
    if (event.ctrlKey || event.altKey || event.metaKey) return false;
    if (event.key === ' ') onchange(toggled(tree.places, at));
    else if (event.key === 'k') choosing = holder ?? null;
    else return false;
    return true;
  }
</script>

<div class="tree" bind:this={holder}>
  <p class="soft">
    <kbd class="key">Alt ↑ ↓</kbd> moves, <kbd class="key">Alt → ←</kbd> deeper and out, <kbd class="key">k</kbd> what it is,
    <kbd class="key">Space</kbd> leaves out
  </p>
  <Rows
    bind:this={list}
    items={tree.places}
    rowHeight={28}
    label="The files as one book: Alt and arrows move, k says what a file is, Space leaves it out"
    bind:at
    onkey={key}
  >
    {#snippet row(place, index)}
      <!-- The row takes the keys; dragging is for the mouse. -->
      <!-- svelte-ignore a11y_no_static_element_interactions -->
      <div
        class="row"
        class:out={place.kind === 'leftOut'}
        style:padding-left="{10 + place.depth * 18}px"
        draggable={!busy}
        ondragstart={() => (dragged = index)}
        ondragover={(e) => dragged >= 0 && e.preventDefault()}
        ondrop={() => {
          if (dragged >= 0) onchange(dropped(tree.places, dragged, index));
          dragged = -1;
        }}
      >
        <span class="title">{place.title || place.name}</span>
        <span class="kind">{kindName(place.kind)}</span>
        <span class="file">{place.name}</span>
      </div>
    {/snippet}
  </Rows>
</div>

{#if choosing && tree.places[at]}
  <Pick
    label={`“${tree.places[at]!.title}” is`}
    choices={kinds.map((k) => ({ name: k.name, kind: k.kind, note: tree.places[at]!.kind === k.kind ? '✓' : '' }))}
    anchor={choosing}
    onchoose={(c) => {
      choosing = null;
      onchange(called(tree.places, at, c.kind));
      list?.focus();
    }}
    onclose={() => {
      choosing = null;
      list?.focus();
    }}
  />
{/if}

<style>
  .tree {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    min-height: 0;
    border-right: 1px solid var(--rule);
    background: var(--paper);
  }
  .soft {
    color: var(--ink-soft);
    font-size: 12px;
    padding: 8px 12px;
    border-bottom: 1px solid var(--rule);
  }
  .row {
    display: flex;
    align-items: center;
    gap: 10px;
    height: 100%;
    padding-right: 12px;
    white-space: nowrap;
  }
  .title {
    flex: 1 1 auto;
    font: 14.5px/1.2 var(--text);
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .kind {
    flex: none;
    width: 64px;
    color: var(--bottle);
    font-size: 12px;
  }
  .file {
    flex: 0 1 34%;
    color: var(--ink-soft);
    font-size: 11.5px;
    overflow: hidden;
    text-overflow: ellipsis;
    text-align: right;
  }
  .out .title,
  .out .kind {
    color: var(--ink-soft);
    text-decoration: line-through;
  }
  .out .kind {
    text-decoration: none;
  }
</style>
