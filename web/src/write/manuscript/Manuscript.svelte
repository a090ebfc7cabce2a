<script lang="ts" module>
  export interface CaretPlace {
    /** The innermost block with an id. */
    block: string;
    /** The top-level block and typed characters before the caret in the innermost. */
    typed: number;
    path: string[];
    /** The head whose section it is in. */
    head: string | null;
  }
</script>

<script lang="ts">
  import { history } from 'prosemirror-history';
  import { EditorState, NodeSelection, Selection, TextSelection, type Command, type Transaction } from 'prosemirror-state';
  import { EditorView } from 'prosemirror-view';
  import { gapCursor } from 'prosemirror-gapcursor';
  import { isInTable, tableEditing } from 'prosemirror-tables';
  import type { Node, Slice } from 'prosemirror-model';
  import { untrack } from 'svelte';
  import { api, newId, type DeskDivision, type DivisionMarks, type LooseEnd, type OwnRole } from '../../shared/api';
  import { afterPaint } from '../../shared/after-paint';
  import { notices } from '../../shared/notices.svelte';
  import type { ChangedElsewhere } from '../../live/live-proof.svelte';
  import { DeskClient } from '../../live/desk-client.svelte';
  import { merge, type JsonNode } from '../../live/merge';
  import { writer } from '../../live/tab';
  import { dropUnsent, type Unsent } from '../../live/unsent';
  import AtomBar from '../panels/AtomBar.svelte';
  import EntryPanel, { type NewEntry } from '../panels/EntryPanel.svelte';
  import FigurePanel, { type FigureSettings } from '../panels/FigurePanel.svelte';
  import ReferencePanel from '../panels/ReferencePanel.svelte';
  import Pick from '../../ui/Pick.svelte';
  import AskWords from '../../ui/AskWords.svelte';
  import type { Anchor } from '../../ui/Popover.svelte';
  import { chosenAtom, entryOf, type ChosenAtom } from './atoms';
  import Conflict from './Conflict.svelte';
  import NoteBubble from './NoteBubble.svelte';
  import { fixed } from './fixed';
  import { identities, repair } from './identities';
  import { doingAgain, keys, takingBack } from './keys';
  import { clipboardParser, clipboardSerializer, pasted, plainWords } from './clipboard';
  import { margins, marginsKey, positionOf, typedBefore } from './margins';
  import { room as roomUnder, roomKey } from './room';
  import { nodeViews, PrintedWords } from './node-views';
  import { blockRoles, foundationAt, ownRole, roleAt, spanRoles, type Role } from './roles';
  import { atEnd, putBlock } from './put';
  import { schema } from './schema';
  import { jsonOf, nodeOf, nodeOfBody } from './stored';
  import { mostColumns, mostRows, newTable, tableActs, tableHeads } from './tables';
  import { cellsOf, tabbedTable } from './web-table';
  import './manuscript.css';

  interface Props {
    manualId: string;
    division: DeskDivision;
    number: string;
    marks: DivisionMarks | null;
    looseEnds: LooseEnd[];
    variables: string[];
    oncaret: (place: CaretPlace) => void;
    onclient: (client: DeskClient) => void;
    ontitled: (title: string, act: number) => void;
    /** What earlier visits left unsent here. */
    left?: Unsent[];
    ontakeback: (again: boolean) => void;
    /** Where there is more of the screen than the text. */
    onfind?: () => void;
    onkeys?: () => void;
    onfollow?: (target: string) => void;
    onstored: (act: number) => void;
    /** Roles of the manual's own. */
    roles?: OwnRole[];
    onrole?: (name: string, foundation: string) => Promise<boolean>;
    /** Only some blocks of the division are here: those after this one, "" for its beginning. Null for all. */
    after?: string | null;
  }
  let {
    manualId,
    division,
    number,
    marks,
    looseEnds,
    variables,
    oncaret,
    onclient,
    ontitled,
    left = [],
    ontakeback,
    onfind,
    onkeys,
    onfollow,
    onstored,
    roles = [],
    onrole,
    after: partAfter = null,
  }: Props = $props();

  let view: EditorView | null = null;
  let client = $state.raw<DeskClient>();
  let sheet = $state<HTMLDivElement>();
  let role = $state('Body');
  let roleTop = $state(0);
  let panel = $state<null | { kind: 'role' | 'put' | 'reference' | 'entry' | 'variable' | 'words' | 'figure'; anchor: Anchor }>(null);
  let asked = $state.raw<{ label: string; text: string; does: string; then: (text: string) => void } | null>(null);
  const words = new PrintedWords();

  const fromDivision = (d: DeskDivision): { doc: Node; versions: Map<string, number> } => {
    const versions = new Map((d.blocks ?? []).map((b) => [b.id, b.version]));
    const blocks = (d.blocks ?? []).map((b) => nodeOfBody(b.body));
    return {
      doc: schema.nodes.doc!.create(null, blocks.length > 0 ? blocks : [schema.nodes.paragraph!.create({ id: newId() })]),
      versions,
    };
  };

  const acts = {
    joined: (from: string, to: string) => client?.join(from, to),
    takeBack: (again: boolean) => ontakeback(again),
    leave: () => view?.dom.blur(),
  };

  /** Blocks from which on a division is long enough that laying out only what is in sight pays. */
  const long = 150;
  let measured = $state(false);

  let owed = false;

  // svelte-ignore state_referenced_locally
  const viewActs = { words, manual: manualId, changeFigure, openNote };

  /** The footnote that is being typed. */
  let noteOpen = $state.raw<{ id: string; outer: EditorView } | null>(null);
  let bubble = $state<ReturnType<typeof NoteBubble>>();
  function openNote(id: string) {
    noteOpen = view && { id, outer: view };
  }

  /** Enter opens the footnote that is chosen; a letter goes on at its end, instead of taking its place. */
  function intoNote(letter: string): boolean {
    const { selection } = view!.state;
    if (!(selection instanceof NodeSelection) || selection.node.type !== schema.nodes.footnote) return false;
    if (letter) view!.dispatch(view!.state.tr.insertText(letter, selection.to - 1));
    openNote(selection.node.attrs.id as string);
    return true;
  }

  /** Gives what was typed to the desk client. */
  function handOver() {
    if (!owed || !view) return;
    owed = false;
    client?.changed(view.state.doc);
  }

  function mountEditor(holder: HTMLElement) {
    return untrack(() => {
      const desk = new DeskClient(manualId, division.id, { merged, answered, stored: onstored, titled: ontitled }, partAfter);
      client = desk;
      const { doc, versions } = fromDivision(division);
      let state = EditorState.create({
        doc,
        plugins: [
          history({ newGroupDelay: 400 }),
          ...keys(acts),
          fixed(notices.tell),
          identities,
          margins,
          roomUnder,
          tableHeads,
          tableEditing(),
          gapCursor(),
        ],
      });
      const repaired = repair(state.tr, state.doc);
      const stored = state.doc;
      if (repaired) state = state.apply(repaired);
      desk.start(stored, versions);
      view = new EditorView(holder, {
        state,
        nodeViews: nodeViews(viewActs),
        clipboardSerializer,
        clipboardParser,
        clipboardTextSerializer: (slice) => plainWords(slice, (leaf) => words.of(leaf)),
        clipboardTextParser: (text, _, plain) => (plain ? null : tabbedTable(text)) as Slice,
        transformPasted: (slice, own) => {
          const fresh = pasted(slice);
          return isInTable(own.state) ? cellsOf(fresh) : fresh;
        },
        attributes: {
          class: 'manuscript',
          role: 'textbox',
          'aria-multiline': 'true',
          'aria-label': `Text of ${division.title}`,
          spellcheck: 'false',
        },
        handleKeyDown: (_, event) => {
          readCaret();
          return chord(event) || (event.key === 'Enter' && (intoNote('') || follow() || changeAtom()));
        },
        handleTextInput: (_, _from, _to, text) => intoNote(text) || behindAtom(text),
        handlePaste(_, event) {
          const files = pictureFiles(event.clipboardData);
          // A word processor gives a picture of the words beside them; the words are wanted.
          if (files.length === 0 || event.clipboardData?.types.includes('text/html')) return false;
          void bringPictures(files);
          return true;
        },
        handleDrop(own, event) {
          const files = pictureFiles(event.dataTransfer);
          if (files.length === 0) return false;
          const at = own.posAtCoords({ left: event.clientX, top: event.clientY });
          if (at) own.dispatch(own.state.tr.setSelection(Selection.near(own.state.doc.resolve(at.pos))));
          void bringPictures(files);
          event.preventDefault();
          return true;
        },
        handleDOMEvents: {
          blur: () => {
            atom = null;
          },
          focus: () => caret(),
        },
        dispatchTransaction(tr) {
          const next = view!.state.apply(tr);
          view!.updateState(next);
          if (tr.docChanged && tr.getMeta('remote')) desk.sees(next.doc);
          else if (tr.docChanged) {
            owed = true;
            desk.expects();
            // Comparing a long division with what was sent may not hold up the letter.
            if (next.doc.childCount > long) afterPaint(handOver);
            else handOver();
          }
          if (tr.docChanged || tr.selectionSet) caret();
          if (tr.docChanged && noteOpen) bubble?.follow();
        },
      });
      onclient(desk);
      for (const unsent of left) bringBack(unsent);
      caret();
      const keepNow = () => {
        readCaret();
        handOver();
        desk.keepNow();
      };
      window.addEventListener('pagehide', keepNow);
      document.addEventListener('visibilitychange', keepNow);
      return () => {
        window.removeEventListener('pagehide', keepNow);
        document.removeEventListener('visibilitychange', keepNow);
        handOver();
        desk.close();
        view?.destroy();
        view = null;
      };
    });
  }

  /** Words that an earlier visit left unsent come back into the text, merged with what was written since; where that cannot
   * be, they stand beside the block. They go up like what is typed now. */
  function bringBack(unsent: Unsent) {
    if (!view || !client) return;
    let tr = view.state.tr;
    for (const { change, base } of unsent.draft) {
      const at = find(change.id, tr.doc);
      if (change.deleted) {
        if (at && base && same(at.node, base)) tr = tr.delete(at.pos, at.pos + at.node.nodeSize);
        continue;
      }
      if (!change.body) continue;
      const mine = JSON.parse(change.body) as JsonNode;
      if (!at) {
        // Taken out since, or never stored: the words stand where they stood.
        const before = change.after ? find(change.after, tr.doc) : null;
        const place = before ? before.pos + before.node.nodeSize : change.after === '' ? 0 : tr.doc.content.size;
        if (base === null || !same(nodeOf(mine), base)) tr = tr.insert(place, nodeOf(mine));
        continue;
      }
      const theirs = jsonOf(at.node);
      const merged = base ? merge(JSON.parse(base) as JsonNode, mine, theirs, { both: false }) : mine;
      if (merged) tr = becoming(tr, at.pos, at.node, nodeOf(merged));
      else
        client.setAside({
          id: change.id,
          why: 'Left from an earlier visit; the block was changed since.',
          theirs: JSON.stringify(theirs),
          version: client.versionOf(change.id),
          conflict: true,
        });
    }
    if (tr.docChanged) {
      const repaired = repair(tr, tr.doc) ?? tr;
      view.dispatch(repaired.setMeta('addToHistory', false));
      handOver();
    }
    if (unsent.title !== null && unsent.title !== division.title) client.rename(unsent.title);
    if (unsent.tab !== writer) void dropUnsent(unsent);
  }

  const same = (node: Node, body: string) => node.eq(nodeOfBody(body));

  /** Browsers report a moved caret late: a key pressed at once, or a drawing in between, would act where it was before. */
  function readCaret() {
    const observer = (view as unknown as { domObserver: { forceFlush(): void; flush(): void } }).domObserver;
    observer.forceFlush();
    observer.flush();
  }

  /** A change that is not the writer's own. */
  function quietly(change: (tr: Transaction) => Transaction) {
    if (!view) return;
    readCaret();
    view.dispatch(change(view.state.tr).setMeta('remote', true).setMeta('addToHistory', false));
  }

  function find(id: string, doc = view?.state.doc): { node: Node; pos: number } | null {
    let found: { node: Node; pos: number } | null = null;
    doc?.descendants((node, pos) => {
      if (found) return false;
      if (node.attrs.id === id) found = { node, pos };
      return found === null;
    });
    return found;
  }

  /** Turns one block into another by the smallest step, so that the writer's own undo and caret outlive it. */
  function becoming(tr: Transaction, pos: number, was: Node, is: Node): Transaction {
    if (!was.sameMarkup(is)) return tr.replaceWith(pos, pos + was.nodeSize, is);
    const start = was.content.findDiffStart(is.content);
    const end = was.content.findDiffEnd(is.content);
    if (start === null || !end) return tr;
    const overlap = Math.max(0, start - Math.min(end.a, end.b));
    return tr.replace(pos + 1 + start, pos + 1 + end.a + overlap, is.slice(start, end.b + overlap));
  }

  function replaceBlock(id: string, node: Node | null) {
    quietly((tr) => {
      const at = find(id);
      if (!at) return tr;
      return node ? becoming(tr, at.pos, at.node, node) : tr.delete(at.pos, at.pos + at.node.nodeSize);
    });
  }

  /** The server merged what was sent with another writer's words: they come in under what was typed since. */
  function merged(id: string, sent: JsonNode, body: string): boolean {
    return takeUnder(id, sent, JSON.parse(body) as JsonNode, client?.versionOf(id) ?? 0);
  }

  /** Takes a block as the server holds it, and keeps what this writer made of it since. Where both made another kind of block of it
   * nothing is taken: what is here stays based on what it was, and the server tells both when it goes up. */
  function takeUnder(id: string, base: JsonNode, theirs: JsonNode, version: number): boolean {
    readCaret();
    handOver();
    const at = find(id);
    const both = at && merge(base, jsonOf(at.node), theirs, { both: false });
    if (at && !both) return false;
    client?.took(id, version, nodeOf(theirs));
    if (both) replaceBlock(id, nodeOf(both));
    return true;
  }

  /** Changes of blocks that were under way when they were told: looked at again when the answer is here. */
  let missed: ChangedElsewhere['blocks'] = [];
  function answered() {
    const told = missed;
    missed = [];
    if (told.length > 0) changedElsewhere({ writer: '', blocks: told, divisions: false });
  }

  /** Another writer's changes come in as small steps that this writer's undo does not touch. */
  export function changedElsewhere(change: ChangedElsewhere) {
    if (!view || !client) return;
    readCaret();
    handOver();
    for (const b of change.blocks) {
      const here = find(b.id);
      if (b.division !== division.id && !here) continue;
      // What is under way is merged by the server, whose answer says so.
      if (client.underWay(b.id)) {
        missed = [...missed.filter((m) => m.id !== b.id), b];
        continue;
      }
      if (client.unstored.has(b.id)) continue;
      // A notice that comes after the answer which says more is old.
      if (b.body !== null && b.version <= client.versionOf(b.id)) continue;
      if (client.dirty(b.id)) {
        const base = client.sentOf(b.id);
        if (base && b.body !== null && b.division === division.id) takeUnder(b.id, jsonOf(base), JSON.parse(b.body) as JsonNode, b.version);
        continue;
      }
      if (b.body === null || b.division !== division.id) {
        if (!here) continue;
        client.took(b.id, 0, null);
        replaceBlock(b.id, null);
      } else if (here) {
        if (view.state.doc.resolve(here.pos).depth === 0) {
          const node = nodeOfBody(b.body);
          client.took(b.id, b.version, node);
          replaceBlock(b.id, node);
        }
      } else {
        const node = nodeOfBody(b.body);
        client.insertedElsewhere(b.id, b.version, node, b.after ?? '');
        quietly((tr) => {
          const before = b.after ? find(b.after) : null;
          return tr.insert(before ? before.pos + before.node.nodeSize : 0, node);
        });
      }
    }
  }

  $effect(() => {
    const input = { marks, looseEnds };
    if (!view) return;
    untrack(() => {
      if (input.marks) words.set(input.marks);
      quietly((tr) => tr.setMeta(marginsKey, input));
      if (input.marks && !measured && view!.state.doc.childCount > long)
        void document.fonts.ready.then(() => afterPaint(() => afterPaint(() => (measured = true))));
    });
  });

  let caretMoved = false;
  function caret() {
    if (caretMoved) return;
    caretMoved = true;
    afterPaint(() => {
      caretMoved = false;
      if (!view) return;
      const from = view.state.selection.$from;
      const chosen = chosenAtom(view.state);
      role = chosen?.label ?? roleAt(view.state);
      atom = panel || !view.hasFocus() ? null : chosen;
      let block = '';
      let typed = 0;
      for (let d = from.depth; d > 0; d--) {
        const node = from.node(d);
        const id = node.attrs.id as string | undefined;
        if (id && !node.isInline) {
          block = id;
          typed = node.inlineContent ? typedBefore(node, from.pos - from.start(d)) : 0;
          break;
        }
      }
      const path: string[] = [];
      let section: Node | null = null;
      let head: string | null = null;
      view.state.doc.forEach((node, offset) => {
        if (offset <= from.pos && node.type === schema.nodes.head && (node.attrs.level === 'A' || node.attrs.level === 'B')) {
          if (node.attrs.level === 'A') path.length = 0;
          else path.length = Math.min(path.length, section ? 1 : 0);
          section = section ?? node;
          head = node.attrs.id as string;
          path.push(node.textContent);
        }
      });
      for (let d = 1; d <= from.depth; d++) if (from.node(d).type === schema.nodes.step) path.push('step ' + (from.index(d - 1) + 1));
      oncaret({ block, typed, path, head });
      const coords = view.coordsAtPos(from.pos);
      const top = sheet?.getBoundingClientRect();
      if (top) roleTop = coords.top - top.top;
    });
  }

  let order: { doc: Node; of: Map<string, number> } | null = null;

  /** Which of the division's blocks, at every depth, a block is; −1 when it is not here. */
  export function orderOf(block: string): number {
    if (!view) return -1;
    const { doc } = view.state;
    if (order?.doc !== doc) {
      const of = new Map<string, number>();
      doc.descendants((node) => {
        if (node.attrs.id) of.set(node.attrs.id as string, of.size);
        return !node.inlineContent;
      });
      order = { doc, of };
    }
    return order.of.get(block) ?? -1;
  }

  export function goTo(block: string | null) {
    if (!view) return;
    const at = block ? find(block) : null;
    const pos = at ? at.pos + 1 : 1;
    const selection = Selection.near(view.state.doc.resolve(Math.min(pos, view.state.doc.content.size)));
    view.dispatch(view.state.tr.setSelection(selection).scrollIntoView());
    const dom = at ? view.nodeDOM(at.pos) : null;
    if (dom instanceof HTMLElement) dom.scrollIntoView({ block: 'center' });
    view.focus();
  }

  export function goToTyped(block: string, typed: number) {
    const at = find(block);
    if (!view || !at || !at.node.inlineContent) return goTo(block);
    view.dispatch(view.state.tr.setSelection(TextSelection.create(view.state.doc, positionOf(at.node, at.pos, typed))).scrollIntoView());
    view.focus();
  }

  // ---- chords ----

  let waiting: 'put' | null = null;

  /** Where the caret is, whatever scrolls meanwhile. */
  const atCaret: Anchor = {
    getBoundingClientRect() {
      const { left, top, bottom } = view!.coordsAtPos(view!.state.selection.from);
      return new DOMRect(left, top, 0, bottom - top);
    },
  };

  let founded = $state('');
  let inTable = $state(false);

  function askRole() {
    founded = foundationAt(view!.state).name;
    inTable = isInTable(view!.state);
    panel = { kind: 'role', anchor: atCaret };
  }

  function askPut() {
    waiting = 'put';
    panel = { kind: 'put', anchor: atCaret };
  }

  function chord(event: KeyboardEvent): boolean {
    if (!event.ctrlKey || (event.key !== '.' && event.key !== ';')) return false;
    if (event.key === '.' && changeAtom()) {
      // What is chosen in the line is changed.
    } else if (event.key === '.') askRole();
    else askPut();
    event.preventDefault();
    return true;
  }

  const does = (command: Command) => command(view!.state, view!.dispatch, view!);

  function act(command: Command) {
    does(command);
    view!.focus();
  }

  /** What stands quietly over the text, for whoever does not know the keys yet. */
  const ways = $derived([
    { name: 'What this is', key: 'Ctrl .', run: askRole },
    { name: 'Put in', key: 'Ctrl ;', run: askPut },
    ...(onfind ? [{ name: 'Find', key: 'Ctrl F', run: onfind }] : []),
    { name: 'Take back', key: 'Ctrl Z', run: () => act(takingBack(acts)) },
    { name: 'Do again', key: 'Ctrl Y', run: () => act(doingAgain(acts)) },
    ...(onkeys ? [{ name: 'Keys', key: 'Ctrl /', run: onkeys }] : []),
  ]);

  const putIn: Role[] = [
    { name: 'Cross-reference', key: 'x', command: () => true },
    { name: 'Index entry', key: 'i', command: () => true },
    { name: 'Footnote', key: 'n', command: () => true },
    { name: 'Variable', key: 'v', command: () => true },
    { name: 'Anchor', key: 'a', command: () => true },
    { name: 'Table', key: 't', command: () => true },
    { name: 'Figure', key: 'f', command: () => true },
    { name: 'Listing', key: 'l', command: () => true },
    { name: 'Page break', key: 'p', command: () => true },
  ];

  function close() {
    waiting = null;
    panel = null;
    changing = null;
    view?.focus();
  }

  function chooseRole(chosen: Role) {
    panel = null;
    view!.focus();
    if (!chosen.command(view!.state, view!.dispatch, view!))
      notices.tell(inTable ? `“${chosen.name}” cannot be done here.` : `“${chosen.name}” cannot stand here.`);
  }

  /** A role of the manual's own, founded on what the caret stands in or what is selected. */
  async function newRole(name: string) {
    if (!view || !onrole) return;
    const { foundation } = foundationAt(view.state);
    panel = null;
    view.focus();
    if (await onrole(name, foundation)) chooseRole(ownRole({ name, foundation }));
  }

  function choosePut(chosen: Role) {
    waiting = null;
    const n = schema.nodes;
    const { state } = view!;
    switch (chosen.key) {
      case 'x':
        panel = { kind: 'reference', anchor: atCaret };
        return;
      case 'i':
        panel = { kind: 'entry', anchor: atCaret };
        return;
      case 'v':
        panel = { kind: 'variable', anchor: atCaret };
        return;
      case 'n': {
        close();
        const { parent } = state.selection.$from;
        if (!parent.inlineContent || !parent.type.contentMatch.matchType(n.footnote!)) return notices.tell('A footnote cannot stand here.');
        const note = n.footnote!.create({ id: newId() });
        view!.dispatch(state.tr.insert(state.selection.to, note).scrollIntoView());
        openNote(note.attrs.id as string);
        return;
      }
      case 'a': {
        asked = {
          label: 'Name of the anchor',
          text: '',
          does: 'put in',
          then: (name) => name && insert(n.anchor!.create({ id: newId(), name })),
        };
        panel = { kind: 'words', anchor: atCaret };
        return;
      }
      case 't': {
        asked = {
          label: 'Columns × rows',
          text: '3 × 4',
          does: 'put in',
          then: (size) => {
            const [columns, rows] = (size.match(/\d+/g) ?? []).map(Number);
            const table = newTable(columns ?? 0, rows ?? columns ?? 0);
            if (table) put(table);
            else notices.tell(`A table has up to ${mostColumns} columns and ${mostRows} rows.`);
          },
        };
        panel = { kind: 'words', anchor: atCaret };
        return;
      }
      case 'f':
        close();
        choosePicture(null);
        return;
      case 'l':
        close();
        put(n.listing!.create({ id: newId() }, [n.caption!.create(), n.lines!.create()]));
        return;
      case 'p':
        close();
        put(n.pageBreak!.create({ id: newId() }));
        return;
    }
  }

  // ---- figures ----

  let chooser = $state<HTMLInputElement>();
  /** The figure whose picture is chosen anew; null when a new figure comes. */
  let replacing: string | null = null;

  function choosePicture(figure: string | null) {
    replacing = figure;
    chooser?.click();
  }

  function changeFigure(pos: number) {
    view!.dispatch(view!.state.tr.setSelection(NodeSelection.create(view!.state.doc, pos)));
    changeAtom();
  }

  const pictureFiles = (data: DataTransfer | null) => [...(data?.files ?? [])].filter((file) => file.type.startsWith('image/'));

  /** Keeps picture files with the manual and puts figures of them in, or gives one figure another picture. */
  async function bringPictures(files: File[], figure: string | null = null) {
    for (const file of files)
      try {
        notices.tell(`Bringing in “${file.name}”…`);
        const picture = await api.bringPicture(manualId, writer, file);
        if (!view) return;
        const at = figure ? find(figure) : null;
        if (figure && !at) return notices.tell('The figure was taken out meanwhile.');
        if (at) view.dispatch(view.state.tr.setNodeAttribute(at.pos, 'asset', picture.name));
        else put(schema.nodes.figure!.create({ id: newId(), asset: picture.name }));
        notices.tell(at ? `The figure shows “${picture.name}” now.` : `“${picture.name}” is in. Say in words what it shows.`);
      } catch (e) {
        notices.problem(e);
      }
  }

  function insert(node: Node) {
    const { state } = view!;
    view!.dispatch(state.tr.insert(state.selection.to, node).scrollIntoView());
    view!.focus();
  }

  /** A title stands whole, however long it is. */
  function tall(title: HTMLTextAreaElement) {
    title.style.height = 'auto';
    title.style.height = `${title.scrollHeight}px`;
  }

  /** As tall as its words need, at every width. */
  function asTall(title: HTMLTextAreaElement) {
    let width = 0;
    const watch = new ResizeObserver(() => {
      if (title.clientWidth === width) return;
      width = title.clientWidth;
      tall(title);
    });
    watch.observe(title);
    return () => watch.disconnect();
  }

  /** A click under the last block goes on there, whatever that block is. */
  function below(event: MouseEvent) {
    if (!view || event.target !== sheet || event.clientY < view.dom.getBoundingClientRect().bottom) return;
    view.dispatch(atEnd(view.state.tr).scrollIntoView());
    view.focus();
  }

  function put(node: Node) {
    const tr = putBlock(view!.state, node);
    if (tr) view!.dispatch(tr);
    view!.focus();
  }

  function putReference(target: string, form: string) {
    panel = null;
    if (changing) return changed({ target, form });
    insert(schema.nodes.crossReference!.create({ id: newId(), target, form }));
  }

  // ---- what is in the line already ----

  /** The reference, entry, anchor or variable that is chosen, and the one whose panel is open. */
  let atom = $state.raw<ChosenAtom | null>(null);
  let changing = $state.raw<ChosenAtom | null>(null);

  function changeAtom() {
    const chosen = chosenAtom(view!.state);
    if (!chosen) return false;
    atom = null;
    changing = chosen;
    switch (chosen.node.type) {
      case schema.nodes.anchor:
        asked = {
          label: 'Name of the anchor',
          text: String(chosen.node.attrs.name),
          does: 'keep',
          then: (name) => name && changed({ name }),
        };
        panel = { kind: 'words', anchor: atCaret };
        break;
      case schema.nodes.variable:
        panel = { kind: 'variable', anchor: atCaret };
        break;
      case schema.nodes.indexEntry:
        panel = { kind: 'entry', anchor: atCaret };
        break;
      case schema.nodes.figure:
        panel = { kind: 'figure', anchor: atCaret };
        break;
      default:
        panel = { kind: 'reference', anchor: atCaret };
    }
    return true;
  }

  /** Gives the atom whose panel was open new words; both ends of a range keep the same. */
  function changed(attrs: Record<string, unknown>) {
    const was = changing?.node;
    changing = null;
    if (!was || !view) return;
    const tr = view.state.tr;
    view.state.doc.descendants((node, pos) => {
      const same = was.attrs.id ? node.attrs.id === was.attrs.id : pos === view!.state.selection.from;
      if (same && node.type === was.type) for (const [name, value] of Object.entries(attrs)) tr.setNodeAttribute(pos, name, value);
    });
    const { from } = view.state.selection;
    if (tr.doc.nodeAt(from)?.type === was.type) tr.setSelection(NodeSelection.create(tr.doc, from));
    view.dispatch(tr);
    view.focus();
  }

  function follow() {
    const chosen = chosenAtom(view!.state);
    if (!chosen || chosen.node.type !== schema.nodes.crossReference || !onfollow) return false;
    atom = null;
    onfollow(String(chosen.node.attrs.target));
    return true;
  }

  function takeOutAtom() {
    view!.dispatch(view!.state.tr.deleteSelection().scrollIntoView());
    view!.focus();
  }

  /** A letter typed while something in the line is chosen stands behind it, and does not take its place. */
  function behindAtom(letter: string): boolean {
    if (!chosenAtom(view!.state)) return false;
    const { to } = view!.state.selection;
    const tr = view!.state.tr.insertText(letter, to);
    view!.dispatch(tr.setSelection(TextSelection.create(tr.doc, to + letter.length)));
    return true;
  }

  function putEntry(entry: NewEntry) {
    panel = null;
    if (changing) {
      const { headings, principal, see, seeAlso, filesUnder } = entry;
      return changed({ headings, principal, see, seeAlso, filesUnder });
    }
    const { state } = view!;
    const make = (id: string, kind: string | null) =>
      schema.nodes.indexEntry!.create({
        id,
        headings: entry.headings,
        kind,
        principal: entry.principal,
        see: entry.see,
        seeAlso: entry.seeAlso,
        filesUnder: entry.filesUnder,
      });
    const id = newId();
    const { from, to } = state.selection;
    const tr = state.tr;
    if (entry.range) {
      tr.insert(to, make(id, 'rangeEnd'));
      tr.insert(from, make(id, 'rangeStart'));
    } else tr.insert(from, make(id, null));
    view!.dispatch(tr);
    view!.focus();
  }

  /** The words that are selected, as far as they are of one line of thought. */
  export const chosenWords = () => (view && view.state.selection instanceof TextSelection ? selectedWords() : '');

  const selectedWords = () =>
    view ? view.state.doc.textBetween(view.state.selection.from, view.state.selection.to, ' ').slice(0, 80) : '';

  // ---- conflicts ----

  function keepMine(id: string) {
    client?.keepMine(id);
  }
  function takeTheirs(id: string) {
    const theirs = client?.unstored.get(id)?.theirs;
    const node = theirs ? nodeOfBody(theirs) : null;
    replaceBlock(id, node);
    client?.tookTheirs(id, node);
  }
  function both(id: string) {
    const unstored = client?.unstored.get(id);
    const at = find(id);
    if (!unstored?.theirs || !at || !view) return keepMine(id);
    // Theirs keeps its identity; mine stands after it as a block of its own.
    const theirs = nodeOfBody(unstored.theirs);
    const mine = at.node.type.create({ ...at.node.attrs, id: newId() }, at.node.content, at.node.marks);
    quietly((tr) => {
      tr.replaceWith(at.pos, at.pos + at.node.nodeSize, [theirs, mine]);
      return repair(tr, tr.doc) ?? tr;
    });
    client?.tookTheirs(id, theirs);
  }
  async function copy(id: string) {
    try {
      await navigator.clipboard.writeText(mineOf(id));
      notices.tell('The words are copied.');
    } catch (e) {
      notices.problem(e);
    }
  }
  const textOf = (body: string | null) => (body ? nodeOfBody(body).textContent : null);
  function topOf(id: string): number {
    const at = find(id);
    const dom = at && view ? view.nodeDOM(at.pos) : null;
    const box = sheet?.getBoundingClientRect();
    return dom instanceof HTMLElement && box ? dom.getBoundingClientRect().bottom - box.top + 4 : 60;
  }
  /** How tall the cards of unstored blocks are: the text makes room under each. */
  let cards = $state<Record<string, number>>({});
  $effect(() => {
    const room = client ? [...client.unstored.keys()].map((id): [string, number] => [id, (cards[id] ?? 0) + 16]) : [];
    untrack(() => quietly((tr) => tr.setMeta(roomKey, room)));
  });
  const mineOf = (id: string) => find(id)?.node.textContent ?? '';
