<script lang="ts">
  // An underlined word of a sentence, which opens its choices.
  import type { Snippet } from 'svelte';

  interface Props {
    /** What is chosen there, for who does not see the sentence. */
    label?: string;
    onclick: (event: MouseEvent & { currentTarget: HTMLButtonElement }) => void;
    children: Snippet;
  }
  let { label, onclick, children }: Props = $props();
</script>

<button class="word" aria-haspopup="dialog" aria-label={label} {onclick}>{@render children()}</button>

<style>
  .word {
    display: inline;
    font: inherit;
    color: var(--bottle);
    text-decoration: underline 1px;
    text-underline-offset: 4px;
    padding: 0;
    text-align: left;
    cursor: pointer;
  }
  .word:hover {
    background: var(--bottle-tint);
  }
</style>
