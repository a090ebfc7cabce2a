<script lang="ts">
  // What stands quietly over the text, for whoever does not know the keys yet.
  import type { Snippet } from 'svelte';

  export interface Way {
    name: string;
    sign?: string;
    key: string;
    run: () => void;
  }

  interface Props {
    ways: Way[];
    /** Stands behind the ways. */
    over?: Snippet | undefined;
  }
  let { ways, over }: Props = $props();
</script>

<div class="ways" role="toolbar" aria-label="Writing">
  {#each ways as way (way.name)}
    <!-- Pressed by the mouse, the caret stays where it is. -->
    <button
      tabindex="-1"
      title={way.sign ? `${way.name} (${way.key})` : undefined}
      aria-label={way.sign ? `${way.name} (${way.key})` : undefined}
      onmousedown={(e) => e.preventDefault()}
      onclick={way.run}
      >{#if way.sign}{way.sign}{:else}{way.name} <kbd class="key">{way.key}</kbd>{/if}</button
    >
  {/each}
  {@render over?.()}
</div>

<style>
  .ways {
    position: sticky;
    top: 0;
    z-index: 3;
    display: flex;
    flex-wrap: wrap;
    justify-content: center;
    gap: 2px 4px;
    padding: 5px 8px;
    background: var(--paper);
    border-bottom: 1px solid var(--rule);
    font-size: 11.5px;
  }
  .ways button {
    padding: 1px 7px;
    color: var(--ink-soft);
    border-radius: var(--r);
    cursor: pointer;
    white-space: nowrap;
  }
  .ways button:hover {
    background: var(--bottle-tint);
    color: var(--ink);
  }
  .ways .key {
    border: 0;
    padding: 0 0 0 2px;
    background: none;
    font-size: 10px;
    letter-spacing: -0.04em;
  }
  @container (max-width: 600px) {
    .ways .key {
      display: none;
    }
  }
</style>
