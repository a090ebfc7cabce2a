<script lang="ts">
  // What stands over the columns of the plan, with the pages of the manual along their axis.
  import type { PlanView } from '../shared/api';

  interface Props {
    axis: PlanView['axis'];
    /** Where a sheet stands on the axis, in hundredths. */
    percent: (sheet: number) => number;
  }
  let { axis, percent }: Props = $props();
</script>

<div class="columns" aria-hidden="true">
  <span></span><span>Title</span>
  <span class="axis">
    {#each axis as mark (mark.sheet)}<i style:left="{percent(mark.sheet)}%">{mark.folio}</i>{/each}
  </span>
  <span class="n">Folio</span><span class="n">Words</span><span>State</span><span>Applies to</span><span></span>
</div>

<style>
  .columns {
    display: grid;
    grid-template-columns: var(--cols);
    align-items: center;
    height: 25px;
    border-bottom: 1px solid var(--rule);
    font-size: 11.5px;
    overflow: hidden;
    color: var(--ink-soft);
    background: var(--paper);
    scrollbar-gutter: stable;
  }
  .axis {
    position: relative;
    height: 100%;
    margin-right: 24px;
  }
  .axis i {
    position: absolute;
    top: 5px;
    font-style: normal;
    transform: translateX(-2px);
  }
  .n {
    text-align: right;
    font-variant-numeric: tabular-nums;
    padding-right: 14px;
  }
  @media (max-width: 860px) {
    .columns > :nth-child(n + 7) {
      display: none;
    }
    .axis i:not(:first-child) {
      display: none;
    }
  }
</style>
