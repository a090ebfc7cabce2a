<script lang="ts">
  import { untrack } from 'svelte';
  import { api, Offline, type DeskDivision, type DeskManual } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import TopStrip from '../frame/TopStrip.svelte';
  import ForeEdge from './fore-edge/ForeEdge.svelte';
  import type { DeskClient } from '../live/desk-client.svelte';
  import { LiveProof } from '../live/live-proof.svelte';
  import { writer } from '../live/tab';
  import { sendLeftOver } from '../live/left-over';
  import { divisionsLeftOver, type Unsent } from '../live/unsent';
  import type { CaretPlace } from './manuscript/caret-place';
  import Manuscript from './manuscript/Manuscript.svelte';
  import { DivisionActs } from './division-acts';
  import Drawers, { drawerKeys, type OpenDrawer } from './Drawers.svelte';
  import FootStrip from './FootStrip.svelte';
  import { Marks } from './marks.svelte';
  import ThreePanes from './ThreePanes.svelte';
  import { Panes, panesByName } from './panes.svelte';
  import GoAndDo, { type Deed } from './panels/GoAndDo.svelte';
  import { KeptOnce } from '../kept/kept-once.svelte';
  import type { SeenBy } from './manuscript/applies';
  import Keys from '../frame/Keys.svelte';
  import { keysOfWrite } from './keys-of-write';
  import PointedFrom from './PointedFrom.svelte';
  import Produce from './panels/Produce.svelte';
  import Proof from './proof/Proof.svelte';
  import { turnAt } from './turn-at';
  import { turnSigns } from './manuscript/signs';

  interface Props {
    manualId: string;
  }
  let { manualId }: Props = $props();

  // svelte-ignore state_referenced_locally
  const proof = new LiveProof(manualId);
  // svelte-ignore state_referenced_locally
  const kept = new KeptOnce(
    manualId,
    (act) => {
      proof.expects(act);
      manuscript?.closeUndo();
    },
    () => allStored(),
  );
  /** The drawer over the foot of the screen: one at a time. */
  let open = $state<OpenDrawer | null>(null);
  let pointedFrom = $state<ReturnType<typeof PointedFrom>>();
  /** Whose view of the text is shown, by name; empty for all there is. */
  let seenAs = $state('');
  let manual = $state.raw<DeskManual | null>(null);
  let division = $state.raw<DeskDivision | null>(null);
  // svelte-ignore state_referenced_locally
  const marks = new Marks(manualId);
  let client = $state.raw<DeskClient | null>(null);
  let caret = $state.raw<CaretPlace>({ block: '', own: '', typed: 0, path: [], head: null });
  let manuscript = $state<ReturnType<typeof Manuscript>>();
  let sheet = $state(0);
  let going = $state(false);
  let keysShown = $state(false);
  /** The words that are looked for at first. */
  let sought = $state('');
  let missing = $state('');
  const panes = new Panes();
  let loads = $state(0);
  let wantedBlock: string | null = null;
  let wantedTyped: number | null = null;

  const here = $derived(proof.divisions.find((d) => d.id === division?.id) ?? null);
  const part = $derived.by(() => {
    const at = proof.divisions.findIndex((d) => d.id === division?.id);
    if (here?.kind !== 'Chapter') return null;
    return proof.divisions.slice(0, at).findLast((d) => d.kind === 'Part') ?? null;
  });
  const loose = $derived(proof.told.filter((l) => l.division === division?.id));
  proof.onchanged = (change) => {
    if (change.writer === writer) return;
    kept.changedElsewhere(change);
    if (change.divisions) void reopen();
    else manuscript?.changedElsewhere(change);
  };
  // What was told while the server was away was not heard: the division is read again, under what is typed.
  proof.onreconnected = () => {
    client?.hurry();
    void kept.read();
    void catchUp();
  };

  async function catchUp() {
    if (!division || !manuscript) return;
    try {
      const now = await api.division(manualId, division.id);
      const blocks = (now.blocks ?? []).map((b, i, all) => ({ ...b, division: now.id, after: all[i - 1]?.id ?? '' }));
      manuscript.changedElsewhere({ writer: '', blocks, divisions: false });
    } catch {
      // It goes away with the next act that cannot be stored, or comes with the next notice.
    }
  }

  async function start() {
    try {
      manual = await api.open(manualId);
      void kept.read();
      void kept.readShelf();
      const wanted = route.place.division ?? localStorage.getItem(`kivren.at.${manualId}`);
      const first =
        manual.divisions.find((d) => d.id === wanted) ?? manual.divisions.find((d) => d.kind === 'Chapter') ?? manual.divisions[0];
      const goto = sessionStorage.getItem('kivren.goto');
      sessionStorage.removeItem('kivren.goto');
      if (first) await openDivision(first.id, goto);
      void proof.start();
      proof.output = (await api.outputs(manualId))[0] ?? null;
    } catch (e) {
      if (division) return; // the text is here; the rest comes when the server is back
      if (e instanceof Offline) {
        missing = 'The server cannot be reached. What you wrote is kept in this browser; this page tries again by itself.';
        setTimeout(start, 1500);
        return;
      }
      missing = e instanceof Error ? e.message : String(e);
      return;
    }
    missing = '';
  }
  void start();

  // Another division in the address, typed there or taken from a link, is gone to.
  $effect(() => {
    const wanted = route.place.division;
    untrack(() => {
      if (wanted && division && wanted !== division.id && manual?.divisions.some((d) => d.id === wanted)) void openDivision(wanted);
    });
  });

  $effect(() => () => {
    client?.close();
    proof.stop();
  });

  let opening = 0;
  /** The division that is open or on its way: reading it again does not lead back to the one before. */
  let goal: string | null = null;
  async function openDivision(id: string, block: string | null = null, typed: number | null = null) {
    goal = id;
    if (division?.id === id) {
      if (typed !== null && block) manuscript?.goToTyped(block, typed);
      else manuscript?.goTo(block);
      return;
    }
    const own = ++opening;
    client?.hurry();
    const unsent = await sendLeftOver(manualId, id);
    const loaded = await api.division(manualId, id);
    if (own !== opening) return;
    left = unsent;
    wantedBlock = block;
    wantedTyped = typed;
    marks.forget();
    division = loaded;
    loads++;
    localStorage.setItem(`kivren.at.${manualId}`, id);
    history.replaceState(null, '', `#/${manualId}/${id}`);
  }
  let left = $state.raw<Unsent[]>([]);

  /** Words left over in other divisions of this manual. */
  let elsewhere = $state.raw<string[]>([]);
  void (async () => (elsewhere = await divisionsLeftOver(manualId).catch(() => [])))();
  const leftElsewhere = $derived(elsewhere.filter((id) => id !== division?.id && proof.divisions.some((d) => d.id === id)));

  /** Reads manual and division again, as after an act that changed divisions. */
  async function reopen(stay = true) {
    try {
      manual = await api.open(manualId);
      const at = division?.id;
      const id = goal ?? at;
      const still = manual.divisions.find((d) => d.id === id) ?? manual.divisions[0];
      if (!still) return;
      division = null;
      await openDivision(still.id, stay && still.id === at ? caret.block : null);
    } catch (e) {
      notices.problem(e);
    }
  }

  $effect(() => {
    if (!proof.number || !division) return;
    const { id } = division;
    untrack(() => marks.want(id));
  });

  // The proof follows the caret.
  $effect(() => {
    if (!marks.now || !here) return;
    const found = turnAt(marks.now.turns, caret, (block) => manuscript?.orderOf(block) ?? -1);
    sheet = found ?? here.firstSheet;
  });

  function onclient(c: DeskClient) {
    client = c;
    elsewhere = elsewhere.filter((id) => id !== c.division);
    if (wantedBlock) {
      const [block, typed] = [wantedBlock, wantedTyped];
      setTimeout(() => (typed !== null ? manuscript?.goToTyped(block, typed) : manuscript?.goTo(block)));
    }
  }

  function goToSheet(at: number) {
    sheet = at;
    const page = proof.pages[at];
    const d = page && proof.divisions[page.division];
    if (!d) return;
    if (d.id !== division?.id) {
      void openDivision(d.id).then(async () => {
        const m = await api.marks(manualId, d.id);
        const turn = m.turns.find((t) => t.sheet === at);
        if (turn?.block) manuscript?.goToTyped(turn.block, turn.at);
      });
    } else {
      const turn = marks.now?.turns.find((t) => t.sheet === at);
      if (turn?.block) manuscript?.goToTyped(turn.block, turn.at);
    }
  }

  function goToBlock(block: string, at: number) {
    const d = proof.divisions[at];
    if (d) void openDivision(d.id, block);
  }

  const signsTurned = () =>
    notices.tell(turnSigns() ? 'Quotation marks, dashes and fractions are set as you type.' : 'Everything stays as it is typed, until F6.');

  /** As whom the text can be seen: by each edition, and by each value of each condition. */
  const seers = $derived<SeenBy[]>([
    ...kept.now.editions.filter((e) => Object.keys(e.chosen).length > 0),
    ...kept.now.conditions.flatMap((c) => c.values.map((v) => ({ name: `${c.axis} ${v.name}`, chosen: { [c.axis]: [v.name] } }))),
  ]);
  const seenBy = $derived(seers.find((s) => s.name === seenAs) ?? null);

  function find() {
    sought = manuscript?.chosenWords() ?? '';
    open = 'find';
  }

  /** Waits until all that is typed here is stored. */
  async function allStored() {
    client?.hurry();
    for (let tries = 0; client && client.state === 'saving' && tries < 100; tries++) await new Promise((then) => setTimeout(then, 50));
    if (client && client.state !== 'saved') throw new Error('What you typed is not stored yet; nothing was done.');
  }

  /** Where references were followed from, for the way back. */
  let wayBack: { division: string; block: string }[] = [];

  async function follow(target: string, manual: string | null = null) {
    if (manual) {
      const there = (await api.targets(manual, '', target).catch(() => []))[0];
      if (!there?.pointed) return notices.tell('What this points at is not on the shelf.');
      return route.manual(manual, there.division, there.id === there.division ? null : there.id);
    }
    const found = (await api.targets(manualId, '', target).catch(() => []))[0];
    if (!found?.pointed || !division) return notices.tell('What this points at is not in the manual.');
    wayBack.push({ division: division.id, block: caret.block });
    await openDivision(found.division, found.id === found.division ? null : found.id);
  }

  function goBack() {
    const from = wayBack.pop();
    if (from) void openDivision(from.division, from.block);
    return from !== undefined;
  }

  /** Where a passage is used first: there its text is seen and typed. */
  const passageUseOf = (id: string) => kept.now.passages.find((p) => p.id === id)?.uses[0] ?? null;

  /** A passage is gone to where it is used. */
  function goFromDrawer(id: string, block: string | null) {
    const use = passageUseOf(id);
    void openDivision(use?.division ?? id, use?.block ?? block);
  }

  // svelte-ignore state_referenced_locally
  const acts = new DivisionActs(manualId, {
    stored: (act) => proof.expects(act),
    reread: async () => void (manual = await api.open(manualId)),
    reopen,
    open: openDivision,
  });
  const takeBack = (again: boolean) => acts.takeBack(again);

  async function titled(title: string, act: number) {
    if (!division) return;
    if (act > 0) division.title = title;
    else notices.problem(new Error('The title could not be changed.'));
    manual = await api.open(manualId).catch(() => manual);
  }

  async function shorten(words: string) {
    if (!division) return;
    try {
      await allStored();
      if (await acts.plan({ do: 'shorten', rows: [division.id], text: words })) division = { ...division, shortTitle: words || null };
    } catch (e) {
      notices.problem(e);
    }
  }

  const deeds: Deed[] = [
    { name: 'Produce PDF', key: '', run: () => document.querySelector<HTMLButtonElement>('[data-deed=produce] .btn:last-child')?.click() },
    { name: 'Find and replace', key: 'Ctrl F', run: find },
    { name: 'Variables, conditions, passages', key: 'F4', run: () => (open = 'kept') },
    { name: 'Typographic signs as they are typed, or not', key: 'F6', run: signsTurned },
    { name: 'History of the block, the division, the manual', key: 'F7', run: () => (open = 'history') },
    { name: 'Notes to colleagues', key: 'F9', run: () => (open = 'notes') },
    { name: 'Spelling of this division', key: 'F10', run: () => (open = 'spelling') },
    { name: 'Pictures of the manual', key: 'F3', run: () => (open = 'pictures') },
    { name: 'Show loose ends', key: '', run: () => (open = 'loose ends') },
    { name: 'Take back the last act', key: 'Ctrl Z', run: () => void takeBack(false) },
    { name: 'Do it again', key: 'Ctrl Y', run: () => void takeBack(true) },
    { name: 'Open the shelf', key: '', run: () => route.shelf() },
    { name: 'Fold the divisions, or open them', key: 'F2', run: panes.foldFore },
    { name: 'Fold the proof, or open it', key: 'F8', run: panes.foldProof },
    { name: 'Proof over the whole window, or beside', key: 'Shift F8', run: panes.spreadProof },
    { name: 'Keys of this screen', key: 'Ctrl /', run: () => (keysShown = true) },
  ];

  function key(event: KeyboardEvent) {
    if (event.ctrlKey && event.key.toLowerCase() === 'k') {
      going = true;
      event.preventDefault();
    } else if (event.ctrlKey && !event.shiftKey && event.key.toLowerCase() === 'f') {
      find();
      event.preventDefault();
    } else if (event.ctrlKey && 'zy'.includes(event.key.toLowerCase()) && event.target === document.body) {
      // The text is being read again, and has the keys again when it is here.
      void takeBack(event.shiftKey || event.key.toLowerCase() === 'y');
      event.preventDefault();
    } else if (event.altKey && event.key === 'ArrowLeft') {
      if (goBack()) event.preventDefault();
    } else if (drawerKeys[event.key]) {
      open = drawerKeys[event.key]!;
      event.preventDefault();
    } else if (event.key === 'F6') {
      signsTurned();
      event.preventDefault();
    } else if (event.key === 'F2') panes.foldFore();
    else if (event.key === 'F8') (event.shiftKey ? panes.spreadProof : panes.foldProof)();
    else if (event.ctrlKey && event.key === '/') keysShown = true;
    else if (event.key === '?' && !(event.target as HTMLElement).closest('input,textarea,[contenteditable]')) keysShown = true;
  }
