<script lang="ts">
  // What can be done to the chosen rows, by its keys.
  interface Props {
    /** What is chosen, in words. */
    chosen: string;
    onkeys: () => void;
  }
  let { chosen, onkeys }: Props = $props();
</script>

<div class="act">
  <b>{chosen}</b>
  <span><kbd class="key">Alt ↑</kbd> <kbd class="key">Alt ↓</kbd> among its like</span>
  <span><kbd class="key">Tab</kbd> deeper</span>
  <span><kbd class="key">⇧ Tab</kbd> lift</span>
  <span><kbd class="key">s</kbd> split before</span>
  <span><kbd class="key">j</kbd> join to the one before</span>
  <span><kbd class="key">o</kbd> its text</span>
  <button class="btn" onclick={onkeys}>All keys <kbd class="key">?</kbd></button>
</div>

<style>
  .act {
    display: flex;
    align-items: center;
    gap: 18px;
    padding: 7px 16px;
    border-top: 1px solid var(--rule);
    font-size: 12px;
    white-space: nowrap;
    overflow: hidden;
    color: var(--ink-soft);
  }
  b {
    color: var(--ink);
    max-width: 300px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  button {
    margin-left: auto;
    display: flex;
    gap: 8px;
  }
  @media (max-width: 860px) {
    span {
      display: none;
    }
  }
</style>
