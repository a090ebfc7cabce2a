<script lang="ts" generics="T">
  // A long list of rows of one height, of which those in sight are drawn; it takes the keys.
  import type { Snippet } from 'svelte';

  interface Props {
    items: readonly T[];
    rowHeight: number;
    label: string;
    /** Which has the focus. */
    at: number;
    row: Snippet<[T, number, boolean]>;
    /** A key that the list does not take itself; whether it was taken. */
    onkey?: (event: KeyboardEvent, item: T | undefined) => boolean;
    onopen?: (item: T, index: number) => void;
    /** Chosen beside the one with the focus. */
    chosen?: (item: T) => boolean;
    multiple?: boolean;
    /** Shown in place of rows where there are none. */
    empty?: Snippet;
  }
  let { items, rowHeight, label, at = $bindable(), row, onkey, onopen, chosen = () => false, multiple = false, empty }: Props = $props();

  const id = $props.id();
  let scroller = $state<HTMLElement>();
  let scrollTop = $state(0);
  let height = $state(400);
  const first = $derived(Math.max(0, Math.floor(scrollTop / rowHeight) - 5));
  const drawn = $derived(items.slice(first, first + Math.ceil(height / rowHeight) + 10).map((item, i) => ({ item, index: first + i })));

  export function focus() {
    scroller?.focus();
  }

  /** Scrolls a row into sight. */
  export function show(index: number) {
    if (!scroller || index < 0) return;
    const top = index * rowHeight;
    if (top < scroller.scrollTop) scroller.scrollTop = top;
    else if (top + rowHeight > scroller.scrollTop + scroller.clientHeight) scroller.scrollTop = top + rowHeight - scroller.clientHeight;
  }

  function go(index: number) {
    at = Math.max(0, Math.min(items.length - 1, index));
    show(at);
  }

  function key(event: KeyboardEvent) {
    if (event.target !== scroller) return;
    const page = Math.max(1, Math.floor(height / rowHeight) - 1);
    const plain = !event.ctrlKey && !event.metaKey && !event.altKey;
    if (onkey?.(event, items[at])) event.preventDefault();
    else if (!plain) return;
    else if (event.key === 'ArrowDown') go(at + 1);
    else if (event.key === 'ArrowUp') go(at - 1);
    else if (event.key === 'Home') go(0);
    else if (event.key === 'End') go(items.length - 1);
    else if (event.key === 'PageDown') go(at + page);
    else if (event.key === 'PageUp') go(at - page);
    else if (event.key === 'Enter' && at < items.length) onopen?.(items[at] as T, at);
    else return;
    event.preventDefault();
  }
</script>

<!-- The list takes the keys; its rows are reached by them. -->
<div
  class="rows"
  role="listbox"
  tabindex="0"
  aria-label={label}
  aria-multiselectable={multiple}
  aria-activedescendant={items[at] === undefined ? undefined : `${id}-${at}`}
  bind:this={scroller}
  bind:clientHeight={height}
  onscroll={(e) => (scrollTop = e.currentTarget.scrollTop)}
  onkeydown={key}
>
  {#if items.length === 0 && empty}{@render empty()}{/if}
  <div style:height="{items.length * rowHeight}px" class="all">
    {#each drawn as { item, index } (index)}
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <div
        id="{id}-{index}"
        class="row"
        class:at={index === at}
        class:chosen={chosen(item)}
        role="option"
        tabindex="-1"
        aria-selected={multiple ? chosen(item) : index === at}
        aria-posinset={index + 1}
        aria-setsize={items.length}
        style:top="{index * rowHeight}px"
        style:height="{rowHeight}px"
        onclick={(e) => {
          at = index;
          if (!(e.target as HTMLElement).closest('button,input,select')) scroller?.focus();
        }}
        ondblclick={() => onopen?.(item, index)}
      >
        {@render row(item, index, index === at)}
      </div>
    {/each}
  </div>
</div>

<style>
  .rows {
    position: relative;
    overflow: hidden auto;
    min-height: 0;
    height: 100%;
    background: var(--paper);
  }
  .rows:focus-visible {
    outline-offset: -2px;
  }
  .all {
    position: relative;
  }
  .row {
    position: absolute;
    left: 0;
    right: 0;
    overflow: hidden;
    cursor: default;
  }
  .row.chosen {
    background: color-mix(in srgb, var(--bottle-tint) 55%, transparent);
  }
  .row.at {
    background: var(--bottle-tint);
  }
</style>
