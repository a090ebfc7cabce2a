<script lang="ts">
  // One row of the plan: its number and title, where it stands in the book, its words, state and readers.
  import type { PlanRow } from '../shared/api';
  import { inWords } from '../shared/applies-to';
  import { focusFirst } from '../ui/focus';
  import { languageName } from '../shared/languages';
  import { beginnings, levelOf, states } from './outline';

  interface Props {
    row: PlanRow;
    /** Its language where that is not the manual's. */
    language: string;
    index: number;
    /** It has rows beneath it, shown or not. */
    folds: boolean;
    open: boolean;
    top: number;
    /** Pages of the whole book. */
    sheets: number;
    isCurrent: boolean;
    isChosen: boolean;
    isCarried: boolean;
    /** It stands in what is chosen. */
    isInside: boolean;
    isRenamed: boolean;
    onpress: (event: PointerEvent) => void;
    onchoose: (event: MouseEvent) => void;
    onwrite: () => void;
    onfold: () => void;
    /** The title as it was typed; null to leave it. */
    onrenamed: (title: string | null) => void;
    onstate: (state: string) => void;
    onbegins: (begins: string) => void;
    onlanguage: (button: Element) => void;
    onapplies: () => void;
    onloose: () => void;
  }
  let {
    row,
    language,
    index,
    folds,
    open,
    top,
    sheets,
    isCurrent,
    isChosen,
    isCarried,
    isInside,
    isRenamed,
    onpress,
    onchoose,
    onwrite,
    onfold,
    onrenamed,
    onstate,
    onbegins,
    onlanguage,
    onapplies,
    onloose,
  }: Props = $props();

  const of = (n: number) => n.toLocaleString('en-GB').replaceAll(',', '\u2009');
  const percent = (sheet: number) => (sheet / sheets) * 100;
</script>

<!-- svelte-ignore a11y_click_events_have_key_events -->
<div
  id={'row-' + row.id}
  class="row level{levelOf(row)}"
  class:on={isCurrent}
  class:part={row.kind === 'Part'}
  class:chosen={isChosen}
  class:carried={isCarried}
  role="treeitem"
  tabindex="-1"
  aria-selected={isChosen}
  aria-level={row.depth + 1}
  aria-expanded={folds ? open : undefined}
  data-row={index}
  style:top="{top}px"
  onpointerdown={onpress}
  onclick={onchoose}
  ondblclick={onwrite}
