<script lang="ts">
  import { focusFirst } from '../../ui/focus';
  import Popover, { type Anchor } from '../../ui/Popover.svelte';
  import { api, type HeadingChoice } from '../../shared/api';

  export interface NewEntry {
    headings: string[];
    principal: boolean;
    see: string | null;
    seeAlso: string | null;
    filesUnder: string | null;
    range: boolean;
  }
  interface Props {
    manualId: string;
    anchor: Anchor;
    words: string;
    hasSelection: boolean;
    /** A range over the selection is meant. */
    over: boolean;
    /** The entry as it is, to be changed; null for a new one. */
    was?: NewEntry | null;
    onchoose: (entry: NewEntry) => void;
    onclose: () => void;
  }
  let { manualId, anchor, words, hasSelection, over, was = null, onchoose, onclose }: Props = $props();

  // svelte-ignore state_referenced_locally
  const begun = was;
  // svelte-ignore state_referenced_locally
  let text = $state(begun?.headings.join(' › ') ?? words);
  let principal = $state(begun?.principal ?? false);
  // svelte-ignore state_referenced_locally
  let range = $state(over && hasSelection);
  let see = $state(begun?.see ?? '');
  let seeAlso = $state(begun?.seeAlso ?? '');
  let filesUnder = $state(begun?.filesUnder ?? '');
  let found = $state<HeadingChoice[]>([]);
  let at = $state(-1);

  const path = $derived(
    text
      .split(/[›>]/)
      .map((t) => t.trim())
      .filter(Boolean)
      .slice(0, 3),
  );

  $effect(() => {
    const asked = path.at(-1) ?? '';
    api.headings(manualId, asked).then(
      (h) => {
        found = h;
        at = -1;
      },
      () => (found = []),
    );
  });

  function put() {
    if (path.length > 0)
      onchoose({
        headings: path,
        principal,
        see: see.trim() || null,
        seeAlso: seeAlso.trim() || null,
        filesUnder: filesUnder.trim() || null,
        range: begun ? begun.range : range && hasSelection,
      });
  }

  function key(event: KeyboardEvent) {
    if (event.key === 'Escape') onclose();
    else if (event.key === 'ArrowDown') at = Math.min(at + 1, found.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, -1);
    else if (event.key === 'Enter') {
      const heading = found[at];
      if (heading) {
        text = heading.headings.join(' › ');
        at = -1;
      } else put();
    } else return;
    event.preventDefault();
  }
</script>

<Popover label="Index entry" {anchor} width={340} {onclose}>
  <input
    class="field"
    placeholder="Index entry: heading › subheading"
    aria-label="Index entry"
    bind:value={text}
    onkeydown={key}
    {@attach focusFirst}
  />
  <ul role="listbox" aria-label="Headings there already">
    {#each found.slice(0, 8) as h, i (h.headings.join('›'))}
      <li role="option" aria-selected={i === at}>
        <button class:on={i === at} tabindex="-1" onclick={() => (text = h.headings.join(' › '))}>
          <span>{h.headings.join(' › ')}</span><i>{h.locators}</i>
        </button>
      </li>
    {/each}
    {#if found.length === 0}<li class="none">A new heading.</li>{/if}
  </ul>
  <div class="row">
    <label><input type="checkbox" bind:checked={principal} /> principal</label>
    {#if hasSelection && !was}<label><input type="checkbox" bind:checked={range} /> range over the selection</label>{/if}
  </div>
  <input class="field" placeholder="see … (instead of a page)" aria-label="See" bind:value={see} onkeydown={key} />
  <input class="field" placeholder="see also … (beside the page)" aria-label="See also" bind:value={seeAlso} onkeydown={key} />
  <input
    class="field"
    placeholder="files under … (its place in the order)"
    aria-label="Files under"
    bind:value={filesUnder}
    onkeydown={key}
  />
  <div class="row end">
    <button class="btn" onclick={onclose}>Leave it</button>
    <button class="btn do" disabled={path.length === 0} onclick={put}>{was ? 'Keep' : 'Put in'}</button>
  </div>
</Popover>

<style>
  ul {
    margin: 4px 0;
  }
  li button {
    display: flex;
    justify-content: space-between;
    gap: 8px;
    width: 100%;
    padding: 2px 8px;
    cursor: pointer;
    border-radius: var(--r);
  }
  li span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  i {
    font-style: normal;
    color: var(--ink-soft);
  }
  .on {
    background: var(--bottle-tint);
  }
  .none {
    padding: 2px 8px;
    color: var(--ink-soft);
  }
  .row {
    display: flex;
    gap: 14px;
    padding: 4px 4px 6px;
  }
  .end {
    justify-content: flex-end;
    padding: 6px 0 0;
    gap: 8px;
  }
</style>
