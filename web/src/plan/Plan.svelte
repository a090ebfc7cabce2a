<script lang="ts">
  import { SvelteMap } from 'svelte/reactivity';
  import { api, newId, type LooseEnd, type PlanRow, type PlanView } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import TopStrip from '../frame/TopStrip.svelte';
  import KeptDrawer from '../kept/KeptDrawer.svelte';
  import { KeptOnce } from '../kept/kept-once.svelte';
  import LooseEnds from '../frame/LooseEnds.svelte';
  import { OpenedManual } from '../live/opened-manual.svelte';
  import ActStrip from './ActStrip.svelte';
  import Asked, { type Question } from './Asked.svelte';
  import { ChosenRows } from './chosen-rows.svelte';
  import AxisLines from './AxisLines.svelte';
  import Columns from './Columns.svelte';
  import Landing from './Landing.svelte';
  import { parentOf, shown, states, type Depth } from './outline';
  import { PlanActs } from './plan-acts.svelte';
  import PlanFoot from './PlanFoot.svelte';
  import { RowWindow, rowHeight, textHeight } from './row-window.svelte';
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

  // svelte-ignore state_referenced_locally
  const opened = new OpenedManual(manualId, (change) => kept.changedElsewhere(change));
  const proof = opened.proof;
  // svelte-ignore state_referenced_locally
  const kept = new KeptOnce(manualId, (act) => proof.expects(act));
  let keptOpen = $state(false);
  let question = $state.raw<Question | null>(null);
  let view = $state.raw<PlanView | null>(null);
  let depth = $state<Depth>((localStorage.getItem('kivren.plan.depth') as Depth | null) ?? 'B');
  const folds = new SvelteMap<string, boolean>();
  let renaming = $state<string | null>(null);
  let drawer = $state(false);
  let keysShown = $state(false);
  let released = $state(false);

  const rows = $derived(view?.rows ?? []);
  const seen = $derived(shown(rows, depth, folds));
  const chosen = new ChosenRows(
    () => rows,
    () => seen,
  );
  const list = new RowWindow(() => seen);
  const current = $derived(chosen.current);
  const acts = new PlanActs(
    opened,
    chosen,
    () => rows,
    () => setTimeout(() => chosen.at && show(chosen.at), 120),
  );
  const sheets = $derived(Math.max(1, view?.pageCount ?? 1));

  async function start() {
    await opened.start();
    if (opened.missing) return;
    void kept.read();
    await read();
    if (!chosen.at && rows[0]) choose(rows[0].id);
    setTimeout(() => list.focus());
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
  $effect(() => () => opened.stop());

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
    if (!view || !list.scroller || !begin) return;
    const to = begin;
    begin = null;
    choose(to);
    show(to);
  });

  // ---- choosing ----

  function choose(id: string, extend = false, toggle = false) {
    released = false;
    chosen.choose(id, extend, toggle);
  }

  function show(id: string) {
    // What stands over it is opened.
    let index = rows.findIndex((r) => r.id === id);
    if (index < 0) return;
    for (let p = parentOf(rows, index); p >= 0; p = parentOf(rows, p)) if (!seen.some((s) => s.row.id === id)) folds.set(rows[p]!.id, true);
    index = shown(rows, depth, folds).findIndex((s) => s.row.id === id);
    list.reveal(index);
  }

  // ---- acts ----

  /** The language of the divisions that are chosen, or hold what is. */
  function chooseLanguage(button?: Element) {
    const ids = new Set(chosen.all);
    const held = rows.filter((r) => ids.has(r.id));
    const divisions = [...new Set(held.map((r) => r.division))];
    const anchor = button ?? document.getElementById('row-' + chosen.at);
    if (divisions.length > 0 && anchor) question = { of: 'language', rows: divisions, now: held[0]!.language, at: anchor };
  }

  async function takeBack(redo: boolean) {
    await opened.takeBack(redo);
    await opened.reread();
    await read();
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
    list.focus();
    if (title !== null && title.trim() !== rows.find((r) => r.id === id)?.title)
      await acts.act({ do: 'rename', rows: [id], text: title }, id);
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
      if (parent >= 0) chosen.at = rows[parent]!.id;
    }
    if (chosen.current?.generated) return notices.tell('This text is made by the manual; it is not typed.');
    list.unfolded = list.unfolded === chosen.at ? null : chosen.at;
  }

  function addHead(text: string) {
    const id = newId();
    list.focus();
    void acts.act({ do: 'addHead', rows: [id], by: chosen.at, text }, id);
  }

  async function addDivision(kind: string) {
    question = null;
    const id = newId();
    if (await acts.act({ do: 'addDivision', rows: [id], by: chosen.at, at: kind, text: '' }, id)) {
      await read();
      show(id);
      renaming = id;
    }
  }

  /** What the chosen rows apply to; a head stands for its section. */
  function apply() {
    const ids = chosen.all;
    const own = rows.filter((r) => ids.includes(r.id) && r.kind !== 'Text');
    const place = document.getElementById(`row-${chosen.at}`)?.querySelector('.applies');
    if (own.length > 0 && place) question = { of: 'readers', rows: own, at: place };
  }

  async function applied(ids: string[], appliesTo: PlanRow['appliesTo']) {
    answered();
    const done = await kept.act({ do: 'apply', rows: ids, appliesTo });
    if (done !== null) notices.tell(`${done}.`, () => void takeBack(false));
  }

  /** What was asked is done with; the keys go on in the list. */
  function answered() {
    question = null;
    list.focus();
  }

  function key(event: KeyboardEvent) {
    if (event.target !== list.scroller) return;
    const index = seen.findIndex((s) => s.row.id === chosen.at);
    const here = seen[index];
    const go = (i: number) => {
      const next = seen[Math.max(0, Math.min(seen.length - 1, i))];
      if (next) {
        choose(next.row.id, event.shiftKey);
        show(next.row.id);
      }
    };
    const plain = !event.ctrlKey && !event.metaKey && !event.altKey;
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) acts.moveAmong(event.key === 'ArrowUp' ? -1 : 1);
    else if (event.key === 'ArrowDown') go(index + 1);
    else if (event.key === 'ArrowUp') go(index - 1);
    else if (event.key === 'Home') go(0);
    else if (event.key === 'End') go(seen.length - 1);
    else if (event.key === 'PageDown') go(index + list.page);
    else if (event.key === 'PageUp') go(index - list.page);
    else if (event.key === 'ArrowRight' && here) {
      if (here.has && !here.open) toggle(chosen.at, true);
      else go(index + 1);
    } else if (event.key === 'ArrowLeft' && here) {
      if (here.open) toggle(chosen.at, false);
      else {
        const parent = parentOf(rows, here.index);
        if (parent >= 0) choose(rows[parent]!.id);
      }
    } else if (event.ctrlKey && event.key.toLowerCase() === 'x') acts.carry();
    else if (event.ctrlKey && event.key.toLowerCase() === 'v') acts.putDown(event.shiftKey);
    else if (event.key === 'Tab' && !released) void acts.act({ do: event.shiftKey ? 'lift' : 'deepen', rows: chosen.all }, chosen.at);
    else if (event.key === 'Escape') {
      if (acts.carried.length > 0) acts.carried = [];
      else released = true; // Tab leaves the list now
    } else if (event.ctrlKey && event.key.toLowerCase() === 'z') void takeBack(event.shiftKey);
    else if (event.ctrlKey && event.key.toLowerCase() === 'y') void takeBack(true);
    else if (event.key === 'F2' || (plain && event.key === 'r')) rename();
    else if (event.key === 'Enter' && current) goWrite(current);
    else if (plain && event.key === 'o') openText();
    else if (plain && event.key === 's') void acts.act({ do: 'split', rows: [chosen.at] }, chosen.at);
    else if (plain && event.key === 'j') void acts.act({ do: 'join', rows: [chosen.at] }, chosen.at);
    else if (plain && event.key === 'a') apply();
    else if (plain && event.key === 'b') document.querySelector<HTMLElement>(`[id='row-${chosen.at}'] .begins`)?.focus();
    else if (plain && event.key === 'l') chooseLanguage();
    else if (event.key === 'F4') keptOpen = true;
    else if (plain && event.key === 'n') document.getElementById('plan-find')?.focus();
    else if (plain && '123'.includes(event.key)) void acts.act({ do: 'state', rows: chosen.all, at: states[Number(event.key) - 1]! });
    else if (event.key === 'Delete') void acts.act({ do: 'takeOut', rows: chosen.all });
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
    scroller: () => list.scroller,
    place: (y) => {
      const i = list.at(y);
      return { row: seen[i]?.row ?? null, top: list.topOf(i), height: rowHeight };
    },
    rows: () => rows,
    taken: (row) => {
      if (!chosen.has(row.id)) choose(row.id);
      return chosen.all;
    },
    land: (order, first) => void acts.act(order, first),
  });

  // ---- loose ends, bringing in ----

  function goToLooseEnd(l: LooseEnd) {
    const target = rows.find((r) => r.id === l.block) ?? rows.find((r) => r.id === l.division);
    if (!target) return;
    choose(target.id);
    show(target.id);
    list.focus();
  }

  async function bring(files: File[]) {
    if (files.length === 0) return;
    try {
      const started = await api.startBringIn(files, { manual: manualId, after: chosen.at });
      route.bringIn(started.id);
    } catch (e) {
      notices.problem(e);
    }
  }

  const percent = (sheet: number) => (sheet / sheets) * 100;
