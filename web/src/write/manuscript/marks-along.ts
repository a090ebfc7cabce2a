// Index entries and anchors stand among words. When words are taken out or come in, the marks among them go along: this says
// which, so that the writer can keep them, or leave them out.
import type { Node } from 'prosemirror-model';
import { isHistoryTransaction } from 'prosemirror-history';
import { Selection, type EditorState, type Transaction } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import { notices } from '../../shared/notices.svelte';
import { schema } from './schema';

const isMark = (node: Node) => node.type === schema.nodes.indexEntry || node.type === schema.nodes.anchor;
const keyOf = (node: Node) => `${node.type.name} ${node.attrs.id as string} ${(node.attrs.kind as string | null) ?? ''}`;

function marksIn(doc: Node): Map<string, Node> {
  const found = new Map<string, Node>();
  doc.descendants((node) => {
    if (isMark(node)) found.set(keyOf(node), node);
    return !node.isLeaf;
  });
  return found;
}

/** Marks that went with words, and where the words stood. */
interface MarksGone {
  marks: Node[];
  pos: number;
}

/** The marks that a writer's own change took out with words; null for none, or when nothing but marks was taken out.
 */
function marksGone(tr: Transaction): MarksGone | null {
  if (!tr.docChanged) return null;
  const touched: Node[] = [];
  let words = false;
  let pos = -1;
  tr.steps.forEach((step, at) => {
    step.getMap().forEach((from, to, newFrom) => {
      if (to <= from) return;
      const doc = tr.docs[at]!;
      const some = touched.length;
      doc.nodesBetween(from, to, (node, start) => {
        if (node.isText && start < to && start + node.nodeSize > from) words = true;
        if (isMark(node) && start >= from && start < to) touched.push(node);
        return true;
      });
      if (pos < 0 && touched.length > some) pos = tr.mapping.slice(at + 1).map(newFrom);
    });
  });
  if (touched.length === 0 || !words) return null;
  const left = marksIn(tr.doc);
  const marks = touched.filter((mark) => !left.has(keyOf(mark)));
  return marks.length > 0 ? { marks, pos } : null;
}

/** The marks that came in with pasted or dropped words and were not in the text before; empty for none. */
function marksCome(tr: Transaction, before: EditorState): Node[] {
  if (!tr.docChanged || !['paste', 'drop'].includes(String(tr.getMeta('uiEvent')))) return [];
  const had = marksIn(before.doc);
  return [...marksIn(tr.doc)].filter(([key]) => !had.has(key)).map(([, node]) => node);
}

/** The marks put back where their words stood: in that line, or at the end of the one before it. Never in a line of their own. */
function keptMarks(state: EditorState, gone: MarksGone): Transaction {
  const tr = state.tr;
  const $at = state.doc.resolve(Math.min(gone.pos, state.doc.content.size));
  const here = $at.parent.inlineContent && $at.parent.content.size > 0;
  const near = here ? $at : (Selection.findFrom($at, -1, true) ?? Selection.findFrom($at, 1, true))?.$from;
  if (!near?.parent.inlineContent) return tr;
  const fitting = gone.marks.filter((mark) => near.parent.type.contentMatch.matchType(mark.type));
  return tr.insert(near.pos, fitting);
}

/** The marks taken out again, wherever they stand now. */
function withoutMarks(state: EditorState, marks: readonly Node[]): Transaction {
  const keys = new Set(marks.map(keyOf));
  const places: number[] = [];
  state.doc.descendants((node, pos) => {
    if (isMark(node) && keys.has(keyOf(node))) places.push(pos);
    return !node.isLeaf;
  });
  const tr = state.tr;
  for (const pos of places.reverse()) tr.delete(pos, pos + 1);
  return tr;
}

/** “the index entry “brake”” or “3 index entries and anchors: brake, drum, …”. */
function marksInWords(marks: readonly Node[]): string {
  const names = [
    ...new Set(marks.map((m) => (m.type === schema.nodes.anchor ? String(m.attrs.name) : (m.attrs.headings as string[]).join(' › ')))),
  ];
  const kinds = new Set(marks.map((m) => m.type.name));
  const kind =
    kinds.size > 1
      ? 'marks'
      : kinds.has('anchor')
        ? names.length > 1
          ? 'anchors'
          : 'anchor'
        : names.length > 1
          ? 'index entries'
          : 'index entry';
  return names.length === 1
    ? `the ${kind} “${names[0]}”`
    : `${names.length} ${kind}: ${names.slice(0, 3).join(', ')}${names.length > 3 ? ' …' : ''}`;
}

/** Tells when marks go or come with words, and holds what can be chosen otherwise until the next such change. */
export class MarksAlong {
  #gone: MarksGone | null = null;
  #deed: { name: string; run: () => void } | null = null;
  readonly #view: () => EditorView | null;

  constructor(view: () => EditorView | null) {
    this.#view = view;
  }

  /** What can be chosen otherwise now. */
  get deed() {
    return this.#deed;
  }

  /** The text has changed. */
  follow(tr: Transaction, before: EditorState) {
    if (!tr.docChanged) return;
    if (this.#gone) this.#gone.pos = tr.mapping.map(this.#gone.pos, -1);
    if (tr.getMeta('remote') || isHistoryTransaction(tr)) return;
    const gone = marksGone(tr);
    const come = gone ? [] : marksCome(tr, before);
    if (gone) this.#offer(`went ${marksInWords(gone.marks)}`, 'Keep', (state) => keptMarks(state, gone), gone);
    else if (come.length > 0) this.#offer(`came ${marksInWords(come)}`, 'Leave out', (state) => withoutMarks(state, come), null);
  }

  #offer(said: string, does: string, change: (state: EditorState) => Transaction, gone: MarksGone | null) {
    const run = () => {
      const view = this.#view();
      this.#gone = this.#deed = null;
      notices.dismiss();
      if (!view) return;
      view.dispatch(change(view.state));
      view.focus();
    };
    this.#gone = gone;
    this.#deed = { name: `${does} ${said.replace(/^\w+ /, '')}`, run };
    notices.tell(`With these words ${said}. ${does}: Ctrl ; k.`, run, does);
  }
}
