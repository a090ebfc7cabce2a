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
    type LooseEnd,
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
  import GoAndDo, { type Deed } from './panels/GoAndDo.svelte';
  import Find from './panels/Find.svelte';
  import KeptDrawer from '../kept/KeptDrawer.svelte';
  import { KeptOnce } from '../kept/kept-once.svelte';
  import type { SeenBy } from './manuscript/applies';
  import Keys from '../frame/Keys.svelte';
  import { keysOfWrite } from './keys-of-write';
  import LooseEnds from '../frame/LooseEnds.svelte';
  import History from './panels/History.svelte';
  import Notes from './panels/Notes.svelte';
  import PicturesDrawer from './panels/PicturesDrawer.svelte';
  import Produce from './panels/Produce.svelte';
  import Pick from '../ui/Pick.svelte';
  import Proof from './proof/Proof.svelte';
  import SpellingDrawer from './spelling/SpellingDrawer.svelte';
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
  let keptOpen = $state(false);
  let historyOpen = $state(false);
  let notesOpen = $state(false);
  let spellingOpen = $state(false);
  let picturesOpen = $state(false);
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
  let drawer = $state(false);
  let going = $state(false);
  let keysShown = $state(false);
  /** The words that are looked for at first; null while nothing is. */
  let finding = $state<string | null>(null);
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
  const saveWords = $derived(
    {
      saved: 'Saved',
      saving: 'Saving…',
      offline: 'Offline: kept in this browser, sent when the server is back',
      refused: 'Not all is stored',
    }[client?.state ?? 'saved'],
  );
  const asides = $derived(client ? [...client.unstored.keys()] : []);
  const boths = $derived(client ? [...client.both] : []);
  const others = $derived.by(() => {
    const here = proof.others.filter((o) => o.division === division?.id).length;
    const all = proof.others.length;
    if (all === 0) return '';
    const places = [...new Set(proof.others.map((o) => proof.divisions.find((d) => d.id === o.division)?.title).filter(Boolean))];
    return `${all === 1 ? '1 other writer' : `${all} other writers`} ${here === all ? 'in this division' : places.length > 0 ? 'in ' + places.join(', ') : 'here'}`;
  });

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

  // The marks of the open division, anew with each composition; after its page is drawn, and one asking at a time.
  let marksOf: { id: string; number: number } | null = null;
  let askingMarks = false;
  $effect(() => {
    if (!proof.number || !division) return;
    marksOf = { id: division.id, number: proof.number };
    untrack(() => void askMarks(marks === null ? 0 : 80));
  });
  async function askMarks(wait: number) {
    if (askingMarks) return;
    askingMarks = true;
    try {
      while (marksOf) {
        if (wait > 0) await new Promise((then) => setTimeout(then, wait));
        const asked: typeof marksOf = marksOf;
        marksOf = null;
        const m = await api.marks(manualId, asked.id).catch(() => null);
        if (m && division?.id === asked.id) marks = m;
      }
    } finally {
      askingMarks = false;
    }
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

  /** The drawers stand in one place, one at a time. */
  function closeDrawers() {
    drawer = keptOpen = historyOpen = notesOpen = spellingOpen = picturesOpen = false;
    finding = null;
  }

  function openKept() {
    closeDrawers();
    keptOpen = true;
  }

  function openPictures() {
    closeDrawers();
    picturesOpen = true;
  }

  async function askPointing(target: string, at: Element) {
    try {
      pointing = { at, places: await api.pointing(manualId, target) };
    } catch (e) {
      notices.problem(e);
    }
  }

  function openSpelling() {
    closeDrawers();
    spellingOpen = true;
  }

  function openNotes() {
    closeDrawers();
    notesOpen = true;
  }

  function openHistory() {
    closeDrawers();
    historyOpen = true;
  }

  /** As whom the text can be seen: by each edition, and by each value of each condition. */
  const seers = $derived<SeenBy[]>([
    ...kept.now.editions.filter((e) => Object.keys(e.chosen).length > 0),
    ...kept.now.conditions.flatMap((c) => c.values.map((v) => ({ name: `${c.axis} ${v.name}`, chosen: { [c.axis]: [v.name] } }))),
  ]);
  const seenBy = $derived(seers.find((s) => s.name === seenAs) ?? null);

  function find() {
    closeDrawers();
    finding = manuscript?.chosenWords() ?? '';
  }

  /** Waits until all that is typed here is stored. */
  async function allStored() {
    client?.hurry();
    for (let tries = 0; client && client.state === 'saving' && tries < 100; tries++) await new Promise((then) => setTimeout(then, 50));
    if (client && client.state !== 'saved') throw new Error('What you typed is not stored yet; nothing was done.');
  }

  /** Where references were followed from, for the way back. */
  let wayBack: { division: string; block: string }[] = [];

  async function follow(target: string) {
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

  function goToLooseEnd(l: LooseEnd) {
    void openDivision(l.division, l.block === l.division ? null : l.block);
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
    { name: 'Variables, conditions, passages', key: 'F4', run: () => openKept() },
    { name: 'Typographic signs as they are typed, or not', key: 'F6', run: signsTurned },
    { name: 'History of the block, the division, the manual', key: 'F7', run: openHistory },
    { name: 'Notes to colleagues', key: 'F9', run: openNotes },
    { name: 'Spelling of this division', key: 'F10', run: openSpelling },
    { name: 'Pictures of the manual', key: 'F3', run: openPictures },
    { name: 'Show loose ends', key: '', run: () => (drawer = true) },
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
    } else if (event.key === 'F4') {
      openKept();
      event.preventDefault();
    } else if (event.key === 'F10') {
      openSpelling();
      event.preventDefault();
    } else if (event.key === 'F3') {
      openPictures();
      event.preventDefault();
    } else if (event.key === 'F9') {
      openNotes();
      event.preventDefault();
    } else if (event.key === 'F7') {
      openHistory();
      event.preventDefault();
    } else if (event.key === 'F6') {
      signsTurned();
      event.preventDefault();
    } else if (event.key === 'F2') foldFore();
    else if (event.key === 'F8')
      placeProof(event.shiftKey ? (proofPlace === 'whole' ? 'beside' : 'whole') : proofPlace === 'folded' ? 'beside' : 'folded');
    else if (event.ctrlKey && event.key === '/') keysShown = true;
    else if (event.key === '?' && !(event.target as HTMLElement).closest('input,textarea,[contenteditable]')) keysShown = true;
    else if (event.key === 'Escape') drawer = false;
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
  <TopStrip {manualId} view="write" title={manual?.title ?? ''} {proof} moving={proof.composing || client?.state === 'saving'} bind:drawer>
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
            onkept={openKept}
            {seenBy}
            over={seers.length > 0 ? seen : undefined}
            roles={manual?.roles ?? []}
            onrole={addRole}
            oncaret={(place) => {
              caret = place;
              if (division) proof.here(division.id, place.block);
            }}
            {onclient}
            ontitled={titled}
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
  <footer>
    <span class="path">
      {#if part}{part.number} {part.title} ›{/if}
      <b>{here ? `${here.number ? here.number + ' ' : ''}${here.title}` : ''}</b>{#each caret.path as step, i (i)}<span>&nbsp;› {step}</span
        >{/each}
    </span>
    {#if proof.effectWords}<span data-effect>Last change: {proof.effectWords}</span>{/if}
    {#if others}<span class="others" data-others>{others}</span>{/if}
    {#if proof.late}<span class="m">{proof.late}</span>{/if}
    {#if leftElsewhere.length > 0}<button class="way m" onclick={() => void openDivision(leftElsewhere[0]!)}
        >Words of an earlier visit are not stored yet</button
      >{/if}
    {#if boths.length > 0}<button
        class="way m"
        data-both
        onclick={() => {
          manuscript?.goTo(boths[0]!);
          client?.sawBoth(boths[0]!);
        }}>Two texts stand in one place</button
      >{/if}
    {#if client?.unkept}<span class="m">This browser keeps nothing: do not close it before all is saved</span>{/if}
    {#if asides.length > 0}<button class="way save refused" data-save="refused" onclick={() => manuscript?.goTo(asides[0]!)}
        >{saveWords}</button
      >
    {:else}<span class="save {client?.state ?? 'saved'}" role="status" data-save={client?.state ?? 'saved'}>{saveWords}</span>{/if}
  </footer>
  {#if drawer}
    <LooseEnds
      looseEnds={proof.looseEnds}
      divisions={proof.divisions}
      pages={proof.pages}
      ongo={goToLooseEnd}
      onclose={() => (drawer = false)}
    />
  {/if}
  {#if keptOpen}
    <KeptDrawer
      {kept}
      ongo={(id, block) => {
        const at = passageUseOf(id);
        void openDivision(at?.division ?? id, at?.block ?? block);
      }}
      onclose={() => {
        keptOpen = false;
        manuscript?.focus();
      }}
    />
  {/if}
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
  {#if picturesOpen}
    <PicturesDrawer
      {manualId}
      {kept}
      ongo={(id, block) => void openDivision(id, block)}
      onreplaced={() => void reopen()}
      onclose={() => {
        picturesOpen = false;
        manuscript?.focus();
      }}
    />
  {/if}
  {#if spellingOpen && manuscript}
    <SpellingDrawer
      check={manuscript.spellCheck()}
      accepted={kept.now.acceptedWords}
      ongo={(word) => manuscript?.goToWord(word)}
      onreplace={(word, by) => manuscript?.replaceWord(word, by)}
      onaccept={(word, right) => void kept.act({ do: right ? 'acceptWord' : 'refuseWord', name: word })}
      onclose={() => {
        spellingOpen = false;
        manuscript?.focus();
      }}
    />
  {/if}
  {#if notesOpen}
    <Notes
      {manualId}
      divisions={proof.divisions}
      number={proof.number}
      ongo={(id, note) => void openDivision(id, note)}
      onclose={() => {
        notesOpen = false;
        manuscript?.focus();
      }}
    />
  {/if}
  {#if historyOpen && division}
    <History
      {manualId}
      divisions={proof.divisions}
      division={division.id}
      block={caret.own}
      ongo={(id, block) => void openDivision(id, block)}
      onbefore={allStored}
      onrestored={(act) => {
        proof.expects(act);
        void reopen();
      }}
      ontakeback={() => void takeBack(false)}
      onclose={() => {
        historyOpen = false;
        manuscript?.focus();
      }}
    />
  {/if}
  {#if finding !== null}
    <Find
      {manualId}
      divisions={proof.divisions}
      division={division?.id ?? null}
      words={finding}
      ongo={(id, block) => void openDivision(id, block)}
      onbefore={allStored}
      onreplaced={(act) => {
        proof.expects(act);
        void reopen();
      }}
      ontakeback={() => void takeBack(false)}
      onclose={() => (finding = null)}
    />
  {/if}
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
  footer {
    contain: strict;
    display: flex;
    align-items: center;
    gap: 20px;
    padding: 0 14px;
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
  .path,
  footer [data-effect] {
    overflow: hidden;
    text-overflow: ellipsis;
    min-width: 0;
  }
  footer :is(.others, .way, .m, .save) {
    flex: none;
  }
  .save {
    margin-left: auto;
  }
  .save.offline,
  .save.refused {
    color: var(--madder);
    font-weight: 600;
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
    footer {
      contain: none;
      flex-wrap: wrap;
      gap: 0 16px;
      padding: 4px 10px;
    }
    footer [data-effect] {
      display: none;
    }
  }
</style>
