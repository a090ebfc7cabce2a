<script lang="ts">
  // The parts of the look, and a search over all that can be set.
  import { search, type Forms, type Group, type LookPart } from './parts';
  import type { Json } from './tree';

  interface Props {
    look: Json;
    forms: Forms;
    groups: readonly Group[];
    chosen: string;
    /** Ids of parts with something changed, and with something wrong. */
    changed: ReadonlySet<string>;
    wrong: ReadonlySet<string>;
    onchoose: (part: LookPart) => void;
    ongo: (place: string) => void;
  }
  let { look, forms, groups, chosen, changed, wrong, onchoose, ongo }: Props = $props();

  let words = $state('');
  let at = $state(0);
  const found = $derived(search(look, forms, words));

  function key(event: KeyboardEvent) {
    if (event.key === 'ArrowDown') at = Math.min(at + 1, found.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if (event.key === 'Enter' && found[at]) go(found[at]!.place);
    else if (event.key === 'Escape' && words) words = '';
    else {
      at = 0;
      return;
    }
    event.preventDefault();
  }

  function go(place: string) {
    words = '';
    ongo(place);
  }

  function walk(event: KeyboardEvent) {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    const buttons = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('button')];
    const next = buttons[buttons.indexOf(document.activeElement as HTMLElement) + (event.key === 'ArrowDown' ? 1 : -1)];
    event.preventDefault();
    next?.focus();
    next?.click();
  }
</script>

<div class="search">
  <input
    class="field"
    type="search"
    placeholder="Search all settings  ( / )"
    aria-label="Search all settings"
    data-search
    bind:value={words}
    onkeydown={key}
  />
</div>
{#if words.trim()}
  <ul class="found" aria-label="Settings found">
    {#each found as f, i (f.place)}
      <li>
        <button class:on={i === at} onclick={() => go(f.place)}><b>{f.part.name}</b> <span>{f.words}</span></button>
      </li>
    {:else}<li class="none">Nothing has these words.</li>{/each}
  </ul>
{:else}
  <div role="toolbar" aria-orientation="vertical" aria-label="Parts of the look" tabindex="-1" onkeydown={walk}>
    {#each groups as group (group.name)}
      <h3>{group.name}</h3>
      {#each group.parts as part (part.id)}
        <button
          class="part"
          class:on={part.id === chosen}
          aria-current={part.id === chosen ? 'true' : undefined}
          tabindex={part.id === chosen ? 0 : -1}
          onclick={() => onchoose(part)}
        >
          <span
            >{part.name}{#if changed.has(part.id) || wrong.has(part.id)}<span
                class="mark"
                class:bad={wrong.has(part.id)}
                aria-label={[changed.has(part.id) && 'changed', wrong.has(part.id) && 'comes out badly'].filter(Boolean).join(', ')}
              >
                {changed.has(part.id) ? '●' : '○'}</span
              >{/if}</span
          >
          <i>{part.note}</i>
        </button>
      {/each}
    {/each}
  </div>
{/if}

<style>
  .search {
    position: sticky;
    top: 0;
    padding: 8px 12px;
    background: var(--board);
    z-index: 1;
  }
  .search .field {
    padding: 4px 8px;
    font-size: 12.5px;
  }
  h3 {
    padding: 8px 14px 2px;
    font-size: 12.5px;
    font-weight: 600;
    color: var(--ink-soft);
  }
  .part {
    position: relative;
    display: flex;
    justify-content: space-between;
    gap: 8px;
    width: 100%;
    padding: 2px 12px 2px 17px;
    border-left: 3px solid transparent;
    text-align: left;
    cursor: pointer;
  }
  .part:focus-visible {
    outline-offset: -2px;
  }
  .part i {
    color: var(--ink-soft);
    font-style: normal;
    font-size: 11.5px;
    white-space: nowrap;
  }
  .part:hover {
    background: color-mix(in srgb, var(--rule) 30%, transparent);
  }
  .part.on {
    border-left-color: var(--bottle);
    background: var(--bottle-tint);
    font-weight: 600;
  }
  /* Before the name, where it moves nothing: it comes with an answer, perhaps while a row is being pressed. */
  .mark {
    position: absolute;
    left: 4px;
    color: var(--bottle);
    font-size: 10px;
    line-height: 20px;
  }
  .mark.bad {
    color: var(--madder);
  }
  .found button {
    width: 100%;
    padding: 4px 14px;
    text-align: left;
    cursor: pointer;
    font-size: 12.5px;
  }
  .found button.on,
  .found button:hover {
    background: var(--bottle-tint);
  }
  .found span {
    color: var(--ink-soft);
  }
  .none {
    padding: 6px 14px;
    color: var(--ink-soft);
  }
</style>
