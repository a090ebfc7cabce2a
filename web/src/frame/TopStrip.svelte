<script module lang="ts">
  /** Titles that were seen: where the next view has to read the manual first, the names of the views stand where they stood. */
  const seen = new Map<string, string>();
</script>

<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { LiveProof } from '../live/live-proof.svelte';
  import { api } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route, views, type View } from '../shared/route.svelte';
  import Pick from '../ui/Pick.svelte';
  import Sign from './Sign.svelte';
  import Views from './Views.svelte';

  interface Props {
    manualId: string;
    view: View;
    title: string;
    proof: LiveProof;
    /** Something is on its way to the server or to the pages. */
    moving: boolean;
    /** Whether the loose ends are shown. */
    drawer: boolean;
    children?: Snippet;
  }
  let { manualId, view, title, proof, moving, drawer = $bindable(), children }: Props = $props();

  const loose = $derived(proof.told.length);
  $effect(() => void (title && seen.set(manualId, title)));
  const called = $derived(title || seen.get(manualId) || '');

  // ---- the edition whose pages are seen ----
  let choosing = $state.raw<{ at: Element; names: string[] } | null>(null);
  async function chooseEdition(at: Element) {
    try {
      choosing = { at, names: (await api.editions(manualId)).editions.map((e) => e.name) };
    } catch (e) {
      notices.problem(e);
    }
  }
  async function proofIn(name: string) {
    choosing = null;
    try {
      await api.proofIn(manualId, name);
    } catch (e) {
      notices.problem(e);
    }
  }
</script>

<h1 class="sr">{called || 'Kivren'}: {views.find((v) => v.view === view)?.name}</h1>
<header>
  <button class="sign" onclick={() => route.shelf()} title="Open the shelf"><Sign /><span>{called}</span></button>
  <Views {manualId} {view} />
  <div class="settled">
    {#if proof.problem}<b class="m">{proof.problem}</b>
    {:else if proof.number === 0}composing…
    {:else}
      {#if proof.edition && proof.edition !== 'Whole manual'}<button
          class="edition"
          aria-haspopup="dialog"
          title="The pages are those of the edition “{proof.edition}”. Choose another."
          onclick={(e) => void chooseEdition(e.currentTarget)}>{proof.edition} ·</button
        >
      {/if}
      <b>{proof.pages.length} pages</b> ·
      <span data-settled={proof.number}>settled<i class="ms">, {Math.max(1, Math.round(proof.milliseconds))} ms</i></span>
      ·
      <button class="loose" class:m={loose > 0} aria-expanded={drawer} onclick={() => (drawer = !drawer)}
        >{loose === 0 ? 'no loose ends' : loose === 1 ? '1 loose end' : `${loose} loose ends`}</button
      >
    {/if}
    {#if moving}<i class="moving"></i>{/if}
  </div>
  {@render children?.()}
</header>
{#if choosing}
  <Pick
    label="Edition"
    choices={choosing.names.map((name) => ({ name, note: name === proof.edition ? '✓' : '' }))}
    anchor={choosing.at}
    onchoose={(c) => void proofIn(c.name)}
    onclose={() => (choosing = null)}
  />
{/if}

<style>
  header {
    display: flex;
    align-items: center;
    gap: 18px;
    padding: 0 16px;
    border-bottom: 1px solid var(--rule);
  }
  .sign {
    display: flex;
    gap: 10px;
    align-items: center;
    font: 500 17px/1 var(--text);
    cursor: pointer;
    min-width: 0;
  }
  .sign span {
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    line-height: 1.3;
  }
  .settled {
    position: relative;
    margin-left: auto;
    color: var(--ink-soft);
    font-size: 12px;
    white-space: nowrap;
  }
  .settled b {
    color: var(--ink);
    font-weight: 600;
  }
  .moving {
    position: absolute;
    left: 0;
    bottom: -4px;
    height: 1px;
    width: 100%;
    background: linear-gradient(90deg, transparent, var(--bottle), transparent);
    animation: move 0.9s linear infinite;
  }
  @keyframes move {
    from {
      transform: translateX(-30%);
    }
    to {
      transform: translateX(30%);
    }
  }
  .edition {
    max-width: 15ch;
    overflow: hidden;
    text-overflow: ellipsis;
    vertical-align: bottom;
    cursor: pointer;
    color: var(--bottle);
  }
  .loose {
    cursor: pointer;
    font-weight: 600;
  }
  .m,
  .settled b.m {
    color: var(--madder);
  }
  .ms {
    font-style: normal;
  }
  @media (max-width: 1400px) {
    .ms {
      display: none;
    }
  }
  @media (max-width: 1180px) {
    .edition {
      display: none;
    }
  }
  @media (max-width: 860px) {
    header {
      flex-wrap: wrap;
      gap: 2px 12px;
      padding: 4px 10px;
    }
    .sign {
      max-width: 100%;
    }
    .settled {
      margin-left: 0;
    }
  }
</style>
