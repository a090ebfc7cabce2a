<script lang="ts">
  // One place that can be pointed at, and how many point there.
  import type { PointedTarget } from '../shared/api';
  import { targetKinds } from './filters';

  interface Props {
    target: PointedTarget;
    /** How it is called: by its name and number. */
    label: string;
  }
  let { target: t, label }: Props = $props();
</script>

<div class="target">
  <span>{label}</span>
  <span class="title">{t.title}</span>
  <span class="kind">{targetKinds[t.kind] ?? t.kind}</span>
  <span class="folio">{t.folio}</span>
  <span class="pointing" class:soft={t.pointing === 0}
    >{t.pointing === 0 ? 'nobody' : t.pointing === 1 ? '1 points here' : `${t.pointing} point here`}</span
  >
</div>

<style>
  .target {
    display: grid;
    grid-template-columns: 112px minmax(0, 1fr) 80px 52px 110px;
    gap: 9px;
    align-items: baseline;
    height: 100%;
    padding: 5px 12px;
    border-bottom: 1px solid color-mix(in srgb, var(--rule) 60%, transparent);
    white-space: nowrap;
  }
  .title {
    font: 14.5px/1.28 var(--text);
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .folio {
    text-align: right;
    font-variant-numeric: tabular-nums;
    color: var(--ink-soft);
  }
  .kind {
    color: var(--ink-soft);
    font-size: 12px;
  }
  .pointing {
    text-align: right;
  }
  .soft {
    color: var(--ink-soft);
  }
</style>