</script>

<input
  bind:this={chooser}
  class="sr"
  type="file"
  tabindex="-1"
  aria-label="Picture file"
  accept="image/png,image/jpeg,image/svg+xml"
  onchange={(e) => {
    void bringPictures([...(e.currentTarget.files ?? [])].slice(0, 1), replacing);
    e.currentTarget.value = '';
  }}
/>
<div class="scroll" class:part={partAfter !== null}>
  {#if partAfter === null}
    <div class="ways" role="toolbar" aria-label="Writing">
      {#each ways as way (way.name)}
        <!-- Pressed by the mouse, the caret stays where it is. -->
        <button tabindex="-1" onmousedown={(e) => e.preventDefault()} onclick={way.run}>{way.name} <kbd class="key">{way.key}</kbd></button>
      {/each}
    </div>
  {/if}
  <!-- The keyboard goes there by itself. -->
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
  <div class="sheet" bind:this={sheet} onclick={below}>
    {#if partAfter === null}<div class="title">
        {#if number}<span class="number">{number}</span>{/if}
        <textarea
          rows="1"
          aria-label="Title of the division"
          placeholder="Title"
          value={division.title}
          oninput={(e) => tall(e.currentTarget)}
          onchange={(e) => {
            const title = e.currentTarget.value.replace(/\s+/g, ' ').trim();
            if (title !== division.title) client?.rename(title);
          }}
          onkeydown={(e) => {
            if (e.key !== 'Enter') return;
            e.preventDefault();
            view?.focus();
          }}
          {@attach asTall}></textarea>
      </div>{/if}
    <button class="role" style:top="{roleTop}px" tabindex="-1" title="What this is (Ctrl .)" onclick={askRole}>{role} ▾</button>
    <div class="editor" class:measured {@attach mountEditor}></div>
    {#each client ? [...client.unstored.values()] : [] as c (c.id)}
      <Conflict
        bind:height={() => cards[c.id] ?? 0, (h) => (cards[c.id] = h)}
        top={topOf(c.id)}
        why={c.why}
        mine={mineOf(c.id)}
        theirs={textOf(c.theirs)}
        conflict={c.conflict}
        onmine={() => keepMine(c.id)}
        oncopy={() => void copy(c.id)}
        ontheirs={() => takeTheirs(c.id)}
        onboth={() => both(c.id)}
      />
    {/each}
    {#if noteOpen}
      {#key noteOpen}
        <NoteBubble
          bind:this={bubble}
          outer={noteOpen.outer}
          place={() => find(noteOpen?.id ?? '')?.pos ?? null}
          acts={viewActs}
          takeBack={() => does(takingBack(acts))}
          doAgain={() => does(doingAgain(acts))}
          onclose={() => (noteOpen = null)}
        />
      {/key}
    {/if}
    {#if atom && !panel}
      {#key atom.node.attrs.id}
        <AtomBar
          label={atom.label}
          says={atom.says}
          anchor={atCaret}
          onfollow={atom.node.type === schema.nodes.crossReference && onfollow ? follow : null}
          onchange={changeAtom}
          ontakeout={takeOutAtom}
          onclose={() => (atom = null)}
        />
      {/key}
    {/if}
    {#if panel?.kind === 'role'}
      <Pick
        label={inTable ? 'In this table' : 'What this is'}
        choices={inTable ? [...tableActs, ...spanRoles] : [...blockRoles, ...spanRoles, ...roles.map(ownRole)]}
        anchor={panel.anchor}
        onchoose={chooseRole}
        onclose={close}
        {...onrole ? { onnew: newRole } : {}}
        newLabel={`New role founded on ${founded}:`}
      />
    {:else if panel?.kind === 'put'}
      <Pick label="Put in" choices={putIn} anchor={panel.anchor} onchoose={choosePut} onclose={() => waiting && close()} />
    {:else if panel?.kind === 'reference'}
      <ReferencePanel
        {manualId}
        anchor={panel.anchor}
        onchoose={putReference}
        onclose={close}
        {...changing ? { pointed: changing.node.attrs as { target: string; form: string } } : {}}
      />
    {:else if panel?.kind === 'entry'}
      <EntryPanel
        {manualId}
        anchor={panel.anchor}
        words={selectedWords()}
        hasSelection={selectedWords().length > 0}
        was={changing && entryOf(changing.node)}
        onchoose={putEntry}
        onclose={close}
      />
    {:else if panel?.kind === 'figure' && changing}
      <FigurePanel
        anchor={panel.anchor}
        figure={changing.node.attrs as FigureSettings}
        onkeep={(figure) => {
          panel = null;
          changed({ ...figure });
        }}
        onreplace={() => {
          const figure = String(changing!.node.attrs.id);
          close();
          choosePicture(figure);
        }}
        onclose={close}
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
    {:else if panel?.kind === 'variable'}
      <Pick
        label="Variable"
        choices={variables.map((v) => ({ name: v, command: () => true }))}
        anchor={panel.anchor}
        onchoose={(v) => {
          panel = null;
          if (changing) changed({ name: v.name });
          else insert(schema.nodes.variable!.create({ name: v.name }));
        }}
        onclose={close}
      />
    {/if}
  </div>
</div>

<style>
  .scroll {
    contain: strict;
    container-type: inline-size;
    background: var(--paper);
    overflow: hidden auto;
    min-width: 0;
    position: relative;
  }
  .ways {
    position: sticky;
    top: 0;
    z-index: 3;
    display: flex;
    flex-wrap: wrap;
    justify-content: center;
    gap: 2px 4px;
    padding: 5px 8px;
    background: var(--paper);
    border-bottom: 1px solid var(--rule);
    font-size: 11.5px;
  }
  .ways button {
    padding: 1px 7px;
    color: var(--ink-soft);
    border-radius: var(--r);
    cursor: pointer;
    white-space: nowrap;
  }
  .ways button:hover {
    background: var(--bottle-tint);
    color: var(--ink);
  }
  .ways .key {
    border: 0;
    padding: 0 0 0 2px;
    background: none;
    font-size: 10px;
    letter-spacing: -0.04em;
  }
  @container (max-width: 600px) {
    .ways .key {
      display: none;
    }
  }
  .sheet {
    --role-margin: 80px;
    --beside-margin: 104px;
    position: relative;
    min-height: 100%;
    padding: 22px var(--beside-margin) 40vh var(--role-margin);
    max-width: 780px;
    margin: 0 auto;
  }
  /* A narrow manuscript gives its margin to the text; what stands beside is still marked in the line. */
  @container (max-width: 560px) {
    .sheet {
      --role-margin: 78px;
      --beside-margin: 18px;
    }
    .sheet :global(.beside) {
      display: none;
    }
  }
  .scroll.part .sheet {
    padding-top: 10px;
    padding-bottom: 20px;
  }
  .title {
    display: flex;
    align-items: baseline;
    gap: 12px;
    margin-bottom: 18px;
    font: 500 27px/1.2 var(--text);
  }
  .title .number {
    color: var(--ink-soft);
  }
  .title textarea {
    flex: 1;
    resize: none;
    overflow: hidden;
    min-width: 0;
    background: none;
    border-bottom: 1px solid transparent;
  }
  .title textarea:hover,
  .title textarea:focus {
    border-bottom-color: var(--rule);
    outline: none;
  }
  .role {
    position: absolute;
    left: 0;
    width: calc(var(--role-margin) - 12px);
    overflow: hidden;
    text-overflow: ellipsis;
    text-align: right;
    font: 600 10.5px/24px var(--ui);
    color: var(--bottle);
    cursor: pointer;
    white-space: nowrap;
    z-index: 2;
  }
</style>
