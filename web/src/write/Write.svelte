<script lang="ts">
  import { untrack } from 'svelte';
  import { MediaQuery } from 'svelte/reactivity';
  import {
    api,
    newId,
    Offline,
    type DeskDivision,
    type DeskManual,
    type DivisionMarks,
    type PlanOrder,
    type ProofDivision,
    type UsePlace,
  } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import TopStrip from '../frame/TopStrip.svelte';
  import ForeEdge from './fore-edge/ForeEdge.svelte';
  import type { DeskClient } from '../live/desk-client.svelte';
  import { LiveProof } from '../live/live-proof.svelte';
  import { writer } from '../live/tab';
  import { sendLeftOver } from '../live/left-over';
  import { divisionsLeftOver, type Unsent } from '../live/unsent';
  import Manuscript, { type CaretPlace } from './manuscript/Manuscript.svelte';
  import Drawers, { drawerKeys, type OpenDrawer } from './Drawers.svelte';
  import FootStrip from './FootStrip.svelte';
  import GoAndDo, { type Deed } from './panels/GoAndDo.svelte';
  import { KeptOnce } from '../kept/kept-once.svelte';
  import type { SeenBy } from './manuscript/applies';
  import Keys from '../frame/Keys.svelte';
  import { keysOfWrite } from './keys-of-write';
  import Produce from './panels/Produce.svelte';
  import Pick from '../ui/Pick.svelte';
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
  /** Who points at a block, and where that was asked. */
  let pointing = $state.raw<{ at: Element; places: UsePlace[] } | null>(null);
  /** Whose view of the text is shown, by name; empty for all there is. */
  let seenAs = $state('');
  let manual = $state.raw<DeskManual | null>(null);
  let division = $state.raw<DeskDivision | null>(null);
  let marks = $state.raw<DivisionMarks | null>(null);
  let client = $state.raw<DeskClient | null>(null);
  let caret = $state.raw<CaretPlace>({ block: '', own: '', typed: 0, path: [], head: null });
  let manuscript = $state<ReturnType<typeof Manuscript>>();
  let sheet = $state(0);
  let going = $state(false);
  let keysShown = $state(false);
  /** The words that are looked for at first. */
  let sought = $state('');
  let missing = $state('');
  // A narrow window shows one part of the screen at a time.
  type Pane = 'fore' | 'text' | 'page';
  const panes: { pane: Pane; name: string }[] = [
    { pane: 'fore', name: 'Divisions' },
    { pane: 'text', name: 'Text' },
    { pane: 'page', name: 'Page' },
  ];
  let pane = $state<Pane>('text');
  let proofWidth = $state(Number(localStorage.getItem('kivren.proof') ?? 476));
  // The fore-edge folds by itself where there is little room, until the writer says otherwise.
  const little = new MediaQuery('max-width: 1180px');
  let foreAsked = $state(localStorage.getItem('kivren.fore'));
  const foreOpen = $derived(foreAsked ? foreAsked === 'open' : !little.current);
  let proofPlace = $state(localStorage.getItem('kivren.proof-place') ?? 'beside');

  function foldFore() {
    foreAsked = foreOpen ? 'folded' : 'open';
    localStorage.setItem('kivren.fore', foreAsked);
  }
  function placeProof(place: 'beside' | 'folded' | 'whole') {
    proofPlace = place;
    localStorage.setItem('kivren.proof-place', place);
  }
  let loads = $state(0);
  let wantedBlock: string | null = null;
  let wantedTyped: number | null = null;

  const here = $derived(proof.divisions.find((d) => d.id === division?.id) ?? null);
  const part = $derived.by(() => {
    const at = proof.divisions.findIndex((d) => d.id === division?.id);
    if (here?.kind !== 'Chapter') return null;
    return proof.divisions.slice(0, at).findLast((d) => d.kind === 'Part') ?? null;
  });
  const loose = $derived(proof.looseEnds.filter((l) => l.division === division?.id));
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
    marks = null;
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

  // The marks of the open division, anew when compositions rest a little, and not long after the first that is not marked:
  // while letters are typed the page comes first. One asking at a time.
  const marksRest = 160;
  const marksLatest = 700;
  let marksWanted = 0;
  let marksTimer: ReturnType<typeof setTimeout> | undefined;
  let askingMarks = false;
  $effect(() => {
    if (!proof.number || !division) return;
    untrack(wantMarks);
  });
  function wantMarks() {
    marksWanted ||= performance.now();
    clearTimeout(marksTimer);
    if (marks === null) void askMarks();
    else marksTimer = setTimeout(() => void askMarks(), Math.max(0, Math.min(marksRest, marksWanted + marksLatest - performance.now())));
  }
  async function askMarks() {
    if (askingMarks || !division) return;
    askingMarks = true;
    marksWanted = 0;
    const asked = division.id;
    const m = await api.marks(manualId, asked).catch(() => null);
    askingMarks = false;
    if (m && division?.id === asked) marks = m;
    if (marksWanted) wantMarks();
  }

  // The proof follows the caret.
  $effect(() => {
    if (!marks || !here) return;
    const found = turnAt(marks.turns, caret, (block) => manuscript?.orderOf(block) ?? -1);
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
      const turn = marks?.turns.find((t) => t.sheet === at);
      if (turn?.block) manuscript?.goToTyped(turn.block, turn.at);
    }
  }

  function goToBlock(block: string, at: number) {
    const d = proof.divisions[at];
    if (d) void openDivision(d.id, block);
  }

  const signsTurned = () =>
    notices.tell(turnSigns() ? 'Quotation marks, dashes and fractions are set as you type.' : 'Everything stays as it is typed, until F6.');

  async function askPointing(target: string, at: Element) {
    try {
      pointing = { at, places: await api.pointing(manualId, target) };
    } catch (e) {
      notices.problem(e);
    }
  }

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

  /** An act on the plan, as the Plan does it. */
  async function act(order: PlanOrder): Promise<boolean> {
    const done = await api.planAct(manualId, writer, order);
    if (done.refused) {
      notices.problem(new Error(done.refused));
      return false;
    }
    proof.expects(done.act);
    return true;
  }

  async function add(kind: string) {
    const id = newId();
    try {
      if (!(await act({ do: 'addDivision', rows: [id], at: kind, text: '', ...(division ? { by: division.id } : {}) }))) return;
      manual = await api.open(manualId);
      await openDivision(id, id + '-1');
    } catch (e) {
      notices.problem(e);
    }
  }

  async function remove(d: ProofDivision) {
    try {
      if (!(await act({ do: 'takeOut', rows: [d.id] }))) return;
      await reopen(false);
      notices.tell(`“${d.title}” was taken out.`, () => void takeBack(false));
    } catch (e) {
      notices.problem(e);
    }
  }

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
      if (await act({ do: 'shorten', rows: [division.id], text: words })) division = { ...division, shortTitle: words || null };
    } catch (e) {
      notices.problem(e);
    }
  }

  async function addRole(name: string, foundation: string): Promise<boolean> {
    try {
      await api.addRole(manualId, name, foundation);
      manual = await api.open(manualId);
      return true;
    } catch (e) {
      notices.problem(e);
      return false;
    }
  }

  async function takeBack(again: boolean) {
    try {
      const done = await api.takeBack(manualId, writer, again);
      if (done.refused.length > 0) notices.problem(new Error(`“${done.label}” cannot be taken back: ${done.refused[0]!.why}`));
      else if (done.act === 0) notices.tell(again ? 'Nothing to do again.' : 'Nothing to take back.');
      else {
        notices.tell(`${again ? 'Done again' : 'Taken back'}: ${done.label}`);
        await reopen();
      }
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
    { name: 'Fold the divisions, or open them', key: 'F2', run: foldFore },
    { name: 'Fold the proof, or open it', key: 'F8', run: () => placeProof(proofPlace === 'folded' ? 'beside' : 'folded') },
    { name: 'Proof over the whole window, or beside', key: 'Shift F8', run: () => placeProof(proofPlace === 'whole' ? 'beside' : 'whole') },
    { name: 'Keys of this screen', key: 'Ctrl /', run: () => (keysShown = true) },
  ];

  function key(event: KeyboardEvent) {
    if (event.ctrlKey && event.key.toLowerCase() === 'k') {
      going = true;
      event.preventDefault();
    } else if (event.ctrlKey && !event.shiftKey && event.key.toLowerCase() === 'f') {
      find();
      event.preventDefault();
    } else if (event.altKey && event.key === 'ArrowLeft') {
      if (goBack()) event.preventDefault();
    } else if (drawerKeys[event.key]) {
      open = drawerKeys[event.key]!;
      event.preventDefault();
    } else if (event.key === 'F6') {
      signsTurned();
      event.preventDefault();
    } else if (event.key === 'F2') foldFore();
    else if (event.key === 'F8')
      placeProof(event.shiftKey ? (proofPlace === 'whole' ? 'beside' : 'whole') : proofPlace === 'folded' ? 'beside' : 'folded');
    else if (event.ctrlKey && event.key === '/') keysShown = true;
    else if (event.key === '?' && !(event.target as HTMLElement).closest('input,textarea,[contenteditable]')) keysShown = true;
  }

  function resize(event: PointerEvent) {
    const start = event.clientX;
    const width = proofWidth;
    const move = (e: PointerEvent) => (proofWidth = Math.max(300, Math.min(window.innerWidth - 620, width + start - e.clientX)));
    const up = () => {
      localStorage.setItem('kivren.proof', String(proofWidth));
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
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
      {#each panes as p (p.pane)}<button aria-pressed={pane === p.pane} onclick={() => (pane = p.pane)}>{p.name}</button>{/each}
    </div>
    <div class="produce" data-deed="produce"><Produce {manualId} {proof} /></div>
  </TopStrip>
  {#if missing}
    <main class="missing">
      <p>{missing}</p>
      <button class="btn" onclick={() => route.shelf()}>Open the shelf</button>
    </main>
  {:else}
    <main
      class="panes {pane}"
      class:folded={!foreOpen}
      class:whole={proofPlace === 'whole'}
      class:folded-proof={proofPlace === 'folded'}
      style:--proof="{proofWidth}px"
    >
      {#if !foreOpen}<button class="tab" title="Open the divisions (F2)" onclick={foldFore}>Divisions</button>{/if}
      <ForeEdge
        divisions={proof.divisions}
        pages={proof.pages}
        looseEnds={proof.looseEnds}
        current={division?.id ?? null}
        {sheet}
        head={caret.head}
        ongo={(d, block) => {
          pane = 'text';
          void openDivision(d, block);
        }}
        onadd={add}
        ondelete={remove}
        onfold={foldFore}
      />
      {#if division}
        {#key loads}
          <Manuscript
            bind:this={manuscript}
            {manualId}
            {division}
            number={here?.number ?? ''}
            {marks}
            looseEnds={loose}
            variables={kept.now.variables.map((v) => v.name)}
            {kept}
            onkept={() => (open = 'kept')}
            {seenBy}
            over={seers.length > 0 ? seen : undefined}
            roles={manual?.roles ?? []}
            onrole={addRole}
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
            onpointed={askPointing}
            onstored={(act) => proof.expects(act)}
          />
        {/key}
      {:else}<div></div>{/if}
      <div class="divider" role="separator" aria-orientation="vertical" aria-label="Width of the proof" onpointerdown={resize}></div>
      {#if proofPlace === 'folded'}<button class="tab" title="Open the proof (F8)" onclick={() => placeProof('beside')}>Proof</button>{/if}
      <Proof
        place={proofPlace}
        onplace={placeProof}
        {manualId}
        {proof}
        {sheet}
        block={caret.block}
        onpage={goToSheet}
        onblock={(block, at) => {
          pane = 'text';
          goToBlock(block, at);
        }}
      />
    </main>
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
  {#if pointing}
    <Pick
      label="Who points here"
      choices={pointing.places.map((p) => ({ name: `${p.title}: ${p.words || '…'}`, place: p }))}
      anchor={pointing.at}
      onchoose={({ place }) => {
        pointing = null;
        void openDivision(place.division, place.block);
      }}
      onclose={() => {
        pointing = null;
        manuscript?.focus();
      }}
    />
  {/if}
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
    grid-template-rows: 44px minmax(0, 1fr) 28px;
    height: 100%;
  }
  .m {
    color: var(--madder);
  }
  .produce {
    display: flex;
    gap: 8px;
    align-items: center;
    white-space: nowrap;
  }
  main {
    display: grid;
    min-height: 0;
  }
  .panes {
    --fore: 212px;
    /* The text keeps some 60 letters a line whatever width the proof was given; in a window with less room, 45. */
    --beside: min(var(--proof), max(100vw - var(--fore) - 676px, 31vw));
    grid-template-columns: var(--fore) minmax(0, 1fr) 5px var(--beside);
  }
  .panes.folded {
    --fore: 27px;
  }
  .panes:is(.folded, .whole) > :global(.fore),
  .panes.folded.whole > .tab:first-child,
  .panes:is(.folded-proof, .whole) > .divider,
  .panes.whole > :global(.scroll) {
    display: none;
  }
  .panes.folded-proof {
    grid-template-columns: var(--fore) minmax(0, 1fr) 27px;
  }
  .panes.folded-proof > :global(.proof) {
    display: none;
  }
  .panes.whole {
    grid-template-columns: minmax(0, 1fr);
  }
  .tab {
    writing-mode: vertical-rl;
    padding: 14px 4px;
    text-align: left;
    background: var(--board);
    border-inline: 1px solid var(--rule);
    color: var(--ink-soft);
    font-size: 12px;
    cursor: pointer;
  }
  .tab:hover {
    background: var(--bottle-tint);
    color: var(--ink);
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
  .divider {
    cursor: col-resize;
    background: var(--board);
  }
  .divider:hover {
    background: var(--bottle-tint);
  }
  @media (max-width: 860px) {
    .screen {
      grid-template-rows: auto minmax(0, 1fr) auto;
    }
    .which {
      display: flex;
      margin-left: auto;
    }
    .panes,
    .panes.folded-proof {
      grid-template-columns: minmax(0, 1fr);
    }
    .panes > :global(*) {
      display: none;
    }
    .panes.fore > :global(.fore),
    .panes.text > :global(.scroll),
    .panes.page > :global(.proof) {
      display: grid;
    }
    .panes.text > :global(.scroll) {
      display: block;
    }
    .panes.fore > :global(.fore) {
      display: flex;
    }
  }
</style>
