<script lang="ts">
  import type { BringInView } from '../shared/api';
  import Difference from '../write/manuscript/Difference.svelte';

  interface Props {
    view: BringInView;
    taken: Set<string>;
    ontake: (id: string, take: boolean) => void;
  }
  let { view, taken, ontake }: Props = $props();

  let at = $state(0);
  const differences = $derived(view.differences ?? []);
  const kinds = { Changed: 'changed', Added: 'new', TakenOut: 'gone' };

  function key(event: KeyboardEvent) {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    const here = differences[at];
    if (step !== 0) at = Math.max(0, Math.min(differences.length - 1, at + step));
    else if (event.key === ' ' && here) ontake(here.id, !taken.has(here.id));
    else if (event.key === 't' && here) ontake(here.id, true);
    else if (event.key === 'l' && here) ontake(here.id, false);
    else return;
    document.getElementById('difference-' + at)?.scrollIntoView({ block: 'nearest' });
    event.preventDefault();
  }
</script>

<div
  class="differences"
  role="grid"
  tabindex="0"
  aria-label="Differences"
  aria-multiselectable="true"
  aria-activedescendant={'difference-' + at}
  onkeydown={key}
>
  {#each differences as d, i (d.id)}
    <!-- The list itself takes the keys. -->
    <!-- svelte-ignore a11y_click_events_have_key_events -->
    <div
      id={'difference-' + i}
      class="difference"
      class:here={i === at}
      class:taken={taken.has(d.id)}
      role="row"
      tabindex="-1"
      aria-selected={taken.has(d.id)}
      onclick={() => (at = i)}
    >
      <div class="kind" role="gridcell">
        <b>{kinds[d.kind as keyof typeof kinds]}</b>{#if d.editedHere}<span class="edited">also changed here</span>{/if}
      </div>
      <div class="text" role="gridcell">
        <Difference before={d.before} after={d.becomes} />
      </div>
      <div class="acts" role="gridcell">
        <button class="btn" class:do={taken.has(d.id)} tabindex="-1" aria-pressed={taken.has(d.id)} onclick={() => ontake(d.id, true)}
          >Take</button
        >
        <button class="btn" class:left={!taken.has(d.id)} tabindex="-1" aria-pressed={!taken.has(d.id)} onclick={() => ontake(d.id, false)}
          >Leave</button
        >
      </div>
    </div>
  {/each}
  {#if differences.length === 0}
    <p class="none">The newer version says nothing else. Nothing would change in the manual.</p>
  {/if}
</div>

<style>
  .differences {
    overflow: auto;
    background: var(--paper);
    padding: 8px 0 30px;
    min-width: 0;
  }
  .differences:focus-visible {
    outline-offset: -2px;
  }
  .difference {
    display: grid;
    grid-template-columns: 116px minmax(0, 1fr) 150px;
    gap: 16px;
    padding: 12px 20px;
    border-bottom: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
  }
  .difference.here {
    box-shadow: inset 3px 0 0 var(--bottle);
  }
  .difference.taken {
    background: var(--bottle-tint);
  }
  .kind b {
    display: block;
  }
  .edited {
    color: var(--ochre);
    font-size: 12px;
  }
  .text {
    font: 16px/1.5 var(--text);
  }
  .acts {
    display: flex;
    gap: 6px;
    align-items: start;
    justify-content: end;
  }
  .left {
    border-color: var(--ink-soft);
    font-weight: 600;
  }
  .none {
    padding: 30px 20px;
  }
</style>
