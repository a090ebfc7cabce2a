<script lang="ts">
  import { api } from '../../shared/api';
  import { loadFaces } from '../../shared/faces';
  import { notices } from '../../shared/notices.svelte';
  import type { LiveProof } from '../../live/live-proof.svelte';
  import PrintedPage from '../../live/PrintedPage.svelte';

  interface Props {
    manualId: string;
    proof: LiveProof;
    sheet: number;
    block: string | null;
    place: string;
    onplace: (place: 'beside' | 'folded' | 'whole') => void;
    onpage: (sheet: number) => void;
    onblock: (block: string, division: number) => void;
  }
  let { manualId, proof, sheet, block, place, onplace, onpage, onblock }: Props = $props();

  let mode = $state<'page' | 'spread' | 'sheet'>('page');
  let reason = $state('');
  let wanted = $state('');
  let facesReady = $state(false);
  let zoom = $state(1);

  loadFaces().then(
    () => (facesReady = true),
    () => (facesReady = true),
  );

  const page = $derived(proof.pages[sheet]);
  const spread = $derived(sheet % 2 === 0 ? [sheet - 1, sheet] : [sheet, sheet + 1]);

  $effect(() => {
    void proof.number;
    const asked = sheet;
    if (!page) return;
    // When the pages rest.
    const later = setTimeout(() => {
      api.sheet(manualId, asked).then(
        (s) => {
          if (asked === sheet) reason = s.reason;
        },
        () => (reason = ''),
      );
    }, 200);
    return () => clearTimeout(later);
  });

  function goTo() {
    const folio = wanted.trim().toLowerCase();
    const at = proof.pages.findIndex((p) => p.folio.toLowerCase() === folio);
    if (at >= 0) onpage(at);
    else if (folio) notices.tell(`No page has the folio ${folio}.`);
    wanted = '';
  }

  const [lead, rest] = $derived.by(() => {
    const colon = reason.indexOf(':');
    return colon > 0 && colon < 30 ? [reason.slice(0, colon), reason.slice(colon)] : [reason, ''];
  });
</script>

