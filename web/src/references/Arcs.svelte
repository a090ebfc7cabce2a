<script lang="ts">
  // The manual as the edge of a closed book, and each reference an arc from where it stands to what it points at.
  import type { ProofDivision, ProofPage } from '../shared/api';
  import { arcsOf, type Pointing } from './filters';

  interface Props {
    divisions: ProofDivision[];
    pages: ProofPage[];
    references: Pointing[];
    chosen: Pointing | undefined;
    /** The division that the list is filtered by; '' for none. */
    division: string;
    ondivision: (id: string) => void;
    onreference: (id: string) => void;
  }
  let { divisions, pages, references, chosen, division, ondivision, onreference }: Props = $props();

  let height = $state(600);
  let width = $state(340);
  const edge = $derived(Math.max(130, Math.min(232, width - 110)));
  const room = $derived(Math.max(40, width - edge - 18));
  const least = 17;

  /** Each division as thick as its pages, but never thinner than its title. */
  const bands = $derived.by(() => {
    const total = Math.max(1, pages.length);
    const free = Math.max(0, height - 16 - divisions.length * least);
    let top = 8;
    return divisions.map((d) => {
      const own = least + (free * d.pages) / total;
      const band = { division: d, top, height: own };
      top += own;
      return band;
    });
  });
  const y = (sheet: number) => {
    const band = bands.findLast((b) => b.division.firstSheet <= sheet) ?? bands[0];
    if (!band) return 0;
    const share = Math.min(1, (sheet - band.division.firstSheet + 0.5) / Math.max(1, band.division.pages));
    return band.top + share * band.height;
  };
  // As many arcs as can be told apart.
  const arcs = $derived(arcsOf(references, Math.max(1, Math.ceil(pages.length / 160))));
  const path = (from: number, to: number) => {
    const [a, b] = [y(from), y(to)];
    const out = edge + Math.min(room - 8, 14 + (Math.abs(b - a) / height) * room * 1.6);
    return `M${edge} ${a}C${out} ${a} ${out} ${b} ${edge} ${b}`;
  };
</script>

<div class="arcs" bind:clientHeight={height} bind:clientWidth={width} role="group" aria-label="Where references lead">
  {#each bands as b (b.division.id)}
    <button
      class="band {b.division.kind}"
      class:on={b.division.id === division}
      aria-pressed={b.division.id === division}
      tabindex="-1"
      style:top="{b.top}px"
      style:height="{b.height - 1}px"
      style:width="{edge - 12}px"
      onclick={() => ondivision(b.division.id === division ? '' : b.division.id)}
      ><span>{b.division.number} {b.division.title}</span><i>{pages[b.division.firstSheet]?.folio ?? ''}</i></button
    >
  {/each}
  <svg {width} {height} aria-hidden="true">
    {#each arcs as arc (arc.ids[0])}
      {#if arc.to === null}
        <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
        <g class="open" onclick={() => onreference(arc.ids[0]!)}>
          <path d="M{edge} {y(arc.from)}H{edge + room - 8}" />
          <circle cx={edge + room - 3} cy={y(arc.from)} r="5" />
        </g>
      {:else}
        <path class:strong={arc.ids.length > 3} d={path(arc.from, arc.to)} />
      {/if}
    {/each}
    {#if chosen && chosen.sheet >= 0}
      {#if chosen.target && chosen.target.sheet >= 0}
        <path class="chosen" d={path(chosen.sheet, chosen.target.sheet)} />
        <circle class="end" cx={edge} cy={y(chosen.target.sheet)} r="3.5" />
      {/if}
      <circle class="begin" cx={edge} cy={y(chosen.sheet)} r="3.5" />
    {/if}
  </svg>
</div>

<style>
  .arcs {
    position: relative;
    height: 100%;
    min-height: 0;
    overflow: hidden;
    background: var(--board);
  }
  svg {
    position: absolute;
    inset: 0;
    pointer-events: none;
  }
  path {
    fill: none;
    stroke: var(--woad);
    stroke-opacity: 0.45;
    stroke-width: 1;
  }
  .strong {
    stroke-opacity: 0.8;
  }
  .chosen {
    stroke: var(--bottle);
    stroke-opacity: 1;
    stroke-width: 2.5;
  }
  .open {
    pointer-events: auto;
    cursor: pointer;
  }
  .open path {
    stroke: var(--madder);
    stroke-opacity: 1;
    stroke-width: 1.5;
  }
  .open circle {
    fill: var(--board);
    stroke: var(--madder);
    stroke-width: 1.5;
  }
  .begin {
    fill: var(--bottle);
  }
  .end {
    fill: var(--paper);
    stroke: var(--bottle);
    stroke-width: 2;
  }
  .band {
    position: absolute;
    left: 12px;
    display: flex;
    justify-content: space-between;
    align-items: flex-start;
    gap: 8px;
    padding: 1px 6px 0 8px;
    border-left: 4px solid color-mix(in srgb, var(--ochre) 45%, var(--rule));
    background: repeating-linear-gradient(to bottom, var(--paper) 0 2px, color-mix(in srgb, var(--rule) 55%, var(--paper)) 2px 3px);
    font-size: 11.5px;
    line-height: 1.25;
    text-align: left;
    overflow: hidden;
    cursor: pointer;
  }
  .band.Part {
    border-left-color: var(--ink);
    font-weight: 600;
  }
  .band.on {
    background: var(--bottle-tint);
    border-left-color: var(--bottle);
  }
  .band span,
  .band i {
    background: color-mix(in srgb, var(--paper) 88%, transparent);
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .band i {
    font-style: normal;
    color: var(--ink-soft);
    flex: none;
  }
</style>
