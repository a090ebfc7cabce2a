<script lang="ts">
  // One cross-reference: what it prints among its words, and where it points; of a loose one, what is wrong.
  import { isLoose, stateWords, targetKinds, type Pointing } from './filters';

  interface Props {
    reference: Pointing;
    marked: boolean;
  }
  let { reference: r, marked }: Props = $props();

  const loose = $derived(isLoose(r));
  const title = $derived(loose && r.lost ? `printed ${r.lost} until then` : (r.target?.title ?? ''));
</script>

<div class="reference" class:loose>
  <span class="folio">{r.folio}</span>
  <span class="words-around"
    >{#if marked}✓
    {/if}{r.before}<b class="prints">{loose ? stateWords[r.state] : r.prints}</b>{r.after}</span
  >
  <span class="arrow" aria-hidden="true">→</span>
  <span class="number">{loose ? `○ ${stateWords[r.state]}` : (r.target?.number ?? '')}</span>
  <span class="title">{title}</span>
  <span class="folio to">{r.target?.folio ?? ''}</span>
  <span class="kind">{r.target ? (targetKinds[r.target.kind] ?? '') : ''}</span>
</div>

<style>
  .reference {
    display: grid;
    grid-template-columns: 46px minmax(0, 1.6fr) 18px 74px minmax(0, 1fr) 44px 66px;
    gap: 9px;
    align-items: start;
    height: 100%;
    padding: 5px 12px 0 0;
    border-bottom: 1px solid var(--rule);
  }
  .loose {
    background: color-mix(in srgb, var(--madder) 9%, transparent);
    box-shadow: inset 3px 0 0 var(--madder);
  }
  .words-around,
  .title {
    font: 14.5px/1.28 var(--text);
    display: -webkit-box;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    overflow: hidden;
  }
  .prints {
    font-weight: 400;
    color: var(--woad);
    border-bottom: 1px dotted currentColor;
  }
  .loose .prints,
  .loose .number {
    color: var(--madder);
  }
  .loose .title {
    color: var(--ink-soft);
  }
  .folio {
    text-align: right;
    font-variant-numeric: tabular-nums;
    color: var(--ink-soft);
  }
  .folio.to {
    color: var(--ink);
  }
  .arrow {
    color: var(--woad);
  }
  .kind {
    color: var(--ink-soft);
    font-size: 12px;
  }
  @media (max-width: 860px) {
    .reference {
      grid-template-columns: 40px minmax(0, 1.4fr) 60px minmax(0, 1fr) 40px;
    }
    .arrow,
    .kind {
      display: none;
    }
  }
</style>
