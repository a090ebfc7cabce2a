<script lang="ts">
  import { SvelteMap, SvelteSet } from 'svelte/reactivity';
  import { api, newId, type DeskManual, type LooseEnd, type PlanOrder, type PlanRow, type PlanView, type Reworked } from '../shared/api';
  import Pick from '../ui/Pick.svelte';
  import { divisionKinds } from '../shared/division-kinds';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import TopStrip from '../frame/TopStrip.svelte';
  import AppliesPanel from '../kept/AppliesPanel.svelte';
  import KeptDrawer from '../kept/KeptDrawer.svelte';
  import { KeptOnce } from '../kept/kept-once.svelte';
  import { writer } from '../live/tab';
  import LooseEnds from '../frame/LooseEnds.svelte';
  import { LiveProof } from '../live/live-proof.svelte';
  import { endOf, parentOf, shown, siblingOf, states, type Depth } from './outline';
  import { languageChoices, languageName } from '../shared/languages';
  import Row from './Row.svelte';
  import { RowDrag } from './row-drag.svelte';
  import Tools from './Tools.svelte';
  import Keys from '../frame/Keys.svelte';
  import { keysOfPlan } from './keys-of-plan';
  import SectionText from './SectionText.svelte';

  interface Props {
    manualId: string;
  }
  let { manualId }: Props = $props();

  const rowHeight = 23;
  const textHeight = 300;

  // svelte-ignore state_referenced_locally
  const proof = new LiveProof(manualId);
  // svelte-ignore state_referenced_locally
  const kept = new KeptOnce(manualId, (act) => proof.expects(act));
  let keptOpen = $state(false);
  /** The rows whose readers are chosen, and where that is asked. */
  let applying = $state.raw<{ rows: PlanRow[]; at: Element } | null>(null);
  let manual = $state.raw<DeskManual | null>(null);
  let view = $state.raw<PlanView | null>(null);
  let missing = $state('');
  let depth = $state<Depth>((localStorage.getItem('kivren.plan.depth') as Depth | null) ?? 'B');
  const folds = new SvelteMap<string, boolean>();
  let at = $state<string>('');
  const chosen = new SvelteSet<string>();
  let anchor = '';
  let opened = $state<string | null>(null);
  let renaming = $state<string | null>(null);
  let adding = $state.raw<Element | null>(null);
  /** Whose language is being chosen: that of divisions, or without any that of the manual. */
  let speaking = $state.raw<{ rows: string[]; now: string; at: Element } | null>(null);
  let drawer = $state(false);
  let keysShown = $state(false);
  let last = $state('');
  let released = $state(false);
  let scrollTop = $state(0);
  let height = $state(600);
  let scroller = $state<HTMLElement>();

  const rows = $derived(view?.rows ?? []);
  const seen = $derived(shown(rows, depth, folds));
  const openAt = $derived(opened === null ? -1 : seen.findIndex((s) => s.row.id === opened));
  const total = $derived(seen.length * rowHeight + (openAt >= 0 ? textHeight : 0));
  const topOf = (i: number) => i * rowHeight + (openAt >= 0 && i > openAt ? textHeight : 0);
  const first = $derived(Math.max(0, Math.floor((scrollTop - (openAt >= 0 ? textHeight : 0)) / rowHeight) - 6));
  const drawn = $derived(
    seen.slice(first, first + Math.ceil((height + textHeight) / rowHeight) + 12).map((s, i) => ({ ...s, at: first + i })),
  );
  const sheets = $derived(Math.max(1, view?.pageCount ?? 1));
  const current = $derived(rows.find((r) => r.id === at) ?? null);
  const inside = $derived.by(() => {
    const found = new Set<string>();
    for (const id of chosen) {
      const index = rows.findIndex((r) => r.id === id);
      if (index >= 0) for (let i = index; i < endOf(rows, index); i++) found.add(rows[i]!.id);
    }
    return found;
  });

  async function start() {
    try {
      manual = await api.open(manualId);
      void proof.start();
      void kept.read();
      proof.onchanged = (change) => kept.changedElsewhere(change);
      await read();
      if (!at && rows[0]) choose(rows[0].id);
      setTimeout(() => scroller?.focus());
    } catch (e) {
      missing = e instanceof Error ? e.message : String(e);
    }
  }
  void start();

  let reading = false;
  let again = false;
  async function read() {
    if (reading) {
      again = true;
      return;
    }
    reading = true;
    try {
      do {
        again = false;
        view = await api.plan(manualId, depth === 'Text');
      } while (again);
    } catch (e) {
      notices.problem(e);
    } finally {
      reading = false;
    }
  }

  $effect(() => {
    if (proof.number > 0 && view && proof.number !== view.composition) void read();
  });
  $effect(() => () => proof.stop());

  function setDepth(d: Depth) {
    const had = depth === 'Text';
    depth = d;
    localStorage.setItem('kivren.plan.depth', d);
    folds.clear();
    if (had !== (d === 'Text')) void read();
  }

  // A row that another view leads to.
  let begin = route.begin();
  $effect(() => {
    if (!view || !scroller || !begin) return;
    const to = begin;
    begin = null;
    choose(to);
    show(to);
  });

  // ---- choosing ----

  function choose(id: string, extend = false, toggle = false) {
    released = false;
    if (extend && anchor) {
      const from = seen.findIndex((s) => s.row.id === anchor);
      const to = seen.findIndex((s) => s.row.id === id);
      chosen.clear();
      for (let i = Math.min(from, to); i <= Math.max(from, to); i++)
        if (seen[i] && seen[i]!.row.kind !== 'Text') chosen.add(seen[i]!.row.id);
    } else if (toggle) {
      if (chosen.has(id)) chosen.delete(id);
      else chosen.add(id);
      anchor = id;
    } else {
      chosen.clear();
      chosen.add(id);
      anchor = id;
    }
    at = id;
  }

  function show(id: string) {
    // What stands over it is opened.
    let index = rows.findIndex((r) => r.id === id);
    if (index < 0) return;
    for (let p = parentOf(rows, index); p >= 0; p = parentOf(rows, p)) if (!seen.some((s) => s.row.id === id)) folds.set(rows[p]!.id, true);
    index = shown(rows, depth, folds).findIndex((s) => s.row.id === id);
    if (!scroller || index < 0) return;
    const top = topOf(index);
    if (top < scroller.scrollTop) scroller.scrollTop = top;
    else if (top + rowHeight > scroller.scrollTop + scroller.clientHeight) scroller.scrollTop = top + rowHeight - scroller.clientHeight;
  }

  // ---- acts ----

  const picked = () => (chosen.size > 0 ? [...chosen] : at ? [at] : []);

  /** The language of the divisions that are chosen, or hold what is. */
  function chooseLanguage(button?: Element) {
    const ids = new Set(picked());
    const held = rows.filter((r) => ids.has(r.id));
    const divisions = [...new Set(held.map((r) => r.division))];
    const anchor = button ?? document.getElementById('row-' + at);
    if (divisions.length > 0 && anchor) speaking = { rows: divisions, now: held[0]!.language, at: anchor };
  }

  const act = (order: PlanOrder, stay?: string) => done(() => api.planAct(manualId, writer, order), stay);

  async function done(order: () => Promise<Reworked>, stay?: string) {
    try {
      const done = await order();
      if (done.refused) {
        last = '';
        notices.problem(new Error(done.refused));
        return false;
      }
      proof.expects(done.act);
      last = done.words;
      notices.tell(`${done.words}.`, () => void takeBack(false));
      manual = await api.open(manualId);
      if (stay) choose(stay);
      return true;
    } catch (e) {
      notices.problem(e);
      return false;
    } finally {
      setTimeout(() => at && show(at), 120);
    }
  }

  async function takeBack(redo: boolean) {
    try {
      const done = await api.takeBack(manualId, writer, redo);
      if (done.refused.length > 0) notices.problem(new Error(`“${done.label}” cannot be taken back: ${done.refused[0]!.why}`));
      else if (done.act === 0) notices.tell(redo ? 'Nothing to do again.' : 'Nothing to take back.');
      else {
        last = `${redo ? 'Done again' : 'Taken back'}: ${done.label}`;
        notices.tell(last);
        manual = await api.open(manualId);
        await read();
      }
    } catch (e) {
      notices.problem(e);
    }
  }

  function moveAmong(step: 1 | -1) {
    const rowsPicked = picked()
      .map((id) => rows.findIndex((r) => r.id === id))
      .toSorted((a, b) => a - b);
    const edge = step < 0 ? rowsPicked[0] : rowsPicked.at(-1);
    if (edge === undefined || edge < 0) return;
    const by = siblingOf(rows, edge, step);
    if (by < 0) return notices.tell(step < 0 ? 'It is the first among its like already.' : 'It is the last among its like already.');
    void act({ do: 'move', rows: picked(), by: rows[by]!.id, at: step < 0 ? 'before' : 'after' });
  }

  /** Rows that are carried elsewhere by keys: they stand where they are until they are put down. */
  let carried = $state.raw<string[]>([]);

  function carry() {
    carried = picked();
    notices.tell(
      `${carried.length === 1 ? 'It is' : `${carried.length} rows are`} carried: Ctrl V puts down behind a row, or into a part; Ctrl Shift V before it; Esc lets go.`,
    );
  }

  function putDown(before: boolean) {
    if (carried.length === 0 || !current) return;
    const rows = carried;
    carried = [];
    void act({ do: 'move', rows, by: current.id, at: before ? 'before' : current.kind === 'Part' ? 'within' : 'after' }, rows[0]);
  }

  function rename() {
    if (!current || current.kind === 'Text') return;
    renaming = current.id;
  }

  /** A row's title as it was typed; null to leave it as it is. */
  async function renamed(title: string | null) {
    const id = renaming;
    if (!id) return;
    renaming = null;
    scroller?.focus();
    if (title !== null && title.trim() !== rows.find((r) => r.id === id)?.title) await act({ do: 'rename', rows: [id], text: title }, id);
  }

  function toggle(id: string, open: boolean) {
    folds.set(id, open);
  }

  function openText() {
    if (!current) return;
    if (current.kind === 'Text') {
      const parent = parentOf(
        rows,
        rows.findIndex((r) => r.id === current.id),
      );
      if (parent >= 0) at = rows[parent]!.id;
    }
    if (rows.find((r) => r.id === at)?.generated) return notices.tell('This text is made by the manual; it is not typed.');
    opened = opened === at ? null : at;
  }

  function addHead(text: string) {
    const id = newId();
    scroller?.focus();
    void act({ do: 'addHead', rows: [id], by: at, text }, id);
  }

  async function addDivision({ kind }: { kind: string }) {
    adding = null;
    const id = newId();
    if (await act({ do: 'addDivision', rows: [id], by: at, at: kind, text: '' }, id)) {
      await read();
      show(id);
      renaming = id;
    }
  }

  /** What the chosen rows apply to; a head stands for its section. */
  function apply(ids = picked()) {
    const own = rows.filter((r) => ids.includes(r.id) && r.kind !== 'Text');
    const place = document.getElementById(`row-${at}`)?.querySelector('.applies');
    if (own.length > 0 && place) applying = { rows: own, at: place };
  }

  function key(event: KeyboardEvent) {
    if (event.target !== scroller) return;
    const index = seen.findIndex((s) => s.row.id === at);
    const here = seen[index];
    const go = (i: number) => {
      const next = seen[Math.max(0, Math.min(seen.length - 1, i))];
      if (next) {
        choose(next.row.id, event.shiftKey);
        show(next.row.id);
      }
    };
    const plain = !event.ctrlKey && !event.metaKey && !event.altKey;
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) moveAmong(event.key === 'ArrowUp' ? -1 : 1);
    else if (event.key === 'ArrowDown') go(index + 1);
    else if (event.key === 'ArrowUp') go(index - 1);
    else if (event.key === 'Home') go(0);
    else if (event.key === 'End') go(seen.length - 1);
    else if (event.key === 'PageDown') go(index + Math.floor(height / rowHeight));
    else if (event.key === 'PageUp') go(index - Math.floor(height / rowHeight));
    else if (event.key === 'ArrowRight' && here) {
      if (here.has && !here.open) toggle(at, true);
      else go(index + 1);
    } else if (event.key === 'ArrowLeft' && here) {
      if (here.open) toggle(at, false);
      else {
        const parent = parentOf(rows, here.index);
        if (parent >= 0) choose(rows[parent]!.id);
      }
    } else if (event.ctrlKey && event.key.toLowerCase() === 'x') carry();
    else if (event.ctrlKey && event.key.toLowerCase() === 'v') putDown(event.shiftKey);
    else if (event.key === 'Tab' && !released) void act({ do: event.shiftKey ? 'lift' : 'deepen', rows: picked() }, at);
    else if (event.key === 'Escape') {
      if (carried.length > 0) carried = [];
      else released = true; // Tab leaves the list now
    } else if (event.ctrlKey && event.key.toLowerCase() === 'z') void takeBack(event.shiftKey);
    else if (event.ctrlKey && event.key.toLowerCase() === 'y') void takeBack(true);
    else if (event.key === 'F2' || (plain && event.key === 'r')) rename();
    else if (event.key === 'Enter' && current) goWrite(current);
    else if (plain && event.key === 'o') openText();
    else if (plain && event.key === 's') void act({ do: 'split', rows: [at] }, at);
    else if (plain && event.key === 'j') void act({ do: 'join', rows: [at] }, at);
    else if (plain && event.key === 'a') apply();
    else if (plain && event.key === 'b') document.querySelector<HTMLElement>(`[id='row-${at}'] .begins`)?.focus();
    else if (plain && event.key === 'l') chooseLanguage();
    else if (event.key === 'F4') keptOpen = true;
    else if (plain && event.key === 'n') document.getElementById('plan-find')?.focus();
    else if (plain && '123'.includes(event.key)) void act({ do: 'state', rows: picked(), at: states[Number(event.key) - 1]! });
    else if (event.key === 'Delete') void act({ do: 'takeOut', rows: picked() });
    else if (event.key === '?') keysShown = true;
    else return;
    event.preventDefault();
  }

  function goWrite(row: PlanRow) {
    if (row.id !== row.division) sessionStorage.setItem('kivren.goto', row.id);
    route.manual(manualId, row.division);
  }

  // ---- dragging ----

  const drag = new RowDrag({
    // svelte-ignore state_referenced_locally
    manual: manualId,
    scroller: () => scroller,
    place: (y) => {
      let i = Math.floor(y / rowHeight);
      if (openAt >= 0 && y > topOf(openAt) + rowHeight) i = Math.floor((y - textHeight) / rowHeight);
      i = Math.max(0, Math.min(seen.length - 1, i));
      return { row: seen[i]?.row ?? null, top: topOf(i), height: rowHeight };
    },
    rows: () => rows,
    taken: (row) => {
      if (!chosen.has(row.id)) choose(row.id);
      return [...chosen];
    },
    land: (order, first) => void act(order, first),
  });

  // ---- loose ends, bringing in ----

  function goToLooseEnd(l: LooseEnd) {
    const target = rows.find((r) => r.id === l.block) ?? rows.find((r) => r.id === l.division);
    if (!target) return;
    choose(target.id);
    show(target.id);
    scroller?.focus();
  }

  async function bring(files: File[]) {
    if (files.length === 0) return;
    try {
      const started = await api.startBringIn(files, { manual: manualId, after: at });
      route.bringIn(started.id);
    } catch (e) {
      notices.problem(e);
    }
  }

  const percent = (sheet: number) => (sheet / sheets) * 100;
