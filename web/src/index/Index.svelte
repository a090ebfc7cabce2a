<script lang="ts">
  // The index: its headings, as it will be printed, and why each page is named; sweeps and proposals over the foot.
  import { SvelteSet } from 'svelte/reactivity';
  import ManualScreen from '../frame/ManualScreen.svelte';
  import { OpenedManual } from '../live/opened-manual.svelte';
  import { writer } from '../live/tab';
  import { api, newId, type IndexOrder, type IndexView, type LocatorWhy, type ProposedForIndex } from '../shared/api';
  import { loadFaces } from '../shared/faces';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import Pick from '../ui/Pick.svelte';
  import ActPanel from './ActPanel.svelte';
  import HeadingActs from './HeadingActs.svelte';
  import HeadingList from './HeadingList.svelte';
  import { headingsOf, phraseOf, respelt, samePath, saidPath, typedPath, type Heading } from './headings';
  import IndexDressPanel from './IndexDressPanel.svelte';
  import { keysOfIndex } from './keys-of-index';
  import Locators from './Locators.svelte';
  import PrintedIndex from './PrintedIndex.svelte';
  import ProposalsPane from './ProposalsPane.svelte';
  import SweepPane from './SweepPane.svelte';

  interface Props {
    manualId: string;
  }
  let { manualId }: Props = $props();

  // svelte-ignore state_referenced_locally
  const opened = new OpenedManual(manualId);
  const proof = opened.proof;
  let view = $state.raw<IndexView | null>(null);
  let at = $state(0);
  let why = $state.raw<LocatorWhy[]>([]);
  let looseOnly = $state(false);
  let foot = $state<'sweep' | 'proposals' | null>(null);
  let sweep = $state.raw<{ phrase: string; heading: string[] }>({ phrase: '', heading: [] });
  let proposals = $state.raw<ProposedForIndex[]>([]);
  const marked = new SvelteSet<string>();
  let dressing = $state.raw<Element | null>(null);
  let was = $state.raw<string[] | null>(null);
  interface Asking {
    label: string;
    does: string;
    text: string;
    from: Element;
    order: (typed: string) => IndexOrder | null;
    back: 'headings' | 'locators';
  }
  let asking = $state.raw<Asking | null>(null);
  let respelling = $state.raw<Element | null>(null);
  let list = $state<ReturnType<typeof HeadingList>>();
  let locators = $state<ReturnType<typeof Locators>>();
  let bar = $state<HTMLElement>();

  const headings = $derived(headingsOf(view?.rows ?? []));
  const heading = $derived<Heading | undefined>(headings[at]);
  const lines = $derived.by(() => {
    if (!heading) return [];
    const own = [heading.row.line];
    for (let i = heading.index + 1; i < headings.length && headings[i]!.row.depth > heading.row.depth; i++) own.push(headings[i]!.row.line);
    return own;
  });
  const looseCount = $derived(headings.filter((h) => h.row.loose.length > 0).length);

  void opened.start();
  void loadFaces();
  $effect(() => () => opened.stop());
  const begin = route.begin();

  // A new composition has other lines; what was chosen stays chosen by its words.
  let reading = false;
  let becomes: string[] | null = null;
  $effect(() => {
    if (opened.overtakes(view?.composition) && !reading) void read();
  });
  async function read() {
    reading = true;
    try {
      do {
        const chosen = heading?.path ?? (begin ? typedPath(begin) : null);
        view = await api.index(manualId);
        const all = headingsOf(view.rows);
        const where = (path: string[] | null) => (path ? all.findIndex((h) => samePath(h.path, path)) : -1);
        // What an act made of the chosen heading is there as soon as it is composed.
        const moved = where(becomes);
        if (moved >= 0) becomes = null;
        const same = moved >= 0 ? moved : where(chosen);
        at = same >= 0 ? same : Math.min(at, Math.max(0, all.length - 1));
        if (foot === 'proposals') proposals = await api.indexProposals(manualId);
      } while (view.composition < proof.number);
    } catch (e) {
      notices.problem(e);
    } finally {
      reading = false;
    }
  }

  // Why the chosen heading has its pages.
  $effect(() => {
    const path = heading?.path;
    void view;
    if (!path) {
      why = [];
      return;
    }
    api.whyLocators(manualId, path).then(
      (w) => {
        if (heading && samePath(path, heading.path)) why = w;
      },
      () => undefined,
    );
  });

  function choose(index: number) {
    if (index === at) return;
    at = index;
    marked.clear();
  }

  /** After an act the heading is looked for under its new words. */
  async function act(order: IndexOrder): Promise<boolean> {
    becomes = order.do === 'move' ? order.to : null;
    return opened.act(() => api.indexAct(manualId, writer, order));
  }

  const place = () => bar ?? document.body;

  function ask(kind: 'rename' | 'nest' | 'see' | 'also' | 'files') {
    const h = heading;
    if (!h) return;
    const path = h.path;
    const to = (typed: string) => {
      const wanted = typedPath(typed);
      return wanted.length > 0 ? wanted : null;
    };
    const from = place();
    const back = 'headings' as const;
    if (kind === 'rename')
      asking = {
        label: `Rename “${saidPath(path)}”; with the name of another heading they become one`,
        does: 'Rename',
        text: saidPath(path),
        from,
        back,
        order: (typed) => {
          const wanted = to(typed);
          return wanted && !samePath(wanted, path) ? { do: 'move', heading: path, to: wanted } : null;
        },
      };
    else if (kind === 'nest')
      asking = {
        label: `Nest “${h.row.text}” under`,
        does: 'Nest',
        text: '',
        from,
        back,
        order: (typed) => {
          const wanted = to(typed);
          return wanted ? { do: 'move', heading: path, to: [...wanted, h.row.text] } : null;
        },
      };
    else if (kind === 'files')
      asking = {
        label: `Files “${h.row.text}” under; empty for its own words`,
        does: 'File',
        text: h.row.files ?? '',
        from,
        back,
        order: (typed) => ({ do: 'fileUnder', heading: path, text: typed.trim() }),
      };
    else
      asking = {
        label: kind === 'see' ? `“${saidPath(path)}” see` : `“${saidPath(path)}” see also`,
        does: kind === 'see' ? 'Turn into see' : 'Add see also',
        text: '',
        from,
        back,
        order: (typed) => {
          const wanted = to(typed);
          return wanted ? { do: kind === 'see' ? 'turnIntoSee' : 'seeAlso', heading: path, to: wanted } : null;
        },
      };
  }

  function askMove(entries: string[], from: Element) {
    if (!heading) return;
    asking = {
      label: entries.length === 1 ? 'Move this locator to' : `Move ${entries.length} locators to`,
      does: 'Move',
      text: saidPath(heading.path),
      from,
      back: 'locators',
      order: (typed) => {
        const to = typedPath(typed);
        return to.length > 0 ? { do: 'moveEntries', entries, to } : null;
      },
    };
  }

  function startSweep(phrase: string, to: string[]) {
    sweep = { phrase, heading: to };
    foot = 'sweep';
  }

  async function startProposals() {
    try {
      proposals = await api.indexProposals(manualId);
      foot = 'proposals';
    } catch (e) {
      notices.problem(e);
    }
  }

  function take(p: ProposedForIndex) {
    if (p.kind === 'Merge') void act({ do: 'move', heading: p.heading, to: p.other });
    else if (p.kind === 'TurnIntoSee') void act({ do: 'turnIntoSee', heading: p.heading, to: p.other });
    else if (p.kind === 'FileUnder') void act({ do: 'fileUnder', heading: p.heading, text: p.other[0]! });
    else if (p.kind === 'Sweep') startSweep(p.heading[0]!, []);
    else show(p);
  }

  function show(p: ProposedForIndex) {
    if (p.kind === 'Pages' || (p.kind === 'Sweep' && p.block)) return route.manual(manualId, p.division, p.block);
    const there = headings.findIndex((h) => samePath(h.path, p.heading));
    if (there >= 0) choose(there);
    if (p.kind === 'Split') setTimeout(() => locators?.focus());
  }

  function lift() {
    if (!heading) return;
    const { path, row } = heading;
    if (path.length < 2) notices.tell('It stands at the top already.');
    else void act({ do: 'move', heading: path, to: [...path.slice(0, -2), row.text] });
  }

  function mergeAlike() {
    const pairs = headings.flatMap((h) =>
      h.row.loose.filter((l) => l.kind === 'HeadingNearlyAlike').map((l) => /“(.+?)” and “(.+?)”/.exec(l.message) ?? []),
    );
    // Told at the second of the two; the first is the one that stays, whichever is chosen.
    const pair = pairs.find(([, first, second]) => heading?.path.length === 1 && [first, second].includes(heading.path[0]!));
    if (pair) void act({ do: 'move', heading: [pair[2]!], to: [pair[1]!] });
    else notices.tell('No other heading is nearly alike.');
  }

  function key(event: KeyboardEvent): boolean {
    if (event.ctrlKey || event.metaKey || event.altKey) return false;
    const h = heading;
    if (event.key === '/') list?.filter();
    else if (event.key === 's') startSweep(h ? phraseOf(h.path) : '', h?.path ?? []);
    else if (event.key === 'ArrowRight') locators?.focus();
    else if (!h) return false;
    else if (event.key === 'r' || event.key === 'F2') ask('rename');
    else if (event.key === 'n') ask('nest');
    else if (event.key === 'e') ask('see');
    else if (event.key === 'a') ask('also');
    else if (event.key === 'f') ask('files');
    else if (event.key === 'w') respelling = place();
    else if (event.key === 'm') mergeAlike();
    else if (event.key === 'l') lift();
    else if (event.key === 'Delete') void act({ do: 'takeOut', heading: h.path });
    else return false;
    return true;
  }

  /** The printed index is kept as it is now, to stand beside what its dress makes of it. */
  async function compare() {
    const drawn = (view?.pages ?? []).flatMap((p) => proof.pages[p.sheet]?.key ?? []).map((key) => proof.svg(key));
    try {
      was = await Promise.all(drawn);
    } catch (e) {
      notices.problem(e);
    }
  }

  const goTo = (l: { division: string; block: string }) => route.manual(manualId, l.division, l.block);
