<script lang="ts">
  // Each edition a line: name, which stretches of the manual it takes, look, outputs, pages, last output.
  import type { EditionsView, Output, SeenEdition } from '../shared/api';
  import Rows from '../ui/Rows.svelte';
  import { isBusy, kindName, newest, outputsOf, when } from './output-words';
  import { rowsOf, tookWords } from './taking';

  interface Props {
    view: EditionsView;
    seen: Record<string, SeenEdition>;
    outputs: Output[];
    /** The last act in the text. */
    act: number;
    name: string;
    onproduce: (edition: string) => void;
    onacts: (kind: 'new' | 'rename' | 'copy', at: Element) => void;
  }
  let { view, seen, outputs, act, name = $bindable(), onproduce, onacts }: Props = $props();

  const rowHeight = 50;
  /** Where markup alone would swallow it. */
  const space = ' ';
  let list = $state<HTMLElement>();
  let at = $state(0);
  $effect(() => {
    const chosen = view.editions.findIndex((e) => e.name === name);
    if (chosen >= 0) at = chosen;
  });
  $effect(() => {
    const walked = view.editions[at];
    if (walked) name = walked.name;
  });

  /** The manual’s divisions in its own order, as wide as their pages. */
  const stretches = $derived.by(() => {
    const pages = new Map((seen['']?.rows ?? []).map((r) => [r.id, r.pages]));
    return view.outline.filter((r) => r.depth === 0).map((r) => ({ id: r.id, title: r.title, pages: pages.get(r.id) ?? 10 }));
  });

  function readers(chosen: Record<string, string[]>) {
    const said = Object.entries(chosen).map(([axis, values]) => `${axis} ${values.join(' or ')}`);
    return said.length > 0 ? `for ${said.join(', ')}` : 'for everyone';
  }

  function last(edition: string) {
    return newest(outputs, edition).sort((a, b) => b.askedAt.localeCompare(a.askedAt))[0];
  }

  function key(event: KeyboardEvent) {
    const kind = ({ n: 'new', r: 'rename', c: 'copy' } as const)[event.key as 'n'];
    if (event.ctrlKey || event.altKey || event.metaKey) return false;
    if (kind) onacts(kind, list!);
    else if (event.key === 'p' && name) onproduce(name);
    else return false;
    return true;
  }
</script>

<section class="list" aria-label="Editions" bind:this={list}>
  <header>
    <h2>Editions</h2>
    <span class="takes">What it takes of the manual</span>
    <span class="look">Look</span>
    <span class="goes">Goes out as</span>
    <span class="n">Pages</span>
    <span class="last">Last output</span>
    <span class="acts"><button class="btn small" onclick={(e) => onacts('new', e.currentTarget)}>New edition …</button></span>
  </header>
  <div class="rows" style:height="{Math.min(Math.max(view.editions.length, 1), 4) * rowHeight}px">
    <Rows items={view.editions} {rowHeight} label="Editions" bind:at onkey={key}>
      {#snippet row(edition)}
        {@const taken = new Map(
          rowsOf(edition, view.outline)
            .filter((r) => r.depth === 0)
            .map((r) => [r.id, r.taken]),
        )}
        {@const made = last(edition.name)}
        {@const own = seen[edition.name]}
        <div class="edition">
          <span class="name"><b>{edition.name}</b><i>{tookWords(edition, view.outline)}, {readers(edition.chosen)}</i></span>
          <span class="takes strip" role="img" aria-label="Takes {tookWords(edition, view.outline)}">
            {#each stretches as s (s.id)}<i class={taken.get(s.id)} style:flex-grow={s.pages} title={s.title}></i>{/each}
          </span>
          <span class="look"
            >{edition.look ?? view.look}{#if !edition.look}{space}<i>(the manual’s)</i>{/if}</span
          >
          <span class="goes"
            >{outputsOf(edition)
              .map((o) => kindName(o.kind))
              .join(' · ')}</span
          >
          <span class="n">{own ? own.pages : '…'}</span>
          <span class="last">
            {#if !made}<i>none yet</i>
            {:else if isBusy(made)}{made.stage || 'waiting'}
            {:else if made.state === 'Failed'}<b class="m">○ failed</b>
            {:else}{when(made.askedAt)}{#if made.wrong > 0}
                <b class="m">○ {made.wrong} wrong</b>{:else if made.act < act}
                <b class="o">▮ text changed since</b>{/if}{/if}
          </span>
        </div>
      {/snippet}
      {#snippet empty()}<p class="empty">No edition yet.</p>{/snippet}
    </Rows>
  </div>
</section>

<style>
  .list {
    border-bottom: 1px solid var(--rule);
    min-width: 0;
  }
  header,
  .edition {
    display: grid;
    grid-template-columns: minmax(150px, 1.3fr) minmax(120px, 2fr) minmax(110px, 1fr) minmax(110px, 1fr) 48px minmax(150px, 1.2fr);
    gap: 14px;
    align-items: center;
    padding: 0 16px;
  }
  header {
    position: relative;
    height: 34px;
    color: var(--ink-soft);
    font-size: 12px;
    border-bottom: 1px solid var(--rule);
  }
  h2 {
    font-size: 12px;
    font-weight: 400;
  }
  header .acts {
    position: absolute;
    right: 16px;
  }
  .edition {
    height: 100%;
    border-bottom: 1px solid var(--rule);
  }
  .edition > span {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .name {
    display: grid;
  }
  .name b {
    font: 500 15px/1.3 var(--text);
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .name i,
  .look i,
  .last i {
    font-style: normal;
    font-size: 11.5px;
    color: var(--ink-soft);
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .strip {
    display: flex;
    gap: 1px;
    height: 13px;
  }
  .strip i {
    min-width: 1px;
    flex-basis: 0;
    border: 1px solid var(--ink-soft);
    opacity: 0.45;
  }
  .strip i.all {
    background: var(--bottle);
    border-color: var(--bottle);
    opacity: 1;
  }
  .strip i.some {
    background: repeating-linear-gradient(135deg, var(--bottle) 0 3px, transparent 3px 6px);
    border-color: var(--bottle);
    opacity: 1;
  }
  .n {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
  .m {
    color: var(--madder);
  }
  .o {
    color: var(--ochre);
  }
  .empty {
    padding: 14px 16px;
    color: var(--ink-soft);
  }
  @media (max-width: 1100px) {
    header,
    .edition {
      grid-template-columns: minmax(140px, 1.4fr) minmax(90px, 1.4fr) minmax(100px, 1fr) 44px minmax(120px, 1.1fr);
      gap: 10px;
    }
    .look {
      display: none;
    }
  }
  @media (max-width: 700px) {
    header,
    .edition {
      grid-template-columns: minmax(120px, 1.6fr) minmax(60px, 1fr) 40px;
    }
    .goes,
    .last {
      display: none;
    }
  }
</style>
