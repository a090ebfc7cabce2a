<script lang="ts" generics="T extends { name: string; key?: string; note?: string }">
  import { focusFirst } from './focus';
  import Popover, { type Anchor } from './Popover.svelte';

  interface Props {
    label: string;
    choices: T[];
    anchor: Anchor;
    onchoose: (choice: T) => void;
    onclose: () => void;
    /** Asked for when what was typed is the name of none of them. */
    onnew?: (name: string) => void;
    newLabel?: string;
  }
  let { label, choices, anchor, onchoose, onclose, onnew, newLabel = 'New' }: Props = $props();

  let words = $state('');
  let at = $state(0);
  const shown = $derived(choices.filter((r) => r.name.toLowerCase().includes(words.toLowerCase())));

  function key(event: KeyboardEvent) {
    if (event.key === 'Escape') onclose();
    else if (event.key === 'ArrowDown') at = Math.min(at + 1, shown.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if (event.key === 'Enter') {
      const choice = shown[at];
      if (choice) onchoose(choice);
      else if (onnew && words.trim()) onnew(words.trim());
    } else {
      // A single key of the chord acts at once, as long as nothing else was typed.
      const quick = words === '' && !event.ctrlKey && !event.metaKey ? choices.find((r) => r.key === event.key) : undefined;
      if (!quick) {
        at = 0;
        return;
      }
      onchoose(quick);
    }
    event.preventDefault();
  }
</script>

<Popover {label} {anchor} width={250} {onclose}>
  <input
    class="field"
    placeholder="{label}: type, or press a key"
    aria-label={label}
    bind:value={words}
    onkeydown={key}
    {@attach focusFirst}
  />
  <ul>
    {#each shown as choice, i (i)}
      <li>
        <button
          class:on={i === at}
          tabindex="-1"
          onmousedown={(e) => {
            e.preventDefault();
            onchoose(choice);
          }}
        >
          <span>{choice.name}</span>{#if choice.key}<kbd class="key">{choice.key}</kbd>{/if}{#if choice.note}<span class="note"
              >{choice.note}</span
            >{/if}
        </button>
      </li>
    {/each}
    {#if shown.length === 0 && onnew && words.trim()}
      <li>
        <button
          class="on"
          tabindex="-1"
          onmousedown={(e) => {
            e.preventDefault();
            onnew(words.trim());
          }}>{newLabel} “{words.trim()}”</button
        >
      </li>
    {:else if shown.length === 0}<li class="none">Nothing is called that.</li>{/if}
  </ul>
</Popover>

<style>
  .note {
    color: var(--ink-soft);
  }
  ul {
    max-height: 300px;
    overflow: auto;
    margin-top: 4px;
  }
  button {
    display: flex;
    justify-content: space-between;
    width: 100%;
    padding: 3px 8px;
    border-radius: var(--r);
    cursor: pointer;
  }
  button.on,
  button:hover {
    background: var(--bottle-tint);
  }
  .none {
    padding: 4px 8px;
    color: var(--ink-soft);
  }
</style>