>
  <span class="number">{row.number}</span>
  <span class="title" style:padding-left="{row.depth * 18}px">
    {#if folds}<button class="fold" tabindex="-1" aria-label={open ? `Fold ${row.title}` : `Open ${row.title}`} onclick={onfold}
        >{open ? '▾' : '▸'}</button
      >{:else}<span class="fold"></span>{/if}
    {#if isRenamed}
      <input
        class="rename"
        aria-label="Title"
        {@attach focusFirst}
        value={row.title}
        onfocus={(e) => e.currentTarget.select()}
        onkeydown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') onrenamed(e.currentTarget.value);
          if (e.key === 'Escape') onrenamed(null);
        }}
        onblur={(e) => onrenamed(e.currentTarget.value)}
      />
    {:else}<span class="words">{row.title || 'Untitled'}</span>{/if}
    {#if language && !isRenamed}<button
        class="language"
        tabindex="-1"
        title={languageName(language)}
        aria-label={`${row.title} is in ${languageName(language)}`}
        onclick={(e) => onlanguage(e.currentTarget)}>{language}</button
      >{/if}
    {#if row.id === row.division && !isRenamed}
      <select
        class="begins"
        class:own={row.begins !== 'ByLook'}
        tabindex="-1"
        aria-label={`Where ${row.title} begins`}
        value={row.begins}
        onkeydown={(e) => e.stopPropagation()}
        onchange={(e) => onbegins(e.currentTarget.value)}
      >
        {#each Object.entries(beginnings) as [begins, words] (begins)}<option value={begins}>{words}</option>{/each}
      </select>
    {/if}
  </span>
  <span class="axis">
    {#if row.sheet >= 0}<i
        class:inside={isInside}
        style:left="{percent(row.sheet)}%"
        style:width="max(3px, {percent(row.pages)}%)"
        title={`${row.pages} ${row.pages === 1 ? 'page' : 'pages'} from ${row.folio}`}
      ></i>{/if}
  </span>
  <span class="n">{row.folio}</span>
  <span class="n soft">{row.generated ? 'generated' : row.words > 0 ? of(row.words) : row.kind === 'Text' ? '' : '—'}</span>
  <span class="state {row.state.toLowerCase()}">
    {#if row.id === row.division}
      <select tabindex="-1" aria-label={`State of ${row.title}`} value={row.state} onchange={(e) => onstate(e.currentTarget.value)}>
        {#each states as s (s)}<option value={s}>{s.toLowerCase()}</option>{/each}
      </select>
    {/if}
  </span>
  <span class="applies"
    >{#if row.kind !== 'Text'}<button
        tabindex="-1"
        title={inWords(row.appliesTo)}
        aria-label={`${row.title} applies to ${inWords(row.appliesTo)}`}
        onclick={onapplies}>{Object.keys(row.appliesTo).length > 0 ? inWords(row.appliesTo) : '·'}</button
      >{/if}</span
  >
  <span class="m"
    >{#if row.looseEnds > 0}<button class="m" tabindex="-1" title={`${row.looseEnds} loose ends`} onclick={onloose}
        >○{row.looseEnds > 1 ? ` ${row.looseEnds}` : ''}</button
      >{/if}</span
  >
</div>

<style>
  .n {
    text-align: right;
    font-variant-numeric: tabular-nums;
    padding-right: 14px;
  }
  .soft {
    color: var(--ink-soft);
  }
  .m {
    color: var(--madder);
  }
  .row {
    position: absolute;
    left: 0;
    right: 0;
    height: 23px;
    display: grid;
    grid-template-columns: var(--cols);
    align-items: center;
    border-bottom: 1px solid color-mix(in srgb, var(--rule) 40%, transparent);
    cursor: default;
    user-select: none;
    contain: strict;
  }
  .row.carried {
    opacity: 0.5;
    text-decoration: underline dotted;
  }
  .row.chosen {
    background: var(--bottle-tint);
  }
  .row.on {
    box-shadow: inset 3px 0 0 var(--bottle);
  }
  .number {
    text-align: right;
    padding-right: 10px;
    color: var(--ink-soft);
    font: 11.5px/1 var(--mono);
  }
  .title {
    display: flex;
    align-items: center;
    min-width: 0;
    font: 16px/1.2 var(--text);
  }
  .level2 .title,
  .level3 .title,
  .level4 .title,
  .level5 .title {
    font-size: 14.5px;
    color: var(--ink-soft);
  }
  .chosen .title {
    color: var(--ink);
  }
  .level6 .title {
    font-size: 13px;
    color: var(--ink-soft);
    font-style: italic;
  }
  .language {
    flex: none;
    margin-left: 8px;
    padding: 0 5px;
    border: 1px solid var(--rule);
    border-radius: var(--r);
    font: 11px/1.5 var(--ui);
    color: var(--ink-soft);
    cursor: pointer;
  }
  .begins {
    margin-left: auto;
    max-width: 150px;
    flex: 0 0 auto;
    border: 0;
    background: none;
    color: var(--ink-soft);
    font: italic 12px/1 var(--text);
    /* Where it says nothing of its own it takes no room from the title. */
    display: none;
    cursor: pointer;
  }
  .begins.own,
  .row.on .begins,
  .row:hover .begins {
    display: block;
  }
  .part .words {
    font-weight: 600;
  }
  .words {
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .fold {
    flex: none;
    width: 16px;
    font-size: 10px;
    color: var(--ink-soft);
    cursor: pointer;
    text-align: left;
  }
  .rename {
    flex: 1;
    min-width: 0;
    font: inherit;
    background: var(--paper);
    border: 1px solid var(--bottle);
    border-radius: 2px;
    padding: 0 4px;
    color: var(--ink);
  }
  .row .axis {
    position: relative;
    height: 100%;
    margin-right: 24px;
  }
  .row .axis i {
    position: absolute;
    top: 7px;
    height: 9px;
    background: light-dark(#a89e86, #7f7863);
    border-radius: 1px;
  }
  .level2 .axis i,
  .level3 .axis i,
  .level4 .axis i,
  .level5 .axis i {
    background: light-dark(#cdc4ae, #5d5747);
  }
  .row .axis i.inside {
    background: var(--bottle);
  }
  .state select {
    appearance: none;
    background: none;
    border: 0;
    color: inherit;
    font: inherit;
    cursor: pointer;
    padding: 0 2px;
  }
  .state.draft {
    color: var(--ochre);
  }
  .state.final {
    color: var(--bottle);
    font-weight: 600;
  }
  .state option {
    color: var(--ink);
    background: var(--paper);
    font-weight: 400;
  }
  .applies button {
    width: 100%;
    text-align: left;
    overflow: hidden;
    text-overflow: ellipsis;
    cursor: pointer;
    border-radius: var(--r);
    color: var(--ink-soft);
  }
  .applies button:hover {
    background: var(--bottle-tint);
  }
  .applies {
    font-size: 11.5px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  @media (max-width: 860px) {
    .row > :nth-child(n + 7) {
      display: none;
    }
  }
</style>
