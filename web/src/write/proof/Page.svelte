<script lang="ts">
  import type { ProofPage } from '../../shared/api';
  import type { LiveProof } from '../../live/live-proof.svelte';

  interface Props {
    proof: LiveProof;
    page: ProofPage;
    block: string | null;
    lazy?: boolean;
    onblock?: (block: string) => void;
  }
  let { proof, page, block, lazy = false, onblock }: Props = $props();

  let svg = $state('');
  let holder = $state<HTMLDivElement>();
  let seen = $state(false);
  let bars = $state<{ top: number; height: number }[]>([]);

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
    if (link && event.ctrlKey) onblock?.(link);
    else if (target?.hasAttribute('data-block')) onblock?.(target.getAttribute('data-block')!);
    else {
      // The nearest line at that height.
      const rows = [...(holder?.querySelectorAll<SVGTextElement>('text[data-block]') ?? [])];
      let best: Element | null = null;
      let distance = 40;
      for (const row of rows) {
        const box = row.getBoundingClientRect();
        const d = Math.abs((box.top + box.bottom) / 2 - event.clientY);
        if (d < distance) {
          distance = d;
          best = row;
        }
      }
      if (best) onblock?.(best.getAttribute('data-block')!);
    }
  }
</script>

<!-- The page is a picture of the text; its words are reached in the manuscript, by keyboard too. -->
<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
<div class="page" bind:this={holder} data-key={page.key} data-folio={page.folio} onclick={onblock ? click : undefined}>
  {#if svg}{@html svg}{:else}<div class="empty"></div>{/if}
  {#each bars as bar (bar.top)}<div class="bar" style:top="{bar.top}%" style:height="{bar.height}%"></div>{/each}
</div>

<style>
  .page {
    position: relative;
    background: #fff;
    line-height: 0;
    box-shadow:
      0 1px 2px rgb(60 50 30 / 0.35),
      0 6px 18px rgb(60 50 30 / 0.14);
  }
  .page :global(svg) {
    width: 100%;
    height: auto;
  }
  .page :global(svg text) {
    fill: #111;
    white-space: pre;
  }
  .empty {
    aspect-ratio: 148 / 210;
  }
  .bar {
    position: absolute;
    left: 5%;
    width: 3px;
    background: #1d5a4b;
  }
</style>
