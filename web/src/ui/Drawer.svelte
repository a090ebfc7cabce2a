<script lang="ts">
  import type { Snippet } from 'svelte';

  interface Props {
    label: string;
    /** What stands at its head, beside the way out. */
    head: Snippet;
    children: Snippet;
    onclose: () => void;
  }
  let { label, head, children, onclose }: Props = $props();
</script>

<!-- A button that is gone after it was pressed leaves the focus with nobody. -->
<svelte:window
  onkeydown={(e) => {
    if (e.key === 'Escape' && document.activeElement === document.body) onclose();
  }}
/>
<!-- Over the foot of the screen, above the foot strip; the text stays in sight. -->
<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<section
  class="drawer"
  aria-label={label}
  onkeydown={(e) => {
    if (e.key !== 'Escape' || e.defaultPrevented) return;
    e.preventDefault();
    onclose();
  }}
>
  <header>{@render head()}<button class="btn close" onclick={onclose}>Close</button></header>
  {@render children()}
</section>

<style>
  .drawer {
    position: fixed;
    left: 0;
    right: 0;
    bottom: 28px;
    max-height: 42%;
    display: flex;
    flex-direction: column;
    background: var(--board);
    border-top: 1px solid var(--rule);
    box-shadow: 0 -8px 24px rgb(60 50 30 / 0.14);
    z-index: 15;
    padding: 8px 16px 10px;
    font-size: 12px;
  }
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 14px;
    padding-bottom: 6px;
  }
  .close {
    margin-left: auto;
  }
  .drawer > :global(:last-child) {
    /* The ring of what has the focus is not cut off. */
    padding: 3px;
    margin: -3px;
    min-height: 0;
    overflow: auto;
  }
  @media (max-width: 860px) {
    .drawer {
      max-height: 74%;
    }
  }
</style>
