<script lang="ts">
  // What stands round a view of one manual: the strips, loose ends, keys, and what to do when there is no such manual.
  import type { Snippet } from 'svelte';
  import type { OpenedManual } from '../live/opened-manual.svelte';
  import { route, views, type View } from '../shared/route.svelte';
  import Keys from './Keys.svelte';
  import LooseEnds from './LooseEnds.svelte';
  import TopStrip from './TopStrip.svelte';

  interface Props {
    opened: OpenedManual;
    view: View;
    keys: readonly (readonly [string, string])[];
    /** Where one is, for the foot strip. */
    where: string;
    children: Snippet;
  }
  let { opened, view, keys, where, children }: Props = $props();

  let drawer = $state(false);
  let keysShown = $state(false);
  const proof = $derived(opened.proof);
  const name = $derived(views.find((v) => v.view === view)?.name);

  function key(event: KeyboardEvent) {
    if (event.defaultPrevented || opened.key(event)) return;
    if (event.key === '?' && !(event.target as HTMLElement).closest('input,textarea')) {
      keysShown = true;
      event.preventDefault();
    }
  }
</script>

<svelte:head><title>{opened.manual?.title ?? 'Kivren'}: {name}</title></svelte:head>
<svelte:window onkeydown={key} />
<div class="screen">
  <TopStrip manualId={opened.id} {view} title={opened.manual?.title ?? ''} {proof} moving={proof.composing} bind:drawer />
  {#if opened.missing}
    <main class="missing">
      <p>{opened.missing}</p>
      <button class="btn" onclick={() => route.shelf()}>Open the shelf</button>
    </main>
  {:else}
    <main>{@render children()}</main>
  {/if}
  <footer>
    <span>{name} › <b>{where}</b></span>
    {#if opened.last || proof.effectWords}<span data-effect
        >Last change: {opened.last}{opened.last && proof.effectWords ? ' · ' : ''}{proof.effectWords}</span
      >{/if}
    <button class="right" onclick={() => (keysShown = true)}>All keys <kbd class="key">?</kbd></button>
  </footer>
  {#if drawer}
    <LooseEnds
      manualId={opened.id}
      {proof}
      act={(order) => opened.act(order)}
      ongo={(l) => route.manual(opened.id, l.division, l.block === l.division ? null : l.block)}
      onclose={() => (drawer = false)}
    />
  {/if}
  {#if keysShown}<Keys {keys} onclose={() => (keysShown = false)} />{/if}
</div>

<style>
  .screen {
    position: relative;
    display: grid;
    grid-template: 44px minmax(0, 1fr) 28px / minmax(0, 1fr);
    height: 100%;
  }
  main {
    display: grid;
    min-height: 0;
    min-width: 0;
  }
  .missing {
    place-content: center;
    justify-items: center;
    gap: 12px;
    font: 17px/1.5 var(--text);
  }
  footer {
    display: flex;
    align-items: center;
    gap: 18px;
    padding: 0 16px;
    border-top: 1px solid var(--rule);
    font-size: 12px;
    color: var(--ink-soft);
    white-space: nowrap;
    overflow: hidden;
  }
  footer span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  footer b {
    color: var(--ink);
    font-weight: 600;
  }
  .right {
    margin-left: auto;
    flex: none;
    cursor: pointer;
  }
  @media (max-width: 860px) {
    .screen {
      grid-template-rows: auto minmax(0, 1fr) auto;
    }
  }
</style>
