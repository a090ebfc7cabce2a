<script lang="ts">
  import type { ProofPage } from '../shared/api';
  import type { LiveProof } from './live-proof.svelte';
  import { withFaces } from '../shared/faces';

  interface Props {
    proof: LiveProof;
    page: ProofPage;
    block: string | null;
    /** Of a generated list, these of its lines alone. */
    parts?: readonly number[] | null;
    lazy?: boolean;
    onblock?: (block: string) => void;
    /** A line of a generated list was pressed: which, and where it leads. */
    onpart?: (block: string, part: number, target: string | null) => void;
  }
  let { proof, page, block, parts = null, lazy = false, onblock, onpart }: Props = $props();

  let svg = $state('');
  let holder = $state<HTMLDivElement>();
  let seen = $state(false);
  let bars = $state<{ top: number; height: number; left?: number; width?: number }[]>([]);

  $effect(() => {
    if (!lazy || !holder) {
      seen = true;
      return;
    }
    const watch = new IntersectionObserver((entries) => {
      if (entries.some((e) => e.isIntersecting)) {
        seen = true;
        watch.disconnect();
      }
    });
    watch.observe(holder);
    return () => watch.disconnect();
  });

  $effect(() => {
    const key = page.key;
    if (!seen) return;
    proof.svg(key).then(
      (text) => {
        if (key === page.key) svg = text;
      },
      () => undefined,
    );
  });

  // A bar in the margin beside what the caret stands in.
  $effect(() => {
    void svg;
    const found: typeof bars = [];
    const root = holder?.querySelector('svg');
    if (root && block) {
      const height = root.viewBox.baseVal.height;
      for (const text of root.querySelectorAll<SVGTextElement>(`text[data-block="${CSS.escape(block)}"]`)) {
        if (parts && !parts.includes(Number(text.getAttribute('data-part') ?? -1))) continue;
        if (parts) {
          // Of a line in a column the line itself is tinted.
          const box = text.getBBox();
          const wide = root.viewBox.baseVal.width;
          found.push({
            top: (box.y / height) * 100,
            height: (box.height / height) * 100,
            left: (box.x / wide) * 100 - 0.6,
            width: (box.width / wide) * 100 + 1.2,
          });
          continue;
        }
        const size = Number(text.getAttribute('font-size'));
        const y = Number(text.getAttribute('y'));
        const top = ((y - size) / height) * 100;
        const bottom = ((y + size * 0.3) / height) * 100;
        const last = found.at(-1);
        if (last && top - (last.top + last.height) < 2 && top >= last.top - 0.5) last.height = Math.max(last.height, bottom - last.top);
        else found.push({ top, height: bottom - top });
      }
    }
    bars = found;
  });

  function click(event: MouseEvent) {
    const target = (event.target as Element).closest('[data-block],[data-target]');
    const link = target?.getAttribute('data-target');
    if (onpart) {
      const line = lineAt(event);
      if (line?.hasAttribute('data-part')) onpart(line.getAttribute('data-block')!, Number(line.getAttribute('data-part')), link ?? null);
      return;
    }
    if (link && event.ctrlKey) onblock?.(link);
    else if (target?.hasAttribute('data-block')) onblock?.(target.getAttribute('data-block')!);
    else {
      const line = lineAt(event);
      if (line) onblock?.(line.getAttribute('data-block')!);
    }
  }

  /** The nearest line at that height; of two columns the one that is nearer. */
  function lineAt(event: MouseEvent): Element | null {
    let best: Element | null = null;
    let distance = 40;
    for (const row of holder?.querySelectorAll<SVGTextElement>('text[data-block]') ?? []) {
      const box = row.getBoundingClientRect();
      const aside = Math.max(0, box.left - event.clientX, event.clientX - box.right);
      const d = Math.abs((box.top + box.bottom) / 2 - event.clientY) + aside / 8;
      if (d < distance) {
        distance = d;
        best = row;
      }
    }
    return best;
  }
</script>

<!-- The page is a picture of the text; its words are reached in the manuscript, by keyboard too. -->
<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
<div class="page drawn" bind:this={holder} data-key={page.key} data-folio={page.folio} onclick={onblock || onpart ? click : undefined}>
  {#if svg}{@html withFaces(svg)}{:else}<div class="empty"></div>{/if}
  {#each bars as bar, i (i)}<div
      class={bar.width === undefined ? 'bar' : 'tint'}
      style:top="{bar.top}%"
      style:height="{bar.height}%"
      style:left={bar.left === undefined ? null : `${bar.left}%`}
      style:width={bar.width === undefined ? null : `${bar.width}%`}
    ></div>{/each}
</div>

<style>
  .page {
    position: relative;
    box-shadow:
      0 1px 2px rgb(60 50 30 / 0.35),
      0 6px 18px rgb(60 50 30 / 0.14);
  }
  .empty {
    aspect-ratio: 148 / 210;
  }
  .tint {
    position: absolute;
    background: rgb(106 61 114 / 0.2);
    pointer-events: none;
  }
  .bar {
    position: absolute;
    left: 5%;
    width: 3px;
    background: #1d5a4b;
  }
</style>
