<script lang="ts">
  // What the index lacks, with the reason; one key takes a proposal, nothing is done without it.
  import Rows from '../ui/Rows.svelte';
  import type { ProposedForIndex } from '../shared/api';
  import { saidPath } from './headings';

  interface Props {
    proposals: ProposedForIndex[];
    ontake: (proposal: ProposedForIndex) => void;
    onshow: (proposal: ProposedForIndex) => void;
    onclose: () => void;
  }
  let { proposals, ontake, onshow, onclose }: Props = $props();

  let at = $state(0);
  let rows = $state<ReturnType<typeof Rows<ProposedForIndex>>>();
  $effect(() => rows?.focus());

  const does = (p: ProposedForIndex) =>
    p.kind === 'Merge'
      ? `Merge into “${saidPath(p.other)}”`
      : p.kind === 'TurnIntoSee'
        ? `Turn into see “${p.other[0]}”`
        : p.kind === 'FileUnder'
          ? `File under “${p.other[0]}”`
          : p.kind === 'Sweep'
            ? 'Sweep for it'
            : p.kind === 'Pages'
              ? 'Open'
              : 'Show its locators';

  function key(event: KeyboardEvent, p: ProposedForIndex | undefined): boolean {
    if (event.key === 'Escape') onclose();
    else if (p && event.key === 't') ontake(p);
    else return false;
    return true;
  }
</script>

<section class="proposals" aria-label="Proposals">
  <div class="bar">
    <b>Proposals</b> <span class="soft">{proposals.length}: each says why. Nothing is done that you do not take.</span>
    <span class="right soft"><kbd class="key">t</kbd> take it <kbd class="key">Enter</kbd> show</span>
    <button class="btn" onclick={onclose}>Close</button>
  </div>
  <Rows items={proposals} rowHeight={30} label="Proposals for the index" bind:this={rows} bind:at onkey={key} onopen={onshow}>
    {#snippet row(p: ProposedForIndex)}
      <div class="one">
        <span class="folio">{p.folio}</span>
        <span class="why">{p.why}</span>
        <button class="btn small" tabindex="-1" onclick={() => ontake(p)}>{does(p)}</button>
      </div>
    {/snippet}
    {#snippet empty()}<p class="none soft">The index lacks nothing that could be found by rule.</p>{/snippet}
  </Rows>
</section>

<style>
  .proposals {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    min-height: 0;
    height: 100%;
    border-top: 1px solid var(--rule);
    background: var(--board);
  }
  .bar {
    display: flex;
    align-items: center;
    gap: 12px;
    padding: 6px 14px;
    border-bottom: 1px solid var(--rule);
    font-size: 12.5px;
  }
  .right {
    margin-left: auto;
  }
  .one {
    display: grid;
    grid-template-columns: 52px minmax(0, 1fr) auto;
    gap: 10px;
    align-items: center;
    height: 100%;
    padding: 0 14px 0 0;
    border-bottom: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
  }
  .folio {
    text-align: right;
    color: var(--ink-soft);
    font-variant-numeric: tabular-nums;
  }
  .why {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .small {
    padding: 1px 8px;
    font-size: 11.5px;
  }
  .soft {
    color: var(--ink-soft);
  }
  .none {
    padding: 14px;
  }
</style>