</script>

<ManualScreen {opened} view="index" keys={keysOfIndex} where={heading ? saidPath(heading.path) : `${view?.entries ?? 0} entries`}>
  {#if view}
    <div class="index" class:foot={foot !== null} class:comparing={was !== null}>
      <section class="left" aria-label="Headings">
        <HeadingList bind:this={list} {headings} {at} loose={looseOnly} onat={choose} onkey={key} onopen={() => locators?.focus()} />
        <div class="under">
          <button class="btn small" onclick={() => startSweep('', [])}>Sweep … <kbd class="key">s</kbd></button>
          <button class="btn small" onclick={() => void startProposals()}>Proposals</button>
          {#if looseCount > 0 || looseOnly}<label><input type="checkbox" bind:checked={looseOnly} /> ○ {looseCount} loose</label>{/if}
        </div>
      </section>
      <section class="middle" aria-label="The printed index">
        <PrintedIndex
          {proof}
          {view}
          {lines}
          {was}
          onstop={() => {
            was = null;
            list?.focus();
          }}
          online={(line) => {
            const there = headings.findIndex((h) => h.row.line === line);
            if (there >= 0) choose(there);
          }}
          onadd={() =>
            void opened.act(() =>
              api.planAct(manualId, writer, {
                do: 'addDivision',
                rows: [newId()],
                by: proof.divisions.at(-1)?.id ?? '',
                at: 'Index',
                text: '',
              }),
            )}
        />
        <button class="btn dress" onclick={(e) => (dressing = e.currentTarget)}>How it is set …</button>
      </section>
      <section class="right" aria-label="Locators">
        {#if heading}
          {@const path = heading.path}
          <HeadingActs
            {heading}
            bind:bar
            onask={ask}
            onlift={lift}
            onrespell={(button) => (respelling = button)}
            onsweep={() => startSweep(phraseOf(path), path)}
            ontakeout={() => void act({ do: 'takeOut', heading: path })}
            onmerge={mergeAlike}
            onend={(entry) => void act({ do: 'toSectionEnd', entries: [entry] })}
          />
          <Locators
            bind:this={locators}
            {heading}
            {why}
            {marked}
            onmark={(entry) => (marked.has(entry) ? marked.delete(entry) : marked.add(entry))}
            onprincipal={(l) => void act({ do: l.principal ? 'plain' : 'principal', entries: [l.entry] })}
            onrange={(l) => void act({ do: 'toSectionEnd', entries: [l.entry] })}
            onedit={(l, from) => askMove([l.entry], from)}
            onmove={(from) => (marked.size > 0 ? askMove([...marked], from) : notices.tell('Mark locators with x first.'))}
            ontakeout={(entries) => void act({ do: 'takeOutEntries', entries })}
            ongo={goTo}
            onleave={() => list?.focus()}
          />
        {:else}
          <div class="none">
            <p>
              An index is made of entries in the text. Sweep for a phrase: you see every place where it stands, and take those that matter.
            </p>
            <button class="btn do" onclick={() => startSweep('', [])}>Sweep for a phrase</button>
          </div>
        {/if}
      </section>
      {#if foot}
        <div class="over">
          {#if foot === 'sweep'}
            {#key sweep}
              <SweepPane
                {manualId}
                phrase={sweep.phrase}
                heading={sweep.heading}
                composition={proof.number}
                onact={act}
                ongo={goTo}
                onclose={() => {
                  foot = null;
                  list?.focus();
                }}
              />
            {/key}
          {:else}
            <ProposalsPane
              {proposals}
              ontake={take}
              onshow={show}
              onclose={() => {
                foot = null;
                list?.focus();
              }}
            />
          {/if}
        </div>
      {/if}
    </div>
  {:else}<p class="none soft">Reading the index …</p>{/if}
</ManualScreen>
{#if asking}
  <ActPanel
    {manualId}
    anchor={asking.from}
    label={asking.label}
    does={asking.does}
    text={asking.text}
    {headings}
    order={asking.order}
    onact={async (order) => {
      const back = asking!.back;
      asking = null;
      if (await act(order)) marked.clear();
      (back === 'headings' ? list : locators)?.focus();
    }}
    onclose={() => {
      const back = asking!.back;
      asking = null;
      (back === 'headings' ? list : locators)?.focus();
    }}
  />
{/if}
{#if respelling && heading}
  <Pick
    label="Another form of “{heading.row.text}”"
    choices={respelt(heading.row.text).map((r) => ({ name: r.name, note: r.text, text: r.text }))}
    anchor={respelling}
    onchoose={(r) => {
      const path = heading!.path;
      respelling = null;
      void act({ do: 'move', heading: path, to: [...path.slice(0, -1), r.text] }).then(() => list?.focus());
    }}
    onclose={() => {
      respelling = null;
      list?.focus();
    }}
  />
{/if}
{#if dressing}
  <IndexDressPanel {opened} anchor={dressing} comparing={was !== null} oncompare={() => void compare()} onclose={() => (dressing = null)} />
{/if}

<style>
  .index {
    display: grid;
    grid-template-columns: minmax(220px, 292px) minmax(260px, 1fr) minmax(330px, 1.25fr);
    grid-template-rows: minmax(0, 1fr);
    min-height: 0;
  }
  .index.foot {
    grid-template-rows: minmax(0, 1fr) minmax(220px, 44%);
  }
  .index.comparing {
    grid-template-columns: minmax(200px, 260px) minmax(0, 1fr);
  }
  .comparing .right {
    display: none;
  }
  .comparing .middle {
    grid-template-columns: 1fr 1fr;
  }
  .over {
    grid-column: 1 / -1;
    min-height: 0;
  }
  .left {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr) auto;
    min-height: 0;
    border-right: 1px solid var(--rule);
  }
  .under {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 8px;
    align-items: center;
    padding: 7px 10px;
    border-top: 1px solid var(--rule);
    font-size: 12px;
  }
  .middle {
    position: relative;
    display: grid;
    min-height: 0;
  }
  .dress {
    position: absolute;
    right: 12px;
    bottom: 10px;
  }
  .right {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    min-height: 0;
    border-left: 1px solid var(--rule);
    background: var(--paper);
  }
  .small {
    padding: 2px 8px;
    font-size: 12px;
  }
  .soft {
    color: var(--ink-soft);
    font-size: 12.5px;
  }
  .none {
    display: grid;
    place-content: center;
    justify-items: center;
    gap: 12px;
    padding: 24px;
    text-align: center;
  }
  @media (max-width: 860px) {
    .index,
    .index.foot {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: minmax(240px, 1fr) minmax(240px, 1fr) auto;
      overflow: auto;
    }
    .middle {
      display: none;
    }
  }
</style>
