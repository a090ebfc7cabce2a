<script lang="ts">
  import { history } from 'prosemirror-history';
  import { EditorState, Selection, TextSelection, type Command } from 'prosemirror-state';
  import { EditorView } from 'prosemirror-view';
  import { gapCursor } from 'prosemirror-gapcursor';
  import { isInTable, tableEditing } from 'prosemirror-tables';
  import type { Node, Slice } from 'prosemirror-model';
  import { untrack, type Snippet } from 'svelte';
  import { newId, type DeskDivision, type DivisionMarks, type LooseEnd, type OwnRole } from '../../shared/api';
  import { afterPaint } from '../../shared/after-paint';
  import { notices } from '../../shared/notices.svelte';
  import type { ChangedElsewhere } from '../../live/live-proof.svelte';
  import { DeskClient } from '../../live/desk-client.svelte';
  import { writer } from '../../live/tab';
  import { dropUnsent, type Unsent } from '../../live/unsent';
  import type { KeptOnce } from '../../kept/kept-once.svelte';
  import { applies, seenByKey, type SeenBy } from './applies';
  import { Arriving } from './arriving';
  import AtCaret from './AtCaret.svelte';
  import { caretPlace, type CaretPlace } from './caret-place';
  import { columnDrag } from './column-drag';
  import { findBlock } from './blocks';
  import Conflicts from './Conflicts.svelte';
  import { fixed } from './fixed';
  import { identities, repair } from './identities';
  import { inSight } from './in-sight';
  import { doingAgain, keys, takingBack } from './keys';
  import { clipboardParser, clipboardSerializer, pasted, pictureFiles, plainWords } from './clipboard';
  import { MarksAlong } from './marks-along';
  import { margins, marginsKey, positionOf } from './margins';
  import { noted } from './noted';
  import { picturesLeft, plainSlice, rolesOfHtml, tooMuch } from './pasted-words';
  import { readCaret } from './read-caret';
  import { room as roomUnder } from './room';
  import { nodeViews, PrintedWords, type NodeViewActs } from './node-views';
  import { PassageView } from './passage-view.svelte';
  import { roleAt } from './roles';
  import { atEnd } from './put';
  import { SpellCheck } from '../spelling/spell-check.svelte';
  import { respelled, spelling, spellingKey, wordsOf } from '../spelling/spelling';
  import { schema } from './schema';
  import { signs } from './signs';
  import { nodeOfBody } from './stored';
  import { long } from './stretches';
  import { directionOf } from '../../shared/writing';
  import { tableHeads } from './tables';
  import Titles from './Titles.svelte';
  import { cellsOf, tabbedTable, tableTooLarge } from './web-table';
  import Ways, { type Way } from './Ways.svelte';
  import './manuscript.css';

  interface Props {
    manualId: string;
    division: DeskDivision;
    number: string;
    marks: DivisionMarks | null;
    looseEnds: LooseEnd[];
    variables: string[];
    kept?: KeptOnce;
    onkept?: () => void;
    /** Whose view of the text is shown; null for all there is. */
    seenBy?: SeenBy | null;
    /** Stands over the text, behind the ways. */
    over?: Snippet;
    oncaret: (place: CaretPlace) => void;
    onclient: (client: DeskClient) => void;
    ontitled: (title: string, act: number) => void;
    onshorten?: (shortTitle: string) => void;
    /** What earlier visits left unsent here. */
    left?: Unsent[];
    ontakeback: (again: boolean) => void;
    /** Where there is more of the screen than the text. */
    onfind?: () => void;
    onkeys?: () => void;
    onfollow?: (target: string, manual: string | null) => void;
    /** Asks who points at a block; where that was asked. */
    onpointed?: (target: string, at: Element) => void;
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
    kept,
    onkept,
    seenBy = null,
    over,
    oncaret,
    onclient,
    ontitled,
    onshorten,
    left = [],
    ontakeback,
    onfind,
    onkeys,
    onfollow,
    onpointed,
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
  const words = new PrintedWords();
  let atCaret = $state<ReturnType<typeof AtCaret>>();

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

  const marksAlong = new MarksAlong(() => view);
  const undo = history({ newGroupDelay: 400 });
  let owed = false;

  /** Passages by the id of their use, as they were drawn last. */
  const passages = new Map<string, PassageView>();

  $effect(() => {
    const told = { seenBy };
    if (view) untrack(() => arriving.quietly((tr) => tr.setMeta(seenByKey, told)));
  });

  // svelte-ignore state_referenced_locally
  const viewActs: NodeViewActs = {
    words,
    manual: manualId,
    takeBack: (again) => ontakeback(again),
    stored: (act) => onstored(act),
    changeFigure: (pos) => atCaret?.changeFigure(pos),
    openNote: (id) => atCaret?.openNote(id),
    caretInPassage: (use, inner) => oncaret({ ...place, block: `${use}/${inner.block}`, own: use, typed: inner.typed }),
  };

  // svelte-ignore state_referenced_locally
  const arriving = new Arriving({
    view: () => view,
    client: () => client,
    division: division.id,
    readCaret: () => readCaret(view),
    settle() {
      readCaret(view);
      handOver();
    },
  });

  /** Another writer's changes come in as small steps that this writer's undo does not touch. */
  export const changedElsewhere = (change: ChangedElsewhere) => arriving.changedElsewhere(change);

  /** A block, and for one of a passage, named by the way to it, the use it stands in. */
  const find = (id: string) => findBlock(id.split('/')[0]!, view?.state.doc);

  /** Gives what was typed to the desk client. */
  function handOver() {
    if (!owed || !view) return;
    owed = false;
    client?.changed(view.state.doc);
  }

  function mountEditor(holder: HTMLElement) {
    return untrack(() => {
      const desk = new DeskClient(
        manualId,
        division.id,
        {
          merged: (id, sent, body) => arriving.merged(id, sent, body),
          answered: () => arriving.answered(),
          stored: onstored,
          titled: ontitled,
        },
        partAfter,
      );
      client = desk;
      const { doc, versions } = fromDivision(division);
      let state = EditorState.create({
        doc,
        plugins: [
          undo,
          ...keys(acts),
          signs(division.language),
          fixed(notices.tell),
          applies,
          identities,
          inSight,
          margins,
          noted,
          spelling,
          roomUnder,
          tableHeads,
          columnDrag,
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
        nodeViews: {
          ...nodeViews(viewActs),
          ...(kept
            ? {
                passageUse: (node, own, getPos) => {
                  const passage = new PassageView(node, own, getPos, viewActs, kept);
                  passages.set(String(node.attrs.id), passage);
                  return passage;
                },
              }
            : {}),
        },
        clipboardSerializer,
        clipboardParser,
        clipboardTextSerializer: (slice) => plainWords(slice, (leaf) => words.of(leaf)),
        clipboardTextParser: (text, _, plain) => (plain ? null : (tabbedTable(text) ?? plainSlice(text))) as Slice,
        transformPastedHTML: rolesOfHtml,
        transformPasted: (slice, own) => {
          const fresh = pasted(slice);
          return isInTable(own.state) ? cellsOf(fresh) : fresh;
        },
        attributes: {
          class: 'manuscript',
          role: 'textbox',
          'aria-multiline': 'true',
          'aria-label': `Text of ${division.title}`,
          lang: division.language,
          dir: directionOf(division.language),
          spellcheck: 'false',
        },
        handleKeyDown: (_, event) => {
          readCaret(view);
          return atCaret?.chord(event) || (event.key === 'Enter' && atCaret?.enter()) || false;
        },
        handleTextInput: (_, _from, _to, text) => atCaret?.letter(text) ?? false,
        handlePaste(_, event, slice) {
          const files = pictureFiles(event.clipboardData);
          const [text, html] = ['text/plain', 'text/html'].map((type) => event.clipboardData?.getData(type) ?? '');
          const refused = tooMuch(text!, html!, slice.content.childCount) ?? tableTooLarge(html!);
          if (refused) {
            notices.problem(new Error(refused));
            return true;
          }
          if (files.length === 0) {
            const left = picturesLeft(html!);
            if (left > 0)
              notices.tell(
                `${left === 1 ? 'A picture' : `${left} pictures`} did not come with the words: put ${left === 1 ? 'it' : 'them'} in from files.`,
              );
            return false;
          }
          void atCaret?.bringPictures(files);
          return true;
        },
        handleDrop(own, event) {
          const files = pictureFiles(event.dataTransfer);
          if (files.length === 0) return false;
          const at = own.posAtCoords({ left: event.clientX, top: event.clientY });
          if (at) own.dispatch(own.state.tr.setSelection(Selection.near(own.state.doc.resolve(at.pos))));
          void atCaret?.bringPictures(files);
          event.preventDefault();
          return true;
        },
        handleDOMEvents: {
          click: (_, event) => {
            const button = (event.target as HTMLElement).closest<HTMLElement>('[data-pointed]');
            if (button) onpointed?.(button.dataset.pointed!, button);
            return button !== null;
          },
          blur: () => {
            atCaret?.left();
          },
          focus: () => caret(),
        },
        dispatchTransaction(tr) {
          const before = view!.state;
          const next = before.apply(tr);
          view!.updateState(next);
          marksAlong.follow(tr, before);
          if (tr.docChanged && tr.getMeta('remote')) desk.sees(next.doc);
          else if (tr.docChanged) {
            owed = true;
            desk.expects();
            // Comparing a long division with what was sent may not hold up the letter.
            if (next.doc.childCount > long) afterPaint(handOver);
            else handOver();
          }
          if (tr.docChanged || tr.selectionSet) caret();
          if (tr.docChanged) {
            atCaret?.follows();
            check.soon();
          }
        },
      });
      onclient(desk);
      for (const unsent of left) {
        arriving.bringBack(unsent);
        if (unsent.title !== null && unsent.title !== division.title) desk.rename(unsent.title);
        if (unsent.tab !== writer) void dropUnsent(unsent);
      }
      caret();
      const keepNow = () => {
        readCaret(view);
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

  $effect(() => {
    const input = { marks, looseEnds };
    if (!view) return;
    untrack(() => {
      if (input.marks) words.set(input.marks);
      arriving.quietly((tr) => tr.setMeta(marginsKey, input));
    });
  });

  let place: CaretPlace = { block: '', own: '', typed: 0, path: [], head: null };
  let caretMoved = false;
  function caret() {
    if (caretMoved) return;
    caretMoved = true;
    afterPaint(() => {
      caretMoved = false;
      if (!view) return;
      role = atCaret?.moved() ?? roleAt(view.state);
      place = caretPlace(view.state);
      oncaret(place);
      const coords = view.coordsAtPos(view.state.selection.from);
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
    // A block of a passage comes behind its use, and before whatever comes next.
    const [use, ...inner] = block.split('/');
    const at = order.of.get(use!) ?? -1;
    return at < 0 || inner.length === 0 ? at : at + ((passages.get(use!)?.orderOf(inner.join('/')) ?? -1) + 1) * 1e-6;
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

  // ---- over and under the text ----

  const does = (command: Command) => command(view!.state, view!.dispatch, view!);

  function act(command: Command) {
    does(command);
    view!.focus();
  }

  /** What stands quietly over the text, for whoever does not know the keys yet. */
  const ways = $derived<Way[]>([
    { name: 'What this is', key: 'Ctrl .', run: () => atCaret?.askRole() },
    { name: 'Put in', key: 'Ctrl ;', run: () => atCaret?.askPut() },
    ...(onfind ? [{ name: 'Find', key: 'Ctrl F', run: onfind }] : []),
    { name: 'Take back', sign: '↶', key: 'Ctrl Z', run: () => act(takingBack(acts)) },
    { name: 'Do again', sign: '↷', key: 'Ctrl Y', run: () => act(doingAgain(acts)) },
    ...(onkept ? [{ name: 'Kept once', key: 'F4', run: onkept }] : []),
    ...(onkeys ? [{ name: 'Keys', sign: '?', key: 'Ctrl /', run: onkeys }] : []),
  ]);

  /** A click under the last block goes on there, whatever that block is. */
  function below(event: MouseEvent) {
    if (!view || event.target !== sheet || event.clientY < view.dom.getBoundingClientRect().bottom) return;
    view.dispatch(atEnd(view.state.tr).scrollIntoView());
    view.focus();
  }

  export const focus = () => view?.focus();

  // svelte-ignore state_referenced_locally
  const check = new SpellCheck(
    division.language,
    () => view,
    (wrong) => arriving.quietly((tr) => tr.setMeta(spellingKey, wrong)),
  );
  export const spellCheck = () => check;

  $effect(() => {
    const words = kept?.now.acceptedWords ?? [];
    untrack(() => check.accept(words));
    return () => check.stop();
  });

  /** Goes to the next place of a word behind the caret, or to the first. */
  export function goToWord(word: string) {
    if (!view) return;
    const places = [...wordsOf(view.state.doc)].filter((w) => w.word === word).sort((a, b) => a.from - b.from);
    const place = places.find((w) => w.from > view!.state.selection.from) ?? places[0];
    if (!place) return;
    view.dispatch(view.state.tr.setSelection(TextSelection.create(view.state.doc, place.from, place.to)).scrollIntoView());
    view.focus();
  }

  /** Writes another word in all places of one, as one change. */
  export function replaceWord(word: string, by: string) {
    if (!view) return;
    const places = [...wordsOf(view.state.doc)].filter((w) => w.word === word);
    view.dispatch(respelled(view.state, places, by));
  }

  /** What was typed so far is the server's to take back from now on, after an act that was made elsewhere on the screen. */
  export function closeUndo() {
    if (!view) return;
    const { plugins } = view.state;
    const without = view.state.reconfigure({ plugins: plugins.filter((p) => p !== undo) });
    view.updateState(without.reconfigure({ plugins }));
  }

  export const chosenWords = () => atCaret?.chosenWords() ?? '';
</script>

<div class="scroll" class:part={partAfter !== null}>
  {#if partAfter === null}
    <Ways {ways} {over} />
  {/if}
  <!-- The keyboard goes there by itself. -->
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
  <div class="sheet" bind:this={sheet} onclick={below}>
    {#if partAfter === null}
      <Titles
        title={division.title}
        shortTitle={division.shortTitle}
        {number}
        onrename={(title) => client?.rename(title)}
        {onshorten}
        onleave={() => view?.focus()}
      />
    {/if}
    <button class="role" style:top="{roleTop}px" tabindex="-1" title="What this is (Ctrl .)" onclick={() => atCaret?.askRole()}
      >{role} ▾</button
    >
    <div class="editor" {@attach mountEditor}></div>
    {#if client && sheet}<Conflicts {client} {sheet} {arriving} editor={() => view} />{/if}
    <AtCaret
      bind:this={atCaret}
      {manualId}
      editor={() => view}
      {viewActs}
      {variables}
      {roles}
      {kept}
      {onkept}
      suggest={(word) => check.suggestions(word)}
      typeIn={(use) => passages.get(use)?.type()}
      {onrole}
      {onfollow}
      alongDeed={() => marksAlong.deed}
      takeBack={() => does(takingBack(acts))}
      doAgain={() => does(doingAgain(acts))}
    />
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