<section class="proof" aria-label="Proof">
  <div class="bar" role="toolbar" aria-label="Proof">
    {#each [['page', 'Page'], ['spread', 'Spread'], ['sheet', 'Sheet']] as const as [m, name] (m)}
      <button class:on={mode === m} aria-pressed={mode === m} onclick={() => (mode = m)}>{name}</button>
    {/each}
    <span class="zoom">
      <button aria-label="Smaller" disabled={mode === 'sheet' || zoom <= 0.6} onclick={() => (zoom = Math.max(0.6, zoom - 0.2))}>−</button>
      <button aria-label="Larger" disabled={mode === 'sheet' || zoom >= 2} onclick={() => (zoom = Math.min(2, zoom + 0.2))}>+</button>
    </span>
    <span class="place">
      <button
        title={place === 'whole' ? 'Beside the text (Shift F8)' : 'Over the whole window (Shift F8)'}
        onclick={() => onplace(place === 'whole' ? 'beside' : 'whole')}>{place === 'whole' ? 'Beside' : 'Whole'}</button
      >
      <button title="Fold the proof (F8)" onclick={() => onplace('folded')}>Fold</button>
    </span>
    <form
      class="folio"
      onsubmit={(e) => {
        e.preventDefault();
        goTo();
      }}
    >
      <button type="button" aria-label="Page before" disabled={sheet <= 0} onclick={() => onpage(sheet - 1)}>‹</button>
      <input aria-label="Go to folio" placeholder={page?.folio ?? ''} bind:value={wanted} />
      <span>of {proof.pages.length}</span>
      <button type="button" aria-label="Page after" disabled={sheet >= proof.pages.length - 1} onclick={() => onpage(sheet + 1)}>›</button>
    </form>
  </div>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="pages" class:many={mode === 'sheet'} tabindex="0" role="region" aria-label="Composed pages">
    {#if !facesReady || proof.pages.length === 0}
      <p class="wait">Composing…</p>
    {:else if mode === 'page'}
      {#if page}<div class="one" class:whole={place === 'whole'} style:width="{zoom * 92}%">
          <PrintedPage {proof} {page} {block} onblock={(b) => onblock(b, page.division)} />
        </div>{/if}
    {:else if mode === 'spread'}
      <div class="spread" style:width="{zoom * 96}%">
        {#each spread as s (s)}
          {@const p = proof.pages[s]}
          <div>
            {#if p}<PrintedPage {proof} page={p} {block} onblock={(b) => onblock(b, p.division)} />{/if}
          </div>
        {/each}
      </div>
    {:else}
      {#each proof.pages as p, s (s)}
        <button
          class="small"
          class:on={s === sheet}
          aria-label="Page {p.folio}"
          ondblclick={() => (mode = 'page')}
          onclick={() => onpage(s)}
        >
          <PrintedPage {proof} page={p} block={null} lazy />
          <span>{p.folio}</span>
        </button>
      {/each}
    {/if}
  </div>
  <div class="why" aria-live="polite">
    {#if page}<b>Page {page.folio} {lead.charAt(0).toLowerCase() + lead.slice(1)}</b>{rest}{/if}
  </div>
</section>

<style>
  .proof {
    contain: strict;
    container-type: inline-size;
    background: var(--desk);
    border-left: 1px solid var(--rule);
    display: grid;
    grid-template: minmax(36px, auto) minmax(0, 1fr) auto / minmax(0, 1fr);
    min-height: 0;
    min-width: 0;
  }
  .bar {
    display: flex;
    align-items: center;
    /* A narrow proof has its tools in two lines; none is cut off. */
    flex-wrap: wrap;
    gap: 2px;
    padding: 4px 8px;
    font-size: 12px;
    white-space: nowrap;
  }
  .bar > * {
    flex: none;
  }
  .bar button {
    min-width: 24px;
    min-height: 24px;
    padding: 2px 6px;
    border-radius: var(--r);
    color: var(--ink-soft);
    cursor: pointer;
  }
  .bar button:disabled {
    opacity: 0.4;
  }
  .bar .on {
    background: var(--paper);
    color: var(--ink);
    font-weight: 600;
  }
  @container (max-width: 430px) {
    .folio span {
      display: none;
    }
    .bar {
      padding: 0 4px;
    }
    .bar button {
      padding: 2px 3px;
    }
    .folio {
      gap: 0;
    }
    .folio input {
      width: 32px;
    }
    .zoom {
      margin-left: 0;
    }
  }
  .zoom {
    margin-left: 4px;
  }
  .folio {
    margin-left: auto;
    display: flex;
    align-items: center;
    gap: 4px;
    font-variant-numeric: tabular-nums;
    white-space: nowrap;
  }
  .folio input {
    width: 44px;
    text-align: center;
    border: 1px solid var(--rule);
    border-radius: var(--r);
    background: var(--paper);
    padding: 2px;
  }
  .folio input::placeholder {
    color: var(--ink);
    opacity: 1;
  }
  .pages {
    min-height: 0;
    overflow: auto;
    padding: 4px 0 16px;
    text-align: center;
  }
  .one,
  .spread {
    display: inline-grid;
    text-align: left;
  }
  .one.whole {
    max-width: 860px;
  }
  .spread {
    grid-template-columns: 1fr 1fr;
    gap: 2px;
  }
  .many {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(92px, 1fr));
    gap: 10px;
    padding: 6px 14px;
    align-content: start;
  }
  .small {
    cursor: pointer;
    font-size: 11px;
    color: var(--ink-soft);
    border-radius: var(--r);
    padding: 3px;
  }
  .small.on {
    background: var(--bottle-tint);
    color: var(--ink);
    font-weight: 600;
  }
  .wait {
    color: var(--ink-soft);
    padding-top: 60px;
  }
  .why {
    padding: 9px 14px 11px;
    font-size: 12px;
    min-height: 40px;
    border-top: 1px solid var(--rule);
    background: var(--board);
  }
  .why b {
    font-weight: 600;
  }
</style>
