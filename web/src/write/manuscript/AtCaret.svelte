<script lang="ts">
  // What opens at the caret: what a block is, what is put in, and what is done to something chosen in the line.
  import type { Node } from 'prosemirror-model';
  import { NodeSelection } from 'prosemirror-state';
  import type { EditorView } from 'prosemirror-view';
  import { api, newId, type OwnRole, type PlaceThere } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import type { KeptOnce } from '../../kept/kept-once.svelte';
  import AskWords from '../../ui/AskWords.svelte';
  import Pick from '../../ui/Pick.svelte';
  import type { Anchor } from '../../ui/Popover.svelte';
  import AppliesPanel from '../../kept/AppliesPanel.svelte';
  import AtomBar from '../panels/AtomBar.svelte';
  import EntryPanel, { type NewEntry } from '../panels/EntryPanel.svelte';
  import SettingsPanel from '../panels/SettingsPanel.svelte';
  import NotePanel, { type ColleagueNote } from '../panels/NotePanel.svelte';
  import ReferencePanel from '../../pointing/ReferencePanel.svelte';
  import { putArea } from './figure-areas';
  import { carriersAt, type AppliesCarrier } from './applies';
  import { askAddress, askAnchor, askPassage, askTable, type Asked } from './asking';
  import { chosenAtom, entryOf, type ChosenAtom } from './atoms';
  import { findBlock, selectedBlocks } from './blocks';
  import ListPick from '../panels/ListPick.svelte';
  import NoteBubble from './NoteBubble.svelte';
  import type { NodeViewActs } from './node-views';
  import { behindChosen, entryPut, entryPutAndChosen, settableAt, withAttributes, withSettings } from './chosen';
  import { along, inLine, putIn } from './choices';
  import { makings } from './makings';
  import Pictures from './Pictures.svelte';
  import { putBlock } from './put';
  import type { Role } from './roles';
  import { schema } from './schema';
  import { chosenWords as chosenIn, headingOf, notedWords, selectedWords } from './selected';
  import { attributesOf, settingsOf, valuesOf, type Value } from './settings';
  import WhatThisIs from './WhatThisIs.svelte';

  interface Props {
    manualId: string;
    editor: () => EditorView | null;
    /** The text of a footnote: one line of words, and what can stand among them. */
    isNote?: boolean;
    viewActs: NodeViewActs;
    variables: string[];
    roles: OwnRole[];
    kept?: KeptOnce | undefined;
    /** Opens where variables, conditions and passages are kept. */
    onkept?: (() => void) | undefined;
    /** Opens a passage for typing where it is used. */
    typeIn: (use: string) => void;
    /** Words that a misspelt one may be meant to be. */
    suggest: (word: string) => Promise<string[]>;
    onrole?: ((name: string, foundation: string) => Promise<boolean>) | undefined;
    onfollow?: ((target: string, manual: string | null) => void) | undefined;
    /** What can be chosen otherwise about the marks that went or came with words. */
    alongDeed?: () => { name: string; run: () => void } | null;
    takeBack: () => void;
    doAgain: () => void;
  }
  const own: Props = $props();
  const {
    manualId,
    editor,
    isNote = false,
    viewActs,
    variables,
    roles,
    kept,
    onkept,
    typeIn,
    suggest,
    onrole,
    onfollow,
    alongDeed,
    takeBack,
    doAgain,
  } = $derived(own);

  let panel = $state<null | {
    kind: 'role' | 'put' | 'reference' | 'entry' | 'variable' | 'words' | 'note' | 'settings' | 'applies' | 'passage' | 'list';
    anchor: Anchor;
    /** An index entry over the selected words. */
    over?: boolean;
  }>(null);
  let asked = $state.raw<Asked | null>(null);

  function ask(question: Asked) {
    asked = question;
    panel = { kind: 'words', anchor: atCaret };
  }

  /** The footnote, or the area of a picture, whose words are being typed. */
  let noteOpen = $state.raw<{ id: string; outer: EditorView } | null>(null);
  let bubble = $state<ReturnType<typeof NoteBubble>>();
  export function openNote(id: string) {
    const outer = editor();
    // Letters typed before the bubble has the focus come here again: it is not opened anew.
    if (noteOpen?.id !== id) noteOpen = outer && { id, outer };
  }

  /** Enter opens the footnote that is chosen; a letter goes on at its end, instead of taking its place. */
  function intoNote(letter: string): boolean {
    const { selection } = editor()!.state;
    const { footnote, figureArea } = schema.nodes;
    if (!(selection instanceof NodeSelection) || ![footnote, figureArea].includes(selection.node.type)) return false;
    if (letter) editor()!.dispatch(editor()!.state.tr.insertText(letter, selection.to - 1));
    openNote(selection.node.attrs.id as string);
    return true;
  }

  /** Where the caret is, whatever scrolls meanwhile. */
  const atCaret: Anchor = {
    getBoundingClientRect() {
      const { left, top, bottom } = editor()!.coordsAtPos(editor()!.state.selection.from);
      return new DOMRect(left, top, 0, bottom - top);
    },
  };

  export function askRole() {
    panel = { kind: 'role', anchor: atCaret };
  }

  export function askPut() {
    panel = { kind: 'put', anchor: atCaret };
  }

  export function chord(event: KeyboardEvent): boolean {
    if (!event.ctrlKey || (event.key !== '.' && event.key !== ';')) return false;
    if (event.key === '.' && changeAtom()) {
      // What is chosen in the line is changed.
    } else if (event.key === '.') askRole();
    else askPut();
    event.preventDefault();
    return true;
  }

  const alongChoice = (): Role[] => {
    const deed = alongDeed?.();
    return deed ? [along(deed.name)] : [];
  };

  // ---- what applies to some readers only ----

  let carriers = $state.raw<AppliesCarrier[]>([]);

  export function askApplies() {
    carriers = carriersAt(editor()!.state);
    if (carriers.length === 0) return notices.tell('Nothing stands here that could apply to some readers only.');
    panel = { kind: 'applies', anchor: atCaret };
  }

  // ---- what the shelf keeps ----

  /** What could be put in and this manual does not have yet. */
  const offered = (kind: string) =>
    (kept?.shelf ?? []).filter((k) => k.kind === kind && k.here === 'none').map((k) => ({ name: k.name, note: 'on the shelf' }));

  /** Takes it from the shelf where this manual does not have it. */
  async function fromShelf(kind: 'variable' | 'passage', name: string): Promise<boolean> {
    if (offered(kind).some((k) => k.name === name)) await kept!.shelfAct('take', kind, name);
    return !offered(kind).some((k) => k.name === name);
  }

  // ---- passages ----

  function passage() {
    const rows = selectedBlocks(editor()!.state);
    ask(askPassage(rows, (name) => void kept?.act({ do: 'addPassage', name, rows })));
  }

  function putPassage(name: string) {
    panel = null;
    if (changing) return changed({ passage: name });
    put(schema.nodes.passageUse!.create({ id: newId(), passage: name }));
  }

  function putList(list: string) {
    panel = null;
    if (changing) return changed({ list });
    put(schema.nodes.contentsList!.create({ id: newId(), list }));
  }

  /** What is asked in a panel of its own, beside what a block can be. */
  function further(): Role[] {
    const own = settableAt(editor()!.state);
    return [
      ...(own ? [{ name: `${settingsOf[own.node.type.name]!.title}…`, key: ',', command: () => (set(own.node, own.pos), true) }] : []),
      { name: 'Web address…', key: 'u', command: () => (address(), true) },
      { name: 'Applies to…', key: 'a', command: () => (askApplies(), true) },
      ...(kept && !isNote ? [{ name: 'A passage…', key: 'p', command: () => (passage(), true) }] : []),
    ];
  }

  function address() {
    const question = askAddress(editor()!);
    if (question) ask(question);
    else notices.tell('Select the words that are to lead to a web address.');
  }

  function close() {
    panel = null;
    changing = null;
    editor()?.focus();
  }

  function choosePut(chosen: Role) {
    const n = schema.nodes;
    const { state } = editor()!;
    switch (chosen.key) {
      case 'x':
        panel = { kind: 'reference', anchor: atCaret };
        return;
      case 'i':
        if (headingOf(state)) void putEntryOfWords(headingOf(state));
        else panel = { kind: 'entry', anchor: atCaret };
        return;
      case 'w':
        panel = { kind: 'entry', anchor: atCaret, over: true };
        return;
      case 'k':
        close();
        alongDeed?.()?.run();
        return;
      case 'c':
        panel = { kind: 'list', anchor: atCaret };
        return;
      case 'v':
        void kept?.readShelf();
        panel = { kind: 'variable', anchor: atCaret };
        return;
      case 'u':
      case 'n': {
        close();
        const { parent } = state.selection.$from;
        if (!parent.inlineContent || !parent.type.contentMatch.matchType(n.footnote!)) return notices.tell('A footnote cannot stand here.');
        const note = n.footnote!.create({ id: newId(), shown: chosen.key === 'u' ? 'popUp' : null });
        editor()!.dispatch(state.tr.insert(state.selection.to, note).scrollIntoView());
        openNote(note.attrs.id as string);
        return;
      }
      case 'a':
        return ask(askAnchor(editor()!, insert));
      case 't':
        return ask(askTable(put));
      case 'f':
        close();
        pictures?.choose(null);
        return;
      case 'm':
        noting = { by: '', text: '', words: notedWords(state), done: false, answers: null };
        panel = { kind: 'note', anchor: atCaret };
        return;
      case 'q':
        close();
        putEquation();
        return;
      case 's':
        if (kept?.now.passages.length || offered('passage').length) panel = { kind: 'passage', anchor: atCaret };
        else {
          close();
          notices.tell('There is no passage yet: select blocks, then Ctrl . and “A passage…”.');
        }
        return;
      case 'p':
        close();
        put(n.pageBreak!.create({ id: newId() }));
        return;
      default: {
        const making = makings.find((m) => m.key === chosen.key);
        close();
        if (making) put(making.make());
      }
    }
  }

  // ---- figures ----

  let pictures = $state<ReturnType<typeof Pictures>>();

  export function changeFigure(pos: number) {
    editor()!.dispatch(editor()!.state.tr.setSelection(NodeSelection.create(editor()!.state.doc, pos)));
    changeAtom();
  }

  export const bringPictures = (files: File[]) => pictures?.bring(files);

  function insert(node: Node, at = editor()!.state.selection.to) {
    const { state } = editor()!;
    editor()!.dispatch(state.tr.insert(at, node).scrollIntoView());
    editor()!.focus();
  }

  function put(node: Node) {
    const tr = putBlock(editor()!.state, node);
    if (tr) editor()!.dispatch(tr);
    editor()!.focus();
  }

  function putReference(target: string, form: string, other: PlaceThere | null) {
    panel = null;
    if (changing) return changed({ target, form, other });
    insert(schema.nodes.crossReference!.create({ id: newId(), target, form, other }));
  }

  // ---- what is in the line already ----

  /** The reference, entry, anchor or variable that is chosen, and the one whose panel is open. */
  let atom = $state.raw<ChosenAtom | null>(null);
  let changing = $state.raw<ChosenAtom | null>(null);

  function changeAtom() {
    const chosen = chosenAtom(editor()!.state);
    if (!chosen) return false;
    atom = null;
    changing = chosen;
    switch (chosen.node.type) {
      case schema.nodes.anchor:
        ask({
          label: 'Name of the anchor',
          text: String(chosen.node.attrs.name),
          does: 'keep',
          then: (name) => name && changed({ name }),
        });
        break;
      case schema.nodes.variable:
        panel = { kind: 'variable', anchor: atCaret };
        break;
      case schema.nodes.indexEntry:
        panel = { kind: 'entry', anchor: atCaret };
        break;
      case schema.nodes.writerNote:
        noting = chosen.node.attrs as ColleagueNote;
        panel = { kind: 'note', anchor: atCaret };
        break;
      case schema.nodes.passageUse:
        panel = { kind: 'passage', anchor: atCaret };
        break;
      case schema.nodes.contentsList:
        panel = { kind: 'list', anchor: atCaret };
        break;
      case schema.nodes.crossReference:
        panel = { kind: 'reference', anchor: atCaret };
        break;
      default:
        changing = null;
        set(chosen.node, chosen.pos);
    }
    return true;
  }

  // ---- notes to colleagues ----

  let noting = $state.raw<ColleagueNote | null>(null);

  function keepNote(note: ColleagueNote) {
    panel = null;
    if (changing) return changed({ ...note });
    const { parent } = editor()!.state.selection.$to;
    if (!parent.type.contentMatch.matchType(schema.nodes.writerNote!)) {
      close();
      return notices.tell('A note cannot stand here.');
    }
    insert(schema.nodes.writerNote!.create({ id: newId(), ...note }));
  }

  // ---- what can be set ----

  let setting = $state.raw<{ node: Node; pos: number } | null>(null);

  function set(node: Node, pos: number) {
    setting = { node, pos };
    panel = { kind: 'settings', anchor: atCaret };
  }

  function keepSettings(values: Record<string, Value>) {
    const { node, pos } = setting!;
    const attrs = attributesOf(node, values);
    close();
    const tr = withSettings(editor()!.state, node, pos, attrs);
    if (tr) editor()!.dispatch(tr);
    else notices.tell('What was set was taken out meanwhile.');
  }

  /** In a line of text it stands in the line; in an empty paragraph, or between blocks, on a line of its own. */
  function putEquation() {
    const { state } = editor()!;
    const { parent } = state.selection.$from;
    const amongWords =
      parent.inlineContent && (isNote || parent.content.size > 0) && parent.type.contentMatch.matchType(schema.nodes.inlineEquation!);
    const node = schema.nodes[amongWords ? 'inlineEquation' : 'equation']!.create({ id: newId() });
    if (amongWords) insert(node);
    else put(node);
    const at = findBlock(String(node.attrs.id), editor()!.state.doc);
    if (at) set(at.node, at.pos);
  }

  /** Gives the atom whose panel was open new words; both ends of a range keep the same. */
  function changed(attrs: Record<string, unknown>) {
    const was = changing?.node;
    changing = null;
    const view = editor();
    if (!was || !view) return;
    view.dispatch(withAttributes(view.state, was, attrs));
    view.focus();
  }

  function follow() {
    const chosen = chosenAtom(editor()!.state);
    if (!chosen) return false;
    if (chosen.node.type === schema.nodes.passageUse) {
      atom = null;
      typeIn(String(chosen.node.attrs.id));
      return true;
    }
    if (chosen.node.type !== schema.nodes.crossReference || !onfollow) return false;
    atom = null;
    onfollow(String(chosen.node.attrs.target), (chosen.node.attrs.other as PlaceThere | null)?.manual ?? null);
    return true;
  }

  function deedsOf(chosen: ChosenAtom) {
    const { type, attrs } = chosen.node;
    return [
      ...(type === schema.nodes.crossReference && onfollow ? [{ name: 'Go there', key: 'Enter', run: follow }] : []),
      ...(type === schema.nodes.passageUse
        ? [
            { name: 'Type in it', key: 'Enter', run: follow },
            { name: 'Make it plain text', run: () => void kept?.act({ do: 'makePlain', rows: [String(attrs.id)] }) },
          ]
        : []),
      { name: 'Change', key: 'Ctrl .', run: changeAtom },
      ...(type === schema.nodes.figureArea ? [{ name: 'Its words', key: 'Enter', run: () => openNote(String(attrs.id)) }] : []),
      ...(type === schema.nodes.figure ? [{ name: 'An area that leads somewhere', key: 'A', run: () => newArea(String(attrs.id)) }] : []),
      { name: 'Take out', key: 'Del', run: takeOutAtom },
    ];
  }

  /** A further area of a picture, whose words are typed at once. */
  function newArea(figure: string) {
    const area = putArea(editor()!, figure);
    if (area) openNote(area);
  }

  function takeOutAtom() {
    editor()!.dispatch(editor()!.state.tr.deleteSelection().scrollIntoView());
    editor()!.focus();
  }

  /** A letter typed while something in the line is chosen stands behind it, and does not take its place. */
  function behindAtom(letter: string): boolean {
    const tr = behindChosen(editor()!.state, letter);
    if (!tr) return false;
    editor()!.dispatch(tr);
    return true;
  }

  /** An entry of the selected words, under the heading that says the same already. */
  async function putEntryOfWords(asked: string) {
    close();
    const { state } = editor()!;
    const alike = await api.headings(manualId, asked).then(
      (found) => found.find((h) => h.headings.at(-1)!.toLowerCase() === asked.toLowerCase())?.headings,
      () => undefined,
    );
    const view = editor();
    if (!view?.state.doc.eq(state.doc)) return notices.tell('The text changed meanwhile: select the words again.');
    const headings = alike ?? [asked];
    view.dispatch(entryPutAndChosen(view.state.apply(view.state.tr.setSelection(state.selection)), headings));
    notices.tell(`In the index: ${headings.join(' › ')}.`);
  }

  function putEntry(entry: NewEntry) {
    panel = null;
    if (changing) {
      const { headings, principal, see, seeAlso, filesUnder } = entry;
      return changed({ headings, principal, see, seeAlso, filesUnder });
    }
    editor()!.dispatch(entryPut(editor()!.state, entry));
    editor()!.focus();
  }

  /** The words that are selected, as far as they are of one line of thought. */
  export const chosenWords = () => (editor() ? chosenIn(editor()!.state) : '');

  /** Enter on what is chosen: a note opens, a reference is followed, all else is changed. */
  export const enter = () => intoNote('') || follow() || changeAtom();

  /** A letter typed while something in the line is chosen does not take its place. */
  export const letter = (text: string) => areaByKey(text) || intoNote(text) || behindAtom(text);

  /** On a figure that is chosen, A makes an area of its picture. */
  function areaByKey(text: string): boolean {
    const chosen = text.toLowerCase() === 'a' ? chosenAtom(editor()!.state) : null;
    if (!chosen || chosen.node.type !== schema.nodes.figure) return false;
    newArea(String(chosen.node.attrs.id));
    return true;
  }

  /** The caret moved. What is chosen, by name; null when nothing is. */
  export function moved(): string | null {
    const view = editor()!;
    const chosen = chosenAtom(view.state);
    atom = panel || !view.hasFocus() ? null : chosen;
    return chosen?.label ?? null;
  }

  /** The text has lost the focus. */
  export const left = () => (atom = null);

  /** The text changed: a note that is open shows it. */
  export function follows() {
    if (noteOpen) bubble?.follow();
  }
