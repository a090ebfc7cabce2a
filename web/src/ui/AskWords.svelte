<script lang="ts">
  import { focusFirst } from './focus';
  import Popover, { type Anchor } from './Popover.svelte';

  interface Props {
    label: string;
    text: string;
    does: string;
    anchor: Anchor;
    onchoose: (text: string) => void;
    onclose: () => void;
  }
  let { label, text, does, anchor, onchoose, onclose }: Props = $props();

  // svelte-ignore state_referenced_locally
  let words = $state(text);
</script>

<Popover {label} {anchor} width={410} {onclose}>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      onchoose(words.trim());
    }}
  >
    <label for="words">{label}</label>
    <input
      id="words"
      class="field"
      autocomplete="off"
      bind:value={words}
      onfocus={(e) => e.currentTarget.select()}
      onkeydown={(e) => {
        if (e.key !== 'Escape') return;
        e.preventDefault();
        onclose();
      }}
      {@attach focusFirst}
    />
    <p><kbd class="key">Enter</kbd> {does} <kbd class="key">Esc</kbd> leave as it is</p>
  </form>
</Popover>

<style>
  form {
    padding: 4px 6px;
  }
  label {
    display: block;
    margin-bottom: 5px;
    font-size: 12px;
    font-weight: 600;
  }
  p {
    margin-top: 7px;
    font-size: 11.5px;
    color: var(--ink-soft);
  }
</style>
