<script lang="ts">
  // What the manual gets, and what can be done with it.
  import type { BringInView } from '../shared/api';
  import { plural } from '../shared/plural';

  interface Props {
    view: BringInView;
    /** A newer version of what came in before. */
    newer: boolean;
    /** Differences that are taken. */
    taken: number;
    busy: boolean;
    /** The report is shown. */
    leftOut: boolean;
    onnotnow: () => void;
    ontake: () => void;
  }
  let { view, newer, taken, busy, leftOut = $bindable(), onnotnow, ontake }: Props = $props();

  const counts = $derived(view.counts);
  const wants = $derived(
    counts
      ? [
          counts.noAlternative ? `${plural(counts.noAlternative, 'picture')} without alternative text` : '',
          counts.toNothing ? `${plural(counts.toNothing, 'reference')} to nothing` : '',
        ].filter(Boolean)
      : [],
  );
</script>

<div class="sum">
  {#if newer}
    <span><b>{taken}</b> of {plural(view.differences?.length ?? 0, 'difference')} will be taken</span>
  {:else if counts}
    <span
      >Will add <b>{plural(counts.pages, 'page')}</b>, {plural(counts.heads, 'head')}, {plural(counts.figures, 'figure')}, {plural(
        counts.tables,
        'table',
      )}, {plural(counts.notes, 'footnote')}</span
    >
    <span class="m"
      >{#if counts.toChoose}<b>○ {plural(counts.toChoose, 'style')} to choose</b>{wants.length > 0 ? ' · ' : ''}{/if}{wants.join(
        ' · ',
      )}</span
    >
  {/if}
  <span class="acts">
    <button class="btn" aria-expanded={leftOut} onclick={() => (leftOut = !leftOut)}
      >What is left out or changed · {view.report.length}</button
    >
    <button class="btn" onclick={onnotnow}>Not now</button>
    <button class="btn do" disabled={busy} title="Ctrl Enter" onclick={ontake}>{newer ? 'Take these' : 'Take it in'}</button>
  </span>
</div>

<style>
  .sum {
    grid-row: 4;
    display: flex;
    align-items: center;
    gap: 18px;
    padding: 8px 16px;
    border-top: 1px solid var(--rule);
    background: var(--board);
  }
  .m {
    color: var(--madder);
  }
  .acts {
    display: flex;
    gap: 10px;
    margin-left: auto;
    white-space: nowrap;
  }
  @media (max-width: 860px) {
    .sum {
      flex-wrap: wrap;
      gap: 2px 14px;
      padding: 6px 10px;
    }
    .acts {
      flex-wrap: wrap;
    }
  }
</style>
