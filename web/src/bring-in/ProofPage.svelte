<script lang="ts">
  // One page that the documents make, with what is chosen at the left tinted on it.
  import { address, api, type BringInView } from '../shared/api';
  import { loadFaces, withFaces } from '../shared/faces';

  interface Props {
    id: string;
    view: BringInView;
    /** The line whose paragraphs are tinted; '' for none. */
    tinted: string;
    /** The page that is seen. */
    sheet: number;
  }
  let { id, view, tinted, sheet = $bindable() }: Props = $props();

  const page = $derived(view.pages[Math.max(0, Math.min(sheet, view.pages.length - 1))] ?? null);
  let svg = $state('');
  $effect(() => {
    const key = page?.key;
    if (!key) return;
    loadFaces()
      .then(() => fetch(address(`/api/bring-in/${id}/pages/${key}.svg`)))
      .then((r) => (r.ok ? r.text() : ''))
      .then(
        (text) => {
          if (key === page?.key) svg = text;
        },
        () => undefined,
      );
  });

  let ofLine = $state.raw(new Set<string>());
  $effect(() => {
    const key = tinted;
    void view.version;
    if (!key) ofLine = new Set();
    else
      api.blocksOfLine(id, key).then(
        (ids) => {
          if (key === tinted) ofLine = new Set(ids);
        },
        () => undefined,
      );
  });

  let shown = $state<HTMLElement>();
  let bars = $state.raw<{ top: number; left: number; width: number; height: number }[]>([]);
  $effect(() => {
    void svg;
    const root = shown?.querySelector('svg');
    if (!root) return;
    const { width, height } = root.viewBox.baseVal;
    bars = [...root.querySelectorAll<SVGTextElement>('text[data-block]')]
      .filter((text) => ofLine.has(text.getAttribute('data-block')!))
      .map((text) => text.getBBox())
      .map((box) => ({
        top: (box.y / height) * 100,
        left: (box.x / width) * 100,
        width: (box.width / width) * 100,
        height: (box.height / height) * 100,
      }));
  });
</script>

<section class="proof" aria-label="The page it makes">
  <div class="page drawn" style:aspect-ratio="148 / 210" bind:this={shown}>
    {@html withFaces(svg)}
    {#each bars as bar, i (i)}<i
        class="tint"
        style:top="{bar.top}%"
        style:left="{bar.left}%"
        style:width="{bar.width}%"
        style:height="{bar.height}%"
      ></i>{/each}
  </div>
  <div class="turn">
    <button class="btn small" disabled={sheet <= 0} aria-label="Page before" onclick={() => sheet--}>‹</button>
    <span class="soft">page {page?.folio ?? ''} · {sheet + 1} of {view.pages.length}</span>
    <button class="btn small" disabled={sheet >= view.pages.length - 1} aria-label="Page after" onclick={() => sheet++}>›</button>
  </div>
</section>

<style>
  .proof {
    background: var(--desk);
    padding: 16px 20px;
    overflow: auto;
  }
  .page {
    position: relative;
    box-shadow:
      0 1px 2px rgb(60 50 30 / 0.35),
      0 6px 18px rgb(60 50 30 / 0.14);
  }
  .tint {
    position: absolute;
    background: rgb(29 90 75 / 0.16);
    pointer-events: none;
  }
  .turn {
    display: flex;
    justify-content: center;
    align-items: center;
    gap: 12px;
    padding-top: 12px;
  }
  .soft {
    color: var(--ink-soft);
  }
  .small {
    padding: 1px 8px;
  }
</style>
