<script lang="ts">
  // The pages in sight, dressed: what is chosen is tinted, a press chooses what made it, margins are dragged.
  import type { LookDraft } from './draft.svelte';
  import { inPoints, shown, type Unit } from './measures';
  import { sourceOf, valueAt, type Part } from './tree';
  import { withFaces } from '../shared/faces';

  interface Props {
    draft: LookDraft;
    unit: Unit;
    /** Place of the part that is chosen. */
    chosen: (place: string) => boolean;
    onchoose: (place: string) => void;
    onturn: (by: 1 | -1) => void;
  }
  let { draft, unit, chosen, onchoose, onturn }: Props = $props();

  type Edge = 'inner' | 'outer' | 'top' | 'foot';
  const edges: readonly Edge[] = ['inner', 'outer', 'top', 'foot'];
  const names: Record<Edge, string> = {
    inner: 'Inner margin',
    outer: 'Outer margin',
    top: 'Margin at the head',
    foot: 'Margin at the foot',
  };
  type Seen = LookDraft['pages'][number];

  const layoutOf = (page: Seen) => (((draft.look as Part | null)?.masters ?? []) as Part[]).findIndex((m) => m.name === page.layout);
  const recto = (page: Seen) => page.sheet % 2 === 0;
  const mirrored = (at: number) => sourceOf(draft.look, `masters[${at}].mirrored`, 'true').value === true;
  const innerLeft = (page: Seen, at: number) => recto(page) || !mirrored(at);

  /** Where the margin is said: on the layout itself, or on the one that it has it from. */
  const saidAt = (at: number, edge: Edge) => sourceOf(draft.look, `masters[${at}].${edge}`, null);

  const lines = $derived(
    draft.pages.map((page) => {
      const left = page.left - page.side;
      const right = page.left + page.measure;
      return { left, right, top: page.top, bottom: page.top + page.depth };
    }),
  );

  function along(page: Seen, edge: Edge, at: number, i: number): { x: number; y: number; vertical: boolean } {
    const l = lines[i]!;
    const isLeft = (edge === 'inner') === innerLeft(page, at);
    if (edge === 'inner' || edge === 'outer') return { x: isLeft ? l.left : l.right, y: (l.top + l.bottom) / 2, vertical: true };
    return { x: (l.left + l.right) / 2, y: edge === 'top' ? l.top : l.bottom, vertical: false };
  }

  function setMargin(at: number, edge: Edge, points: number, kind: string) {
    const source = saidAt(at, edge);
    const value = unit === 'mm' ? `${Math.max(0, Math.round((points * 25.4) / 7.2) / 10)} mm` : Math.max(0, Math.round(points * 2) / 2);
    if (source.place && inPoints(valueAt(draft.look, source.place)) !== inPoints(value)) draft.set(source.place, value, kind);
  }

  let dragging = $state('');
  function drag(event: PointerEvent, page: Seen, at: number, edge: Edge) {
    const handle = event.currentTarget as HTMLElement;
    const holder = handle.closest<HTMLElement>('.sheet')!;
    const scale = page.width / holder.getBoundingClientRect().width;
    const from = { x: event.clientX, y: event.clientY };
    const begun = inPoints(saidAt(at, edge).value);
    const isLeft = (edge === 'inner') === innerLeft(page, at);
    // One drag is one change, however many places it passes.
    const kind = `drag ${event.timeStamp}`;
    handle.setPointerCapture(event.pointerId);
    dragging = edge;
    const move = (e: PointerEvent) => {
      const [dx, dy] = [(e.clientX - from.x) * scale, (e.clientY - from.y) * scale];
      draft.soon(() => setMargin(at, edge, begun + (edge === 'top' ? dy : edge === 'foot' ? -dy : isLeft ? dx : -dx), kind));
    };
    const end = () => {
      dragging = '';
      handle.removeEventListener('pointermove', move);
      handle.removeEventListener('pointerup', end);
      handle.removeEventListener('pointercancel', end);
    };
    handle.addEventListener('pointermove', move);
    handle.addEventListener('pointerup', end);
    handle.addEventListener('pointercancel', end);
    event.preventDefault();
  }

  function nudge(event: KeyboardEvent, page: Seen, at: number, edge: Edge) {
    const arrows: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
    const by = arrows[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const isLeft = (edge === 'inner') === innerLeft(page, at);
    const steps = (edge === 'top' ? by[1] : edge === 'foot' ? -by[1] : isLeft ? by[0] : -by[0]) * (event.shiftKey ? 10 : 1);
    if (steps !== 0) setMargin(at, edge, inPoints(saidAt(at, edge).value) + steps * (unit === 'mm' ? 7.2 / 25.4 : 0.5), 'nudged');
  }

  function press(event: MouseEvent, page: Seen) {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * page.width;
    const y = ((event.clientY - box.top) / box.height) * page.height;
    // The nearest of what is at that height, when nothing is just there: the ends of short lines are of the line too.
    const hit = page.parts.find((p) => x >= p.x - 2 && x <= p.x + p.width + 2 && y >= p.y - 2 && y <= p.y + p.height + 2);
    const layout = layoutOf(page);
    if (hit) onchoose(hit.place);
    else if (layout >= 0) onchoose(`masters[${layout}]`);
  }

  function turnByKey(event: KeyboardEvent) {
    if (event.key !== 'PageUp' && event.key !== 'PageDown') return;
    event.preventDefault();
    onturn(event.key === 'PageDown' ? 1 : -1);
  }

  const percent = (value: number, of: number) => `${(value / of) * 100}%`;
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  class="spread"
  role="group"
  aria-label="Pages {draft.pages.map((p) => p.folio || 'without a number').join(' and ')}"
  tabindex="0"
  onkeydown={turnByKey}
>
  {#each draft.pages as page, i (page.sheet)}
    {@const at = layoutOf(page)}
    {@const l = lines[i]!}
    <div class="page" style:aspect-ratio="{page.width} / {page.height}" class:alone={draft.pages.length === 1} data-sheet={page.sheet}>
      <!-- Parts are chosen by keyboard from the list on the left. -->
      <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
      <div class="sheet" style:aspect-ratio="{page.width} / {page.height}" onclick={(e) => press(e, page)}>
        <div class="ink">{@html withFaces(page.svg)}</div>
        <div
          class="frame"
          class:on={at >= 0 && chosen(`masters[${at}]`)}
          style:left={percent(l.left, page.width)}
          style:top={percent(l.top, page.height)}
          style:width={percent(l.right - l.left, page.width)}
          style:height={percent(l.bottom - l.top, page.height)}
        ></div>
        {#each page.parts as part, p (p)}
          {#if chosen(part.place)}<div
              class="tint"
              style:left={percent(part.x, page.width)}
              style:top={percent(part.y, page.height)}
              style:width={percent(part.width, page.width)}
              style:height={percent(part.height, page.height)}
            ></div>{/if}
        {/each}
        {#if at >= 0 && !page.turned}
          {#each edges as edge (edge)}
            {@const place = along(page, edge, at, i)}
            {@const value = saidAt(at, edge).value}
            <button
              class="handle"
              class:vertical={place.vertical}
              class:dragged={dragging === edge}
              style:left={percent(place.x, page.width)}
              style:top={percent(place.y, page.height)}
              aria-label="{names[edge]} of page {page.folio}, {shown(value, unit)} {unit}"
              onpointerdown={(e) => drag(e, page, at, edge)}
              onkeydown={(e) => nudge(e, page, at, edge)}
              onclick={(e) => e.stopPropagation()}><span>{shown(value, unit)}</span></button
            >
          {/each}
        {/if}
      </div>
    </div>
  {/each}
</div>

<style>
  .spread {
    display: flex;
    justify-content: center;
    align-items: center;
    min-height: 0;
    min-width: 0;
    padding: 4px 22px 8px;
    overflow: hidden;
    container-type: size;
  }
  .page {
    flex: 0 1 auto;
    height: 100%;
    max-width: 50%;
    min-width: 0;
    display: grid;
    align-content: center;
  }
  .page.alone {
    max-width: 100%;
  }
  .sheet {
    position: relative;
    background: #fff;
    box-shadow:
      0 1px 2px rgb(60 50 30 / 0.35),
      0 6px 18px rgb(60 50 30 / 0.14);
  }
  /* By itself: what stands over the page while a margin is dragged neither lays its text out again nor paints it. */
  .ink {
    position: absolute;
    inset: 0;
    contain: strict;
    will-change: transform;
  }
  .ink :global(svg) {
    display: block;
    width: 100%;
    height: 100%;
    text-rendering: geometricPrecision;
  }
  .frame,
  .tint {
    position: absolute;
    pointer-events: none;
  }
  .frame {
    outline: 1px dashed rgb(29 90 75 / 0.35);
  }
  .frame.on {
    outline: 1.5px solid #1d5a4b;
  }
  .tint {
    background: rgb(29 90 75 / 0.14);
    outline: 1px solid rgb(29 90 75 / 0.5);
  }
  .handle {
    position: absolute;
    width: 24px;
    height: 24px;
    margin: -12px 0 0 -12px;
    display: grid;
    place-items: center;
    cursor: ns-resize;
    touch-action: none;
  }
  .handle.vertical {
    cursor: ew-resize;
  }
  .handle::before {
    content: '';
    width: 9px;
    height: 9px;
    border: 1.5px solid #1d5a4b;
    border-radius: 50%;
    background: #fff;
  }
  .handle span {
    position: absolute;
    padding: 0 4px;
    background: #1d5a4b;
    color: #fff;
    font-size: 11px;
    white-space: nowrap;
    top: 20px;
    display: none;
  }
  .handle:hover span,
  .handle:focus-visible span,
  .handle.dragged span {
    display: block;
  }
</style>
