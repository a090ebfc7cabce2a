<script lang="ts">
  interface Props {
    keys: readonly (readonly [string, string])[];
    onclose: () => void;
  }
  let { keys, onclose }: Props = $props();
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
