<script lang="ts">
  interface Props {
    onclose: () => void;
  }
  let { onclose }: Props = $props();
  const keys = [
    ['Ctrl .', 'What this is: a head (1 to 4), body (0), steps, lists, admonitions, span roles'],
    ['Ctrl ;', 'Put in: cross-reference (x), index entry (i), footnote (n), variable, anchor, table'],
    ['Ctrl K', 'Go and do'],
    ['Tab, Shift Tab', 'Nest a step, an item or a head; lift it'],
    ['Enter in an empty item', 'Leave the list'],
    ['Ctrl Z, Ctrl Y', 'Take back, do again'],
    ['Esc then Tab', 'Leave the manuscript'],
    ['↑ ↓ in the fore-edge', 'Walk the divisions and heads'],
    ['?', 'These keys'],
  ] as const;
</script>

<svelte:window onkeydown={(e) => e.key === 'Escape' && onclose()} />
<div class="panel" role="dialog" aria-label="Keys of this screen">
  <header><b>Keys</b><button class="btn" onclick={onclose}>Close</button></header>
  <dl>
    {#each keys as [k, what] (k)}<dt><kbd class="key">{k}</kbd></dt>
      <dd>{what}</dd>{/each}
  </dl>
</div>

<style>
  .panel {
    position: fixed;
    right: 24px;
    bottom: 44px;
    width: 480px;
    z-index: 30;
    background: var(--board);
    border: 1px solid var(--rule);
    border-radius: var(--r);
    padding: 12px 16px;
    box-shadow: 0 12px 32px rgb(60 50 30 / 0.28);
  }
  header {
    display: flex;
    justify-content: space-between;
    padding-bottom: 8px;
  }
  dl {
    display: grid;
    grid-template-columns: 160px 1fr;
    row-gap: 6px;
  }
</style>