</script>

<svelte:head><title>{manual?.title ?? 'Kivren'}: Plan</title></svelte:head>
<div class="screen">
  <TopStrip {manualId} view="plan" title={manual?.title ?? ''} {proof} moving={proof.composing} bind:drawer />
  {#if missing}
    <main class="missing">
      <p>{missing}</p>
      <button class="btn" onclick={() => route.shelf()}>Open the shelf</button>
    </main>
  {:else}
    <main class="plan">
      <Tools
        {rows}
        {current}
        {depth}
        ondepth={setDepth}
        onfound={(id) => {
          choose(id);
          show(id);
        }}
        onadd={(text) => addHead(text)}
        onleave={() => scroller?.focus()}
        onbring={(files) => void bring(files)}
        ondivision={(button) => (adding = button)}
      />
      <div class="columns" aria-hidden="true">
        <span></span><span>Title</span>
        <span class="axis">
          {#each view?.axis ?? [] as mark (mark.sheet)}<i style:left="{percent(mark.sheet)}%">{mark.folio}</i>{/each}
        </span>
        <span class="n">Folio</span><span class="n">Words</span><span>State</span><span>Applies to</span><span></span>
      </div>
      <!-- The tree takes the keys; its rows are reached by them. -->
      <div
        class="rows"
        role="tree"
        tabindex="0"
        aria-label="Plan of the manual"
        aria-multiselectable="true"
        aria-activedescendant={at ? 'row-' + at : undefined}
        bind:this={scroller}
        bind:clientHeight={height}
        onscroll={(e) => (scrollTop = e.currentTarget.scrollTop)}
        onkeydown={key}
        onfocus={() => (released = false)}
      >
        <div class="all" style:height="{total}px">
          <div class="grid" aria-hidden="true">
            <span
              >{#each view?.axis ?? [] as mark (mark.sheet)}<i style:left="{percent(mark.sheet)}%"></i>{/each}</span
            >
          </div>
          {#each drawn as { row, index, has, open, at: place } (row.id)}
            <Row
              {row}
              {index}
              {open}
              folds={has}
              top={topOf(place)}
              {sheets}
              isCurrent={row.id === at}
              isChosen={chosen.has(row.id)}
              isCarried={carried.includes(row.id)}
              isInside={inside.has(row.id)}
              isRenamed={renaming === row.id}
              onpress={(e) => drag.press(e, row)}
              onchoose={(e) => {
                choose(row.id, e.shiftKey, e.ctrlKey);
                if (!(e.target as HTMLElement).closest('input,select,button')) scroller?.focus();
              }}
              onwrite={() => goWrite(row)}
              onfold={() => toggle(row.id, !open)}
              onrenamed={(title) => void renamed(title)}
              onstate={(state) => void act({ do: 'state', rows: [row.id], at: state })}
              language={row.id === row.division && row.language !== view?.language ? row.language : ''}
              onlanguage={(button) => {
                choose(row.id);
                chooseLanguage(button);
              }}
              onbegins={(begins) => {
                void act({ do: 'begins', rows: [row.id], at: begins });
                scroller?.focus();
              }}
              onapplies={() => {
                if (!chosen.has(row.id)) choose(row.id);
                at = row.id;
                apply();
              }}
              onloose={() => (drawer = true)}
            />
            {#if opened === row.id}
              <div class="under" style:top="{topOf(place) + rowHeight}px" style:height="{textHeight}px">
                <SectionText
                  {manualId}
                  {row}
                  variables={kept.now.variables.map((v) => v.name)}
                  {kept}
                  roles={manual?.roles ?? []}
                  onstored={(n) => proof.expects(n)}
                  ontakeback={(redo) => void takeBack(redo)}
                  onclose={() => {
                    opened = null;
                    scroller?.focus();
                  }}
                />
              </div>
            {/if}
          {/each}
          {#if drag.landing}
            <div class="landing" class:refused={drag.landing.refused} style:top="{drag.landing.top}px" style:left="{drag.landing.indent}px">
              <b>{drag.landing.words}</b>
            </div>
          {/if}
        </div>
      </div>
      <div class="act">
        <b>{chosen.size > 1 ? `${chosen.size} rows` : current ? `${current.number} ${current.title}`.trim() : ''}</b>
        <span><kbd class="key">Alt ↑</kbd> <kbd class="key">Alt ↓</kbd> among its like</span>
        <span><kbd class="key">Tab</kbd> deeper</span>
        <span><kbd class="key">⇧ Tab</kbd> lift</span>
        <span><kbd class="key">s</kbd> split before</span>
        <span><kbd class="key">j</kbd> join to the one before</span>
        <span><kbd class="key">o</kbd> its text</span>
        <button class="btn right" onclick={() => (keysShown = true)}>All keys <kbd class="key">?</kbd></button>
      </div>
    </main>
  {/if}
  <footer>
    <span
      >{#if current}<b>{`${current.number} ${current.title}`.trim()}</b> · page {current.folio}{/if}</span
    >
    {#if last || proof.effectWords}<span data-effect
        >Last change: {last ? last + (proof.effectWords ? ' · ' : '') : ''}{proof.effectWords}</span
      >{/if}
    {#if view}<button
        class="tongue"
        title="The language of the whole manual"
        onclick={(e) => (speaking = { rows: [], now: view!.language, at: e.currentTarget })}>{languageName(view.language)}</button
      >{/if}
    <span class="right">{released ? 'Tab leaves the list' : ''}</span>
  </footer>
  {#if adding}
    <Pick
      label="Kind of the new division"
      choices={[...divisionKinds]}
      anchor={adding}
      onchoose={(c) => void addDivision(c)}
      onclose={() => (adding = null)}
    />
  {/if}
  {#if speaking}
    <Pick
      label={speaking.rows.length > 0 ? 'Language of what is chosen' : 'Language of the manual'}
      choices={languageChoices(speaking.now)}
      anchor={speaking.at}
      onchoose={(c) => {
        const chosen = speaking!.rows;
        speaking = null;
        void act({ do: 'language', rows: chosen, at: c.tag });
        scroller?.focus();
      }}
      onclose={() => {
        speaking = null;
        scroller?.focus();
      }}
    />
  {/if}
  {#if applying}
    <AppliesPanel
      anchor={applying.at}
      conditions={kept.now.conditions}
      carriers={[
        {
          name: applying.rows.length === 1 ? applying.rows[0]!.title : `${applying.rows.length} rows`,
          applies: applying.rows[0]!.appliesTo,
        },
      ]}
      onkeep={async (_, appliesTo) => {
        const ids = applying!.rows.map((r) => r.id);
        applying = null;
        scroller?.focus();
        const done = await kept.act({ do: 'apply', rows: ids, appliesTo });
        if (done !== null) notices.tell(`${done}.`, () => void takeBack(false));
      }}
      onmake={() => {
        applying = null;
        keptOpen = true;
      }}
      onclose={() => {
        applying = null;
        scroller?.focus();
      }}
    />
  {/if}
  {#if keptOpen}
    <KeptDrawer
      {kept}
      ongo={(division, block) => {
        if (block) sessionStorage.setItem('kivren.goto', block);
        route.manual(manualId, division);
      }}
      onclose={() => {
        keptOpen = false;
        scroller?.focus();
      }}
    />
  {/if}
  {#if drawer}
    <LooseEnds {manualId} {proof} act={done} ongo={goToLooseEnd} onclose={() => (drawer = false)} />
  {/if}
  {#if keysShown}<Keys keys={keysOfPlan} onclose={() => (keysShown = false)} />{/if}
</div>

<style>
  .screen {
    position: relative;
    display: grid;
    grid-template-rows: 44px auto auto minmax(0, 1fr) auto 28px;
    height: 100%;
    --cols: 52px minmax(240px, 1fr) 38% 64px 84px 76px 92px 44px;
  }
  footer,
  .act {
    display: flex;
    align-items: center;
    gap: 18px;
    padding: 0 16px;
  }
  .plan {
    display: contents;
  }
  .missing {
    grid-row: 2 / 6;
    display: grid;
    place-content: center;
    justify-items: center;
    gap: 12px;
    font: 17px/1.5 var(--text);
  }
  .right {
    margin-left: auto;
    display: flex;
    gap: 8px;
  }
  .columns {
    display: grid;
    grid-template-columns: var(--cols);
    align-items: center;
    height: 25px;
    border-bottom: 1px solid var(--rule);
    font-size: 11.5px;
    overflow: hidden;
    color: var(--ink-soft);
    background: var(--paper);
    scrollbar-gutter: stable;
  }
  .columns .axis {
    position: relative;
    height: 100%;
    margin-right: 24px;
  }
  .columns .axis i {
    position: absolute;
    top: 5px;
    font-style: normal;
    transform: translateX(-2px);
  }
  .n {
    text-align: right;
    font-variant-numeric: tabular-nums;
    padding-right: 14px;
  }
  .rows {
    overflow: hidden auto;
    background: var(--paper);
    scrollbar-gutter: stable;
  }
  .rows:focus-visible {
    outline-offset: -2px;
  }
  .all {
    position: relative;
  }
  .grid {
    position: absolute;
    inset: 0;
    display: grid;
    grid-template-columns: var(--cols);
  }
  .grid span {
    grid-column: 3;
    position: relative;
    margin-right: 24px;
  }
  .grid i {
    position: absolute;
    width: 1px;
    height: 100%;
    background: color-mix(in srgb, var(--rule) 45%, transparent);
  }
  .under {
    position: absolute;
    left: 52px;
    right: 16px;
    z-index: 5;
  }
  .landing {
    position: absolute;
    right: 16px;
    height: 2px;
    background: var(--bottle);
    z-index: 10;
    pointer-events: none;
  }
  .landing b {
    position: absolute;
    left: 0;
    bottom: 4px;
    padding: 3px 10px;
    background: var(--bottle);
    color: var(--on-bottle);
    border-radius: var(--r);
    font-size: 12px;
    white-space: nowrap;
  }
  .landing.refused,
  .landing.refused b {
    background: var(--madder);
  }
  .act {
    padding: 7px 16px;
    border-top: 1px solid var(--rule);
    font-size: 12px;
    white-space: nowrap;
    overflow: hidden;
    color: var(--ink-soft);
  }
  .act b {
    color: var(--ink);
    max-width: 300px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  footer {
    grid-row: 6;
    border-top: 1px solid var(--rule);
    font-size: 12px;
    color: var(--ink-soft);
    white-space: nowrap;
    overflow: hidden;
  }
  footer b {
    color: var(--ink);
    font-weight: 600;
  }
  /* In a narrow window the titles keep the room; what a row applies to is said in its own panel. */
  @media (max-width: 860px) {
    .screen {
      grid-template-rows: auto auto auto minmax(0, 1fr) auto auto;
      --cols: 46px minmax(160px, 1fr) 18% 48px 76px 66px;
    }
    .columns > :nth-child(n + 7) {
      display: none;
    }
    .columns .axis i:not(:first-child) {
      display: none;
    }
    .act > span {
      display: none;
    }
  }
  .tongue {
    cursor: pointer;
    text-decoration: underline;
    text-underline-offset: 3px;
  }
</style>
