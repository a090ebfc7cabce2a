<script lang="ts">
  // The lines of the pages' axis, behind the rows.
  import type { PlanView } from '../shared/api';

  interface Props {
    axis: PlanView['axis'];
    /** Where a sheet stands on the axis, in hundredths. */
    percent: (sheet: number) => number;
  }
  let { axis, percent }: Props = $props();
</script>

<div class="grid" aria-hidden="true">
  <span
    >{#each axis as mark (mark.sheet)}<i style:left="{percent(mark.sheet)}%"></i>{/each}</span
  >
</div>

<style>
  .grid {
    position: absolute;
    inset: 0;
    display: grid;
    grid-template-columns: var(--cols);
  }
  span {
    grid-column: 3;
    position: relative;
    margin-right: 24px;
  }
  i {
    position: absolute;
    width: 1px;
    height: 100%;
    background: color-mix(in srgb, var(--rule) 45%, transparent);
  }
</style>
