<script lang="ts" module>
  export interface FigureSettings {
    alternative: string;
    width: number;
    placement: string | null;
  }
</script>

<script lang="ts">
  import { focusFirst } from '../../ui/focus';
  import Popover, { type Anchor } from '../../ui/Popover.svelte';

  interface Props {
    anchor: Anchor;
    figure: FigureSettings;
    onkeep: (figure: FigureSettings) => void;
    onreplace: () => void;
    onclose: () => void;
  }
  let { anchor, figure, onkeep, onreplace, onclose }: Props = $props();

  // svelte-ignore state_referenced_locally
  const begun = figure;
  let alternative = $state(begun.alternative);
  let width = $state(begun.width);
  let placement = $state(begun.placement ?? '');

  const placements = [
    ['', 'As the look has it'],
    ['here', 'Here'],
    ['top', 'Top of a page'],
    ['foot', 'Foot of a page'],
    ['ownPage', 'A page of its own'],
  ] as const;

  function keep(event: Event) {
    event.preventDefault();
    onkeep({ alternative: alternative.trim(), width: Math.max(5, Math.min(400, Math.round(width) || 100)), placement: placement || null });
  }
</script>

<Popover label="Figure" {anchor} width={360} {onclose}>
  <form onsubmit={keep}>
    <label for="figure-words">What it shows, in words</label>
    <textarea
      id="figure-words"
      class="field"
      rows="3"
      bind:value={alternative}
      onkeydown={(e) => e.key === 'Enter' && keep(e)}
      {@attach focusFirst}></textarea>
    <div class="row">
      <label for="figure-width">Width, in hundredths of the measure</label>
      <input id="figure-width" class="field" type="number" min="5" max="400" bind:value={width} />
    </div>
    <div class="row">
      <label for="figure-place">Where it stands</label>
      <select id="figure-place" class="field" bind:value={placement}>
        {#each placements as [value, name] (value)}<option {value}>{name}</option>{/each}
      </select>
    </div>
    <div class="row end">
      <button type="button" class="btn" onclick={onreplace}>Another picture…</button>
      <button type="submit" class="btn do">Keep</button>
    </div>
  </form>
</Popover>

<style>
  form {
    padding: 4px 6px;
    font-size: 12px;
  }
  label {
    font-weight: 600;
  }
  .row {
    display: grid;
    grid-template-columns: 1fr 150px;
    align-items: center;
    gap: 8px;
    margin-top: 7px;
  }
  .end {
    display: flex;
    justify-content: flex-end;
  }
</style>
