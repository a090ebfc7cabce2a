<script lang="ts">
  import Popover, { type Anchor } from '../../ui/Popover.svelte';

  interface Props {
    /** What is chosen in the line: a reference, an entry, an anchor, a variable. */
    label: string;
    /** What it says, where the text does not show it. */
    says: string;
    anchor: Anchor;
    deeds: { name: string; key?: string; run: () => void }[];
    onclose: () => void;
  }
  let { label, says, anchor, deeds, onclose }: Props = $props();
</script>

<!-- The caret stays in the text: the keys act there. -->
<Popover {label} {anchor} {onclose} stays>
  <div>
    {#if says}<span class="says">{says}</span>{/if}
    {#each deeds as deed (deed.name)}
      <button onmousedown={(e) => e.preventDefault()} onclick={deed.run}
        >{deed.name}{#if deed.key}&nbsp;<kbd class="key">{deed.key}</kbd>{/if}</button
      >
    {/each}
  </div>
</Popover>

<style>
  div {
    display: flex;
    align-items: center;
    gap: 2px;
    font-size: 12px;
  }
  .says {
    max-width: 260px;
    padding: 0 8px 0 4px;
    color: var(--ink-soft);
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  button {
    padding: 3px 7px;
    min-height: 24px;
    border-radius: var(--r);
    cursor: pointer;
    white-space: nowrap;
  }
  button:hover {
    background: var(--bottle-tint);
  }
</style>