</script>

{#snippet seen()}
  <select
    class="seen"
    aria-label="Seen as"
    title="The text as a reader of this edition, or with this value, will see it"
    bind:value={seenAs}
  >
    <option value="">all there is</option>
    {#each seers as seer (seer.name)}<option value={seer.name}>as {seer.name}</option>{/each}
  </select>
{/snippet}

<svelte:head><title>{manual?.title ?? 'Kivren'}: Write</title></svelte:head>
<svelte:window
  onkeydown={key}
  ononline={() => client?.hurry()}
  onbeforeunload={(e) => {
    if (client && (client.state === 'refused' || (client.unkept && client.state !== 'saved'))) e.preventDefault();
  }}
/>

<div class="screen">
  <TopStrip
    {manualId}
    view="write"
    title={manual?.title ?? ''}
    {proof}
    moving={proof.composing || client?.state === 'saving'}
    bind:drawer={() => open === 'loose ends', (on) => (open = on ? 'loose ends' : null)}
  >
    <div class="which" role="group" aria-label="Part of the screen">
      {#each panesByName as { pane, name } (pane)}
        <button aria-pressed={panes.shown === pane} onclick={() => (panes.shown = pane)}>{name}</button>
      {/each}
    </div>
    <div class="produce" data-deed="produce"><Produce {manualId} {proof} /></div>
  </TopStrip>
  {#if missing}
    <main class="missing">
      <p>{missing}</p>
      <button class="btn" onclick={() => route.shelf()}>Open the shelf</button>
    </main>
  {:else}
    <ThreePanes {panes}>
      {#snippet fore()}
        <ForeEdge
          divisions={proof.divisions}
          pages={proof.pages}
          looseEnds={proof.told}
          current={division?.id ?? null}
          {sheet}
          head={caret.head}
          ongo={(d, block) => {
            panes.shown = 'text';
            void openDivision(d, block);
          }}
          onadd={(kind) => void acts.add(kind, division?.id ?? null)}
          ondelete={(d) => void acts.remove(d)}
          onfold={panes.foldFore}
        />
      {/snippet}
      {#snippet text()}
        {#if division}
          {#key loads}
            <Manuscript
              bind:this={manuscript}
              {manualId}
              {division}
              number={here?.number ?? ''}
              marks={marks.now}
              looseEnds={loose}
              variables={kept.now.variables.map((v) => v.name)}
              {kept}
              onkept={() => (open = 'kept')}
              {seenBy}
              over={seers.length > 0 ? seen : undefined}
              roles={manual?.roles ?? []}
              onrole={(name, foundation) => acts.addRole(name, foundation)}
              oncaret={(place) => {
                caret = place;
                if (division) proof.here(division.id, place.block.split('/')[0]!);
              }}
              {onclient}
              ontitled={titled}
              onshorten={(words) => void shorten(words)}
              {left}
              ontakeback={takeBack}
              onfind={find}
              onkeys={() => (keysShown = true)}
              onfollow={follow}
              onpointed={(target, at) => void pointedFrom?.ask(target, at)}
              onstored={(act) => proof.expects(act)}
            />
          {/key}
        {:else}<div></div>{/if}
      {/snippet}
      {#snippet page()}
        <Proof
          place={panes.proof}
          onplace={panes.placeProof}
          {manualId}
          {proof}
          {sheet}
          block={caret.block}
          onpage={goToSheet}
          onblock={(block, at) => {
            panes.shown = 'text';
            goToBlock(block, at);
          }}
        />
      {/snippet}
    </ThreePanes>
  {/if}
  <FootStrip
    {proof}
    {client}
    {part}
    {here}
    path={caret.path}
    division={division?.id ?? null}
    {leftElsewhere}
    ongo={(block) => manuscript?.goTo(block)}
    onopen={(id) => void openDivision(id)}
  />
  <PointedFrom bind:this={pointedFrom} {manualId} ongo={(id, block) => void openDivision(id, block)} onleave={() => manuscript?.focus()} />
  <Drawers
    bind:open
    {manualId}
    {proof}
    {kept}
    {manuscript}
    division={division?.id ?? null}
    block={caret.own}
    {sought}
    roles={manual?.roles ?? []}
    ongo={goFromDrawer}
    onbefore={allStored}
    onchanged={(act) => {
      if (act) proof.expects(act);
      void reopen();
    }}
    ontakeback={() => void takeBack(false)}
  />
  {#if going}
    <GoAndDo {manualId} {deeds} pages={proof.pages} onpage={goToSheet} ontarget={follow} onclose={() => (going = false)} />
  {/if}
  {#if keysShown}<Keys keys={keysOfWrite} onclose={() => (keysShown = false)} />{/if}
</div>

<style>
  .screen {
    display: grid;
    grid-template: 44px minmax(0, 1fr) 28px / minmax(0, 1fr);
    height: 100%;
  }
  .produce {
    display: flex;
    gap: 8px;
    align-items: center;
    white-space: nowrap;
  }
  .which {
    display: none;
  }
  .which button {
    padding: 4px 10px;
    color: var(--ink-soft);
    cursor: pointer;
    border-radius: var(--r);
  }
  .which [aria-pressed='true'] {
    background: var(--bottle-tint);
    color: var(--ink);
    font-weight: 600;
  }
  .missing {
    display: grid;
    min-height: 0;
    place-content: center;
    justify-items: center;
    gap: 12px;
    font: 17px/1.5 var(--text);
  }
  .seen {
    max-width: 128px;
    background: none;
    color: var(--ink-soft);
  }
  @media (max-width: 860px) {
    .screen {
      grid-template-rows: auto minmax(0, 1fr) auto;
    }
    .which {
      display: flex;
      margin-left: auto;
    }
  }
</style>
