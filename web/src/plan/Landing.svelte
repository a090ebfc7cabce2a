<script lang="ts">
  // Where rows that are dragged would land, in words.
  import type { RowDrag } from './row-drag.svelte';

  interface Props {
    landing: NonNullable<RowDrag['landing']>;
  }
  let { landing }: Props = $props();
</script>

<div class="landing" class:refused={landing.refused} style:top="{landing.top}px" style:left="{landing.indent}px">
  <b>{landing.words}</b>
</div>

<style>
  .landing {
    position: absolute;
    right: 16px;
    height: 2px;
    background: var(--bottle);
    z-index: 10;
    pointer-events: none;
  }
  b {
    position: absolute;
    left: 0;
    bottom: 4px;
    padding: 3px 10px;
    background: var(--bottle);
    color: var(--on-bottle);
    border-radius: var(--r);
    font-size: 12px;
    white-space: nowrap;
  }
  .refused,
  .refused b {
    background: var(--madder);
  }
</style>
