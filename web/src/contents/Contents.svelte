<script lang="ts">
  // Contents lists: which there are, each edited on one composed sample line per level, with the whole list beside.
  import ManualScreen from '../frame/ManualScreen.svelte';
  import { OpenedManual } from '../live/opened-manual.svelte';
  import { writer } from '../live/tab';
  import { api, newId, type ListLooked, type ListOrder, type ListsView } from '../shared/api';
  import { loadFaces } from '../shared/faces';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import AskWords from '../ui/AskWords.svelte';
  import Pick from '../ui/Pick.svelte';
  import { keysOfContents } from './keys-of-contents';
  import Level from './Level.svelte';
  import { listTitle } from './list-titles';
  import { furtherLine, type OwnList, type OwnListLine, type Piece } from './own-list';
  import WholeList from './WholeList.svelte';

  interface Props {
    manualId: string;
  }
  let { manualId }: Props = $props();

  // svelte-ignore state_referenced_locally
  const opened = new OpenedManual(manualId);
  const proof = opened.proof;
  let view = $state.raw<ListsView | null>(null);
  let name = $state('');
  let looked = $state.raw<ListLooked | null>(null);
  let open = $state.raw<{ level: number; piece: Piece } | null>(null);
  let asking = $state.raw<{ kind: 'new' | 'rename' | 'copy' | 'place'; at: Element } | null>(null);

  const listed = $derived(view?.lists.find((l) => l.name === name));
  const list = $derived(listed ? (JSON.parse(listed.definition) as OwnList) : null);
  const scopes = { manual: 'the whole manual', part: 'the part it stands in', division: 'the division it stands in' };

  void opened.start();
  void loadFaces();
  $effect(() => () => opened.stop());
  route.begin();

  let reading = false;
  $effect(() => {
    if (opened.overtakes(view?.composition) && !reading) void read();
  });
  async function read() {
    reading = true;
    try {
      do {
        view = await api.lists(manualId);
        if (!view.lists.some((l) => l.name === name)) name = view.lists[0]?.name ?? '';
        await look();
      } while (view.composition < proof.number);
    } catch (e) {
      notices.problem(e);
    } finally {
      reading = false;
    }
  }
  async function look() {
    const asked = name;
    const found = asked ? await api.list(manualId, asked).catch(() => null) : null;
    if (asked === name) looked = found;
  }

  async function choose(next: string) {
    name = next;
    open = null;
    looked = null;
    await look();
  }

  const act = (order: ListOrder) => opened.act(() => api.listAct(manualId, writer, order));

  async function keep(next: OwnList, was?: string) {
    return act({ do: 'keep', definition: JSON.stringify(next), ...(was ? { name: was } : {}) });
  }

  function change(index: number, line: OwnListLine) {
    if (list) void keep({ ...list, lines: list.lines.map((l, i) => (i === index ? line : l)) });
  }

  function moveLevel(index: number, by: 1 | -1) {
    if (!list) return;
    const lines = [...list.lines];
    const [line] = lines.splice(index, 1);
    lines.splice(index + by, 0, line!);
    open = null;
    void keep({ ...list, lines });
  }

  function addLevel() {
    if (!list || !view) return;
    // The first thing that no level takes yet.
    const taken = new Set(list.lines.map((l) => `${l.takes}:${l.level ?? l.divisions.join()}`.toLowerCase()));
    const kind =
      view.kinds.find((k) => k.takes === 'Head' && !taken.has(`head:${k.kind}`.toLowerCase())) ??
      view.kinds.find((k) => !taken.has(`${k.takes}:${k.kind}`.toLowerCase())) ??
      view.kinds[0];
    if (kind) void keep({ ...list, lines: [...list.lines, furtherLine(list, kind.takes, kind.kind)] });
  }

  async function add(named: string) {
    asking = null;
    if (!named) return;
    const like = list ?? (view?.lists[0] ? (JSON.parse(view.lists[0].definition) as OwnList) : null);
    if (!like) return;
    if (view?.lists.some((l) => l.name === named)) return notices.problem(new Error(`There is a list “${named}” already.`));
    if (await keep({ ...like, name: named, mostPages: 0 })) {
      await read();
      await choose(named);
    }
  }

  async function rename(to: string) {
    asking = null;
    if (!list || !to || to === list.name) return;
    if (await keep({ ...list, name: to }, list.name)) {
      name = to;
      await read();
    }
  }

  /** Lists of all looks, to be copied. */
  const copies = $derived(
    (view?.looks ?? []).flatMap((l) =>
      l.lists.map((json) => {
        const definition = JSON.parse(json) as OwnList;
        return { name: `${listTitle(definition.name)}, as in ${l.name}`, definition };
      }),
    ),
  );

  async function copy(definition: OwnList) {
    asking = null;
    if (await keep(definition)) {
      await read();
      await choose(definition.name);
    }
  }

  /** Pages of its own for the list, in front matter. */
  function placePages() {
    if (!list) return;
    const front = proof.divisions.findLast((d) => ['Contents', 'Legal', 'TitlePage', 'HalfTitle'].includes(d.kind));
    void opened.act(() =>
      api.planAct(manualId, writer, {
        do: 'addDivision',
        rows: [newId()],
        by: front?.id ?? proof.divisions[0]?.id ?? '',
        at: `Contents:${list.name}`,
        text: listTitle(list.name),
      }),
    );
  }

  const number = (value: string, most: number) => Math.min(most, Math.max(0, Number(value.replace(',', '.')) || 0));
  const heads = $derived(new Set(proof.divisions.flatMap((d) => [d.id, ...d.heads.map((h) => h.id)])));

  function walk(event: KeyboardEvent) {
    if (!view || (event.key !== 'ArrowDown' && event.key !== 'ArrowUp')) return;
    const at = view.lists.findIndex((l) => l.name === name) + (event.key === 'ArrowDown' ? 1 : -1);
    const next = view.lists[at];
    if (!next) return;
    event.preventDefault();
    void choose(next.name);
    (event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('button.list')[at]?.focus();
  }
</script>

<ManualScreen {opened} view="contents" keys={keysOfContents} where={listTitle(name)}>
  {#if view && list && listed}
    <div class="contents">
      <div class="lists" role="toolbar" aria-orientation="vertical" aria-label="Lists" tabindex="-1" onkeydown={walk}>
        {#each view.lists as l (l.name)}
          <button
            class="list"
            class:on={l.name === name}
            aria-current={l.name === name ? 'true' : undefined}
            onclick={() => void choose(l.name)}
          >
            <span>{listTitle(l.name)}</span>
            <i>{l.entries} {l.entries === 1 ? 'line' : 'lines'}{l.places.length === 0 ? ' · stands nowhere' : ''}</i>
            {#if l.own}<i class="own">{l.ofLook ? 'changed here' : 'of this manual'}</i>{/if}
          </button>
        {/each}
        <div class="acts">
          <button class="btn small" onclick={(e) => (asking = { kind: 'new', at: e.currentTarget })}>New list …</button>
          <button class="btn small" onclick={(e) => (asking = { kind: 'copy', at: e.currentTarget })}>Copy from a look …</button>
        </div>
        <label class="switch"
          ><input
            type="checkbox"
            checked={view.chapterContents !== null}
            onchange={(e) => void act({ do: 'openChapters', name: e.currentTarget.checked ? 'division' : null })}
          /> every chapter opens with its own contents</label
        >
        {#if view.chapterContents !== null}
          <label class="switch soft"
            >by the list <select
              class="field"
              value={view.chapterContents}
              onchange={(e) => void act({ do: 'openChapters', name: e.currentTarget.value })}
              >{#each view.lists as l (l.name)}<option value={l.name}>{listTitle(l.name)}</option>{/each}</select
            ></label
          >
        {/if}
      </div>
      <section class="definition" aria-label="Levels of {listTitle(name)}">
        <header>
          <h2>{listTitle(name)}</h2>
          <button class="btn small" onclick={(e) => (asking = { kind: 'rename', at: e.currentTarget })}>Rename …</button>
          {#if listed.places.length === 0}<button class="btn do small" onclick={placePages}>Put it on pages of its own</button>{/if}
          {#if listed.own}<button class="btn small" onclick={() => void act({ do: 'takeOut', name })}
              >{listed.ofLook ? 'As the look has it' : 'Take the list out'}</button
            >{/if}
        </header>
        <div class="about">
          <label
            >lists <select
              class="field"
              value={list.scope}
              onchange={(e) => void keep({ ...list!, scope: e.currentTarget.value as OwnList['scope'] })}
              >{#each Object.entries(scopes) as [scope, words] (scope)}<option value={scope}>{words}</option>{/each}</select
            ></label
          >
          <label
            ><input type="checkbox" checked={list.sorted} onchange={(e) => void keep({ ...list!, sorted: e.currentTarget.checked })} /> sorted
            by title</label
          >
          <label
            >folios in <input
              class="field n"
              value={list.folioColumn}
              onchange={(e) => void keep({ ...list!, folioColumn: number(e.currentTarget.value, 200) })}
            /> pt</label
          >
          <label
            >at most <input
              class="field n"
              value={list.mostPages || ''}
              placeholder="any"
              onchange={(e) => void keep({ ...list!, mostPages: Math.round(number(e.currentTarget.value, 1000)) })}
            /> pages</label
          >
        </div>
        {#each list.lines as line, i (i)}
          <Level
            {line}
            index={i}
            sample={looked?.samples.find((s) => s.level === i)}
            kinds={view.kinds}
            piece={open?.level === i ? open.piece : null}
            last={i === list.lines.length - 1}
            onpiece={(piece) => (open = piece ? { level: i, piece } : null)}
            onchange={(next) => change(i, next)}
            onmove={(by) => moveLevel(i, by)}
            ontakeout={() => {
              open = null;
              if (list!.lines.length === 1) notices.tell('A list has one level at least.');
              else void keep({ ...list!, lines: list!.lines.filter((_, at) => at !== i) });
            }}
          />
        {/each}
        <button class="btn" onclick={addLevel}>Add a level</button>
      </section>
      {#if looked}
        <WholeList
          {proof}
          list={listed}
          {looked}
          indents={list.lines.map((l) => l.indent)}
          ongo={(l) => route.manual(manualId, l.division, l.target === l.division ? null : l.target)}
          canRename={(l) =>
            heads.has(l.target) || (notices.tell('Only titles of divisions and heads are changed from here; Enter goes there.'), false)}
          onrename={(l, title) => void opened.act(() => api.planAct(manualId, writer, { do: 'rename', rows: [l.target], text: title }))}
        />
      {/if}
    </div>
  {:else}<p class="none">Reading the lists …</p>{/if}
</ManualScreen>
{#if asking?.kind === 'new'}
  <AskWords
    label="Name of the new list"
    text=""
    does="add it, like the one shown"
    anchor={asking.at}
    onchoose={(n) => void add(n)}
    onclose={() => (asking = null)}
  />
{:else if asking?.kind === 'rename'}
  <AskWords
    label="Name of the list"
    text={name}
    does="rename"
    anchor={asking.at}
    onchoose={(n) => void rename(n)}
    onclose={() => (asking = null)}
  />
{:else if asking?.kind === 'copy'}
  <Pick
    label="List to copy"
    choices={copies}
    anchor={asking.at}
    onchoose={(c) => void copy(c.definition)}
    onclose={() => (asking = null)}
  />
{/if}

<style>
  .contents {
    display: grid;
    grid-template-columns: minmax(190px, 240px) minmax(360px, 1.1fr) minmax(300px, 1fr);
    min-height: 0;
  }
  .lists {
    display: flex;
    flex-direction: column;
    overflow: auto;
    padding: 8px 0;
    border-right: 1px solid var(--rule);
  }
  .list {
    display: grid;
    padding: 6px 14px;
    text-align: left;
    border-left: 3px solid transparent;
    cursor: pointer;
  }
  .list.on {
    background: var(--bottle-tint);
    border-left-color: var(--bottle);
    font-weight: 600;
  }
  .list i {
    font-style: normal;
    font-weight: 400;
    font-size: 11.5px;
    color: var(--ink-soft);
  }
  .list .own {
    color: var(--bottle);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    padding: 10px 12px;
  }
  .switch {
    padding: 6px 14px;
    font-size: 12.5px;
  }
  .definition {
    overflow: auto;
    padding: 8px 18px 24px;
    background: var(--board);
  }
  .definition header {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 10px;
  }
  h2 {
    font: 500 20px/1.4 var(--text);
  }
  .about {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 16px;
    padding: 6px 0 8px;
    border-bottom: 1px solid var(--rule);
    font-size: 12.5px;
  }
  .about label {
    display: inline-flex;
    align-items: center;
    gap: 5px;
  }
  .about .field,
  .switch .field {
    width: auto;
    padding: 2px 6px;
    font-size: 12.5px;
  }
  .about .n {
    width: 54px;
  }
  .definition > .btn {
    margin-top: 12px;
  }
  .small {
    padding: 2px 9px;
    font-size: 12px;
  }
  .soft {
    color: var(--ink-soft);
  }
  .none {
    padding: 24px;
    color: var(--ink-soft);
  }
  @media (max-width: 1000px) {
    .contents {
      grid-template-columns: minmax(170px, 200px) minmax(0, 1fr);
      grid-template-rows: minmax(0, 1fr) minmax(0, 1fr);
    }
    .lists {
      grid-row: 1 / 3;
    }
  }
  @media (max-width: 620px) {
    .contents {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto;
      overflow: auto;
    }
    .lists {
      grid-row: auto;
      max-height: 180px;
    }
  }
</style>