</script>

<Pictures bind:this={pictures} {manualId} {editor} {put} />
{#if noteOpen}
  {#key noteOpen}
    <NoteBubble
      bind:this={bubble}
      outer={noteOpen.outer}
      place={() => findBlock(noteOpen?.id ?? '', editor()?.state.doc)?.pos ?? null}
      acts={viewActs}
      at={own}
      {takeBack}
      {doAgain}
      onclose={() => (noteOpen = null)}
    />
  {/key}
{/if}
{#if atom && !panel}
  {#key atom.node.attrs.id}
    <AtomBar label={atom.label} says={atom.says} anchor={atCaret} deeds={deedsOf(atom)} onclose={() => (atom = null)} />
  {/key}
{/if}
{#if panel?.kind === 'role'}
  <WhatThisIs
    editor={editor()!}
    anchor={panel.anchor}
    {isNote}
    {roles}
    {kept}
    further={further()}
    {suggest}
    {onrole}
    onchosen={() => (panel = null)}
    onclose={close}
  />
{:else if panel?.kind === 'put'}
  <Pick
    label="Put in"
    choices={[...alongChoice(), ...(isNote ? inLine : putIn)]}
    anchor={panel.anchor}
    onchoose={choosePut}
    onclose={() => panel?.kind === 'put' && close()}
  />
{:else if panel?.kind === 'reference'}
  <ReferencePanel
    {manualId}
    anchor={panel.anchor}
    onchoose={putReference}
    onclose={close}
    {...changing ? { pointed: changing.node.attrs as { target: string; form: string; other: PlaceThere | null } } : {}}
  />
{:else if panel?.kind === 'entry'}
  <EntryPanel
    {manualId}
    anchor={panel.anchor}
    words={selectedWords(editor()!.state)}
    over={panel.over ?? false}
    hasSelection={selectedWords(editor()!.state).length > 0}
    was={changing && entryOf(changing.node)}
    onchoose={putEntry}
    onclose={close}
  />
{:else if panel?.kind === 'note' && noting}
  <NotePanel anchor={panel.anchor} note={noting} onkeep={keepNote} onclose={close} />
{:else if panel?.kind === 'settings' && setting}
  {#snippet another()}
    <button
      type="button"
      class="btn"
      onclick={() => {
        const figure = String(setting!.node.attrs.id);
        close();
        pictures?.choose(figure);
      }}>Another picture…</button
    >
  {/snippet}
  <SettingsPanel
    anchor={panel.anchor}
    settings={settingsOf[setting.node.type.name]!}
    values={valuesOf(setting.node)}
    onkeep={keepSettings}
    onclose={close}
    {...setting.node.type === schema.nodes.figure ? { further: another } : {}}
  />
{:else if panel?.kind === 'words' && asked}
  <AskWords
    label={asked.label}
    text={asked.text}
    does={asked.does}
    anchor={panel.anchor}
    onchoose={(text) => {
      const { then } = asked!;
      close();
      then(text);
    }}
    onclose={close}
  />
{:else if panel?.kind === 'applies'}
  <AppliesPanel
    anchor={panel.anchor}
    conditions={kept?.now.conditions ?? []}
    {carriers}
    onkeep={(at, chosen) => {
      const carrier = carriers[at]!;
      close();
      editor()!.dispatch(carrier.set(editor()!.state.tr, chosen));
    }}
    onmake={() => {
      close();
      onkept?.();
    }}
    onclose={close}
  />
{:else if panel?.kind === 'passage'}
  <Pick
    label="Passage"
    choices={[...(kept?.now.passages ?? []).map((p) => ({ name: p.name })), ...offered('passage')]}
    anchor={panel.anchor}
    onchoose={(p) => void fromShelf('passage', p.name).then((there) => there && putPassage(p.name))}
    onclose={close}
  />
{:else if panel?.kind === 'list'}
  <ListPick {manualId} anchor={panel.anchor} onchoose={putList} onclose={close} />
{:else if panel?.kind === 'variable'}
  <Pick
    label="Variable"
    choices={[...variables.map((v) => ({ name: v })), ...offered('variable')]}
    anchor={panel.anchor}
    onchoose={async (v) => {
      panel = null;
      if (!(await fromShelf('variable', v.name))) return;
      if (changing) changed({ name: v.name });
      else insert(schema.nodes.variable!.create({ name: v.name }));
    }}
    onclose={close}
  />
{/if}
