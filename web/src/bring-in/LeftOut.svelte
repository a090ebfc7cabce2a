<script lang="ts">
  import type { ReportGroup } from '../shared/api';

  interface Props {
    report: ReportGroup[];
    onclose: () => void;
    /** A place in the text that comes in was chosen. */
    onplace: (block: number) => void;
  }
  let { report, onclose, onplace }: Props = $props();

  const kinds: Record<string, string> = { Look: 'To look at', LeftOut: 'Left out', Changed: 'Changed', Kept: 'Kept otherwise' };
</script>

<svelte:window
  onkeydown={(e) => {
    if (e.key === 'Escape') onclose();
  }}
/>
<section class="drawer" aria-label="What is left out or changed">
  <div class="head"><b>What is left out or changed</b><button class="btn" onclick={onclose}>Close</button></div>
  <div class="list">
    {#each report as group (group.kind + group.what)}
      <details open={group.kind === 'Look' && group.count < 12}>
        <summary
          ><span class="kind" class:m={group.kind === 'Look'}>{kinds[group.kind] ?? group.kind}</span>
          {group.what} <i>{group.count}</i></summary
        >
        <ul>
          {#each group.places as place, i (i)}
            <li>
              {#if place.block >= 0}<button class="where there" onclick={() => onplace(place.block)} title="Show this place in the text"
                  >{place.where}</button
                >{:else}<span class="where">{place.where}</span>{/if}{#if place.words}<q
                  >{place.words.length > 240 ? place.words.slice(0, 240) + ' …' : place.words}</q
                >{/if}
            </li>
          {/each}
          {#if group.count > group.places.length}<li class="where">and {group.count - group.places.length} more</li>{/if}
        </ul>
      </details>
    {/each}
    {#if report.length === 0}<p>Everything comes in as it stands.</p>{/if}
  </div>
</section>

<style>
  .drawer {
    position: absolute;
    left: 0;
    right: 0;
    bottom: 74px;
    max-height: 46%;
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    background: var(--board);
    border-top: 1px solid var(--rule);
    box-shadow: 0 -8px 24px rgb(60 50 30 / 0.18);
    z-index: 15;
  }
  .head {
    display: flex;
    justify-content: space-between;
    align-items: center;
    padding: 8px 16px;
  }
  .list {
    overflow: auto;
    padding: 0 16px 12px;
  }
  summary {
    cursor: pointer;
    padding: 3px 0;
  }
  .kind {
    display: inline-block;
    min-width: 84px;
    font-weight: 600;
  }
  .kind.m {
    color: var(--madder);
  }
  i {
    font-style: normal;
    color: var(--ink-soft);
    padding-left: 6px;
  }
  li {
    padding: 1px 0 1px 100px;
  }
  .where {
    color: var(--ink-soft);
    margin-right: 10px;
  }
  .there {
    cursor: pointer;
    text-decoration: underline;
    text-underline-offset: 2px;
  }
  q {
    font: 13.5px/1.3 var(--text);
  }
</style>
