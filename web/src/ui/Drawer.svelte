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
<!-- Over the foot of the screen, above the foot strip; the text stays in sight. Its height is the same whatever it holds: what is
     found a moment later must not move the buttons away from under a press. -->
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
  <header>
    <div>{@render head()}</div>
    <button class="btn" onclick={onclose}>Close</button>
  </header>
  {@render children()}
</section>

<style>
  .drawer {
    position: fixed;
    left: 0;
    right: 0;
    bottom: 28px;
    height: 40%;
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
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    align-items: start;
    gap: 14px;
    padding-bottom: 6px;
  }
  header div {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 14px;
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
      height: 74%;
    }
  }
</style>