</script>

<svelte:head><title>{opened.manual?.title ?? 'Kivren'}: Plan</title></svelte:head>
<div class="screen">
  <TopStrip {manualId} view="plan" title={opened.manual?.title ?? ''} {proof} moving={proof.composing} bind:drawer />
  {#if opened.missing}
    <main class="missing">
      <p>{opened.missing}</p>
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
        onleave={() => list.focus()}
        onbring={(files) => void bring(files)}
        ondivision={(button) => (question = { of: 'kind', at: button })}
      />
      <Columns axis={view?.axis ?? []} {percent} />
      <!-- The tree takes the keys; its rows are reached by them. -->
      <div
        class="rows"
        role="tree"
        tabindex="0"
        aria-label="Plan of the manual"
        aria-multiselectable="true"
        aria-activedescendant={chosen.at ? 'row-' + chosen.at : undefined}
        bind:this={list.scroller}
        bind:clientHeight={list.height}
        onscroll={(e) => (list.scrollTop = e.currentTarget.scrollTop)}
        onkeydown={key}
        onfocus={() => (released = false)}
      >
        <div class="all" style:height="{list.total}px">
          <AxisLines axis={view?.axis ?? []} {percent} />
          {#each list.drawn as { row, index, has, open, at: place } (row.id)}
            <Row
              {row}
              {index}
              {open}
              folds={has}
              top={list.topOf(place)}
              {sheets}
              isCurrent={row.id === chosen.at}
              isChosen={chosen.has(row.id)}
              isCarried={acts.carried.includes(row.id)}
              isInside={chosen.within.has(row.id)}
              isRenamed={renaming === row.id}
              onpress={(e) => drag.press(e, row)}
              onchoose={(e) => {
                choose(row.id, e.shiftKey, e.ctrlKey);
                if (!(e.target as HTMLElement).closest('input,select,button')) list.focus();
              }}
              onwrite={() => goWrite(row)}
              onfold={() => toggle(row.id, !open)}
              onrenamed={(title) => void renamed(title)}
              onstate={(state) => void acts.act({ do: 'state', rows: [row.id], at: state })}
              language={row.id === row.division && row.language !== view?.language ? row.language : ''}
              onlanguage={(button) => {
                choose(row.id);
                chooseLanguage(button);
              }}
              onbegins={(begins) => {
                void acts.act({ do: 'begins', rows: [row.id], at: begins });
                list.focus();
              }}
              onapplies={() => {
                if (!chosen.has(row.id)) choose(row.id);
                chosen.at = row.id;
                apply();
              }}
              onloose={() => (drawer = true)}
            />
            {#if list.unfolded === row.id}
              <div class="under" style:top="{list.topOf(place) + rowHeight}px" style:height="{textHeight}px">
                <SectionText
                  {manualId}
                  {row}
                  variables={kept.now.variables.map((v) => v.name)}
                  {kept}
                  roles={opened.manual?.roles ?? []}
                  onstored={(n) => proof.expects(n)}
                  ontakeback={(redo) => void takeBack(redo)}
                  onclose={() => {
                    list.unfolded = null;
                    list.focus();
                  }}
                />
              </div>
            {/if}
          {/each}
          {#if drag.landing}<Landing landing={drag.landing} />{/if}
        </div>
      </div>
      <ActStrip
        chosen={chosen.all.length > 1 ? `${chosen.all.length} rows` : current ? `${current.number} ${current.title}`.trim() : ''}
        onkeys={() => (keysShown = true)}
      />
    </main>
  {/if}
  <PlanFoot
    {opened}
    {current}
    {released}
    language={view?.language}
    onlanguage={(button) => (question = { of: 'language', rows: [], now: view!.language, at: button })}
  />
  {#if question}
    <Asked
      {question}
      {kept}
      onkind={(kind) => void addDivision(kind)}
      onlanguage={(of, tag) => {
        answered();
        void acts.act({ do: 'language', rows: of, at: tag });
      }}
      onreaders={(ids, appliesTo) => void applied(ids, appliesTo)}
      onmake={() => {
        question = null;
        keptOpen = true;
      }}
      onclose={answered}
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
        list.focus();
      }}
    />
  {/if}
  {#if drawer}
    <LooseEnds {manualId} {proof} act={acts.done} ongo={goToLooseEnd} onclose={() => (drawer = false)} />
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
  .under {
    position: absolute;
    left: 52px;
    right: 16px;
    z-index: 5;
  }
  /* In a narrow window the titles keep the room; what a row applies to is said in its own panel. */
  @media (max-width: 860px) {
    .screen {
      grid-template-rows: auto auto auto minmax(0, 1fr) auto auto;
      --cols: 46px minmax(160px, 1fr) 18% 48px 76px 66px;
    }
  }
</style>
