<script lang="ts">
  import { divisionKinds } from '../../shared/division-kinds';
  import Pick from '../../ui/Pick.svelte';
  import type { LooseEnd, ProofDivision, ProofPage } from '../../shared/api';
  import { bandHeights } from './bands';

  interface Props {
    divisions: ProofDivision[];
    pages: ProofPage[];
    looseEnds: LooseEnd[];
    current: string | null;
    sheet: number;
    /** The head whose section the caret is in. */
    head: string | null;
    ongo: (division: string, block: string | null) => void;
    onadd: (kind: string) => void;
    ondelete: (division: ProofDivision) => void;
    onfold: () => void;
  }
  let { divisions, pages, looseEnds, current, sheet, head, ongo, onadd, ondelete, onfold }: Props = $props();

  let height = $state(600);
  let adding = $state.raw<Element | null>(null);

  const open = $derived(divisions.find((d) => d.id === current));
  const headRows = $derived(open ? open.heads.length : 0);
  const heights = $derived(bandHeights(divisions, current, Math.max(200, height - 50), headRows));

  function folios(d: ProofDivision): string {
    const first = pages[d.firstSheet]?.folio ?? '';
    const last = pages[d.firstSheet + d.pages - 1]?.folio ?? '';
    return first === last ? first : `${first}–${last}`;
  }
  const front = (d: ProofDivision) => ['TitlePage', 'Legal', 'Contents', 'Preface', 'Index', 'Colophon', 'Glossary'].includes(d.kind);

  function walk(event: KeyboardEvent) {
    const buttons = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLButtonElement>('button.go')];
    const at = buttons.indexOf(document.activeElement as HTMLButtonElement);
    const next = event.key === 'ArrowDown' ? at + 1 : event.key === 'ArrowUp' ? at - 1 : -1;
    if (buttons[next]) {
      buttons[next].focus();
      event.preventDefault();
    }
  }
</script>

<!-- The arrow keys walk the buttons inside. -->
<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<nav class="fore" aria-label="Fore-edge" bind:clientHeight={height} onkeydown={walk}>
  {#each divisions as d, i (d.id)}
    {@const here = d.id === current}
    {@const loose = looseEnds.filter((l) => l.division === d.id)}
    <div
      class="band"
      class:front={front(d)}
      class:part={d.kind === 'Part'}
      class:cur={here}
      style:min-height="{heights[i]}px"
      style:--page="{Math.max(3, (heights[i] ?? 24) / Math.max(1, d.pages))}px"
    >
      <button class="go title" aria-current={here ? 'true' : undefined} onclick={() => ongo(d.id, null)}>
        <span class="t">{d.number ? d.number + ' ' : ''}{d.title || 'Untitled'}</span><i>{folios(d)}</i>
      </button>
      {#if here && d.heads.length > 0}
        <ul>
          {#each d.heads as h (h.id)}
            <li class:b={h.level === 'B'}>
              <button
                class="go"
                class:here={h.id === head}
                aria-current={h.id === head ? 'location' : undefined}
                onclick={() => ongo(d.id, h.id)}
              >
                <span>{h.number ? h.number + ' ' : ''}{h.title || 'Untitled'}</span><i>{h.folio}</i>
              </button>
            </li>
          {/each}
        </ul>
      {/if}
      {#if loose.length > 0}
        <span class="tick" title="{loose.length} loose {loose.length === 1 ? 'end' : 'ends'}">○</span>
      {/if}
      {#if sheet >= d.firstSheet && sheet < d.firstSheet + d.pages}
        <span class="view" style:top="{((sheet - d.firstSheet) / Math.max(1, d.pages)) * 100}%"></span>
      {/if}
    </div>
  {/each}
  <div class="tail">
    <button class="quiet" onclick={(e) => (adding = e.currentTarget)}>Add a division…</button>
    {#if open}<button class="quiet" onclick={() => open && ondelete(open)}>Take this one out</button>{/if}
    <button class="quiet" title="F2" onclick={onfold}>Fold these away</button>
    {#if adding}
      <Pick
        label="Kind of the new division"
        choices={[...divisionKinds]}
        anchor={adding}
        onchoose={({ kind }) => {
          adding = null;
          onadd(kind);
        }}
        onclose={() => (adding = null)}
      />
    {/if}
  </div>
</nav>

<style>
  .fore {
    contain: strict;
    border-right: 1px solid var(--rule);
    padding: 10px 0 10px 12px;
    overflow: hidden auto;
    display: flex;
    flex-direction: column;
    min-height: 0;
  }
  .band {
    position: relative;
    flex: none;
    margin-bottom: 2px;
    background: var(--paper)
      repeating-linear-gradient(
        to bottom,
        transparent 0 calc(var(--page) - 1px),
        rgb(120 105 75 / 0.17) calc(var(--page) - 1px) var(--page)
      );
    border-left: 4px solid light-dark(#b8ad95, #5d5748);
    font-size: 12px;
  }
  .band.front {
    border-left-color: light-dark(#d9cfba, #45413a);
  }
  .band.part {
    border-left-color: var(--ink);
    font-weight: 600;
  }
  .band.cur {
    border-left-color: var(--bottle);
    background-color: var(--bottle-tint);
  }
  .go {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    gap: 6px;
    width: 100%;
    min-height: 24px;
    line-height: 24px;
    text-align: left;
    cursor: pointer;
    padding: 0 7px 0 8px;
  }
  .t,
  li span {
    line-height: 1.4;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    background: var(--paper);
    padding-right: 3px;
  }
  i {
    font-style: normal;
    font-size: 11px;
    color: var(--ink-soft);
    background: var(--paper);
    padding-left: 3px;
    font-variant-numeric: tabular-nums;
    white-space: nowrap;
  }
  .cur .t,
  .cur i,
  .cur li span {
    background: var(--bottle-tint);
  }
  ul {
    padding: 3px 0 4px 8px;
  }
  li.b {
    padding-left: 12px;
  }
  .here {
    font-weight: 600;
    background: rgb(29 90 75 / 0.14);
  }
  .here span,
  .here i {
    background: transparent !important;
  }
  .tick {
    position: absolute;
    right: -1px;
    bottom: 0;
    width: 12px;
    text-align: center;
    font-size: 10px;
    line-height: 1;
    color: var(--madder);
  }
  .view {
    position: absolute;
    left: -4px;
    width: 4px;
    height: 4px;
    background: var(--ink);
  }
  .tail {
    margin-top: 6px;
    padding-right: 10px;
    display: flex;
    gap: 10px;
    flex-wrap: wrap;
  }
  .quiet {
    color: var(--ink-soft);
    font-size: 12px;
    cursor: pointer;
    min-height: 24px;
  }
  .quiet:hover {
    color: var(--ink);
    text-decoration: underline;
  }
</style>
