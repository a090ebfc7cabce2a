<script lang="ts">
  // How a variable or a passage of this manual stands to the shelf, which keeps some for all manuals.
  import type { KeptOnce } from './kept-once.svelte';

  interface Props {
    kept: KeptOnce;
    kind: 'variable' | 'passage';
    name: string;
  }
  let { kept, kind, name }: Props = $props();
  const there = $derived(kept.shelf.find((k) => k.kind === kind && k.name === name));
</script>

{#if !there}
  <button class="give" title="All manuals of the shelf can take it then" onclick={() => void kept.shelfAct('give', kind, name)}
    >Give to the shelf</button
  >
{:else if there.here === 'other'}
  <p>
    The shelf says <q>{there.words.slice(0, 60)}</q>.
    <button aria-label="Take {name} as the shelf says it" onclick={() => void kept.shelfAct('take', kind, name)}>Take it</button>
    <button aria-label="Give {name} as it is here to the shelf" onclick={() => void kept.shelfAct('give', kind, name)}>Give this one</button
    >
  </p>
{:else}
  <p>
    On the shelf.
    <button
      title="Manuals that say something else under this name take it"
      aria-label="Take {name} in all manuals"
      onclick={() => void kept.shelfAct('everywhere', kind, name)}>Take in all manuals</button
    >
    <button
      title="Manuals keep what they have"
      aria-label="Take {name} off the shelf"
      onclick={() => void kept.shelfAct('takeOut', kind, name)}>Off the shelf</button
    >
  </p>
{/if}

<style>
  p,
  .give {
    grid-column: 1 / -1;
    padding-left: 9px;
    font-size: 11.5px;
    color: var(--ink-soft);
  }
  button {
    text-align: left;
    min-height: 24px;
    cursor: pointer;
    text-decoration: underline;
    text-decoration-color: var(--rule);
    text-underline-offset: 2px;
  }
  button:hover {
    color: var(--bottle);
  }
  p button {
    margin-left: 6px;
  }
</style>
