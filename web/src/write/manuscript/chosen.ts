// What panels do to the text, as transactions: to what is chosen in the line, to the block with the caret.
import type { Node } from 'prosemirror-model';
import { NodeSelection, TextSelection, type EditorState, type Transaction } from 'prosemirror-state';
import { newId } from '../../shared/api';
import type { NewEntry } from '../panels/EntryPanel.svelte';
import { chosenAtom } from './atoms';
import { findBlock } from './blocks';
import { schema } from './schema';
import { settingsOf } from './settings';

/** The innermost block with the caret that something can be set of. */
export function settableAt({ selection }: EditorState): { node: Node; pos: number } | null {
  for (let depth = selection.$from.depth; depth > 0; depth--) {
    const node = selection.$from.node(depth);
    if (settingsOf[node.type.name]) return { node, pos: selection.$from.before(depth) };
  }
  return null;
}

/** Sets a node's attributes, wherever it stands now; null when it was taken out meanwhile. */
export function withSettings(state: EditorState, node: Node, pos: number, attrs: Record<string, unknown>): Transaction | null {
  const at = node.attrs.id ? (findBlock(String(node.attrs.id), state.doc)?.pos ?? null) : pos;
  if (at === null) return null;
  const tr = state.tr;
  for (const [name, value] of Object.entries(attrs)) tr.setNodeAttribute(at, name, value);
  if (tr.doc.nodeAt(at)!.isAtom) tr.setSelection(NodeSelection.create(tr.doc, at));
  return tr;
}

/** Gives an atom other attributes; both ends of a range keep the same. */
export function withAttributes(state: EditorState, was: Node, attrs: Record<string, unknown>): Transaction {
  const tr = state.tr;
  const { from } = state.selection;
  state.doc.descendants((node, pos) => {
    const same = was.attrs.id ? node.attrs.id === was.attrs.id : pos === from;
    if (same && node.type === was.type) for (const [name, value] of Object.entries(attrs)) tr.setNodeAttribute(pos, name, value);
  });
  return tr.doc.nodeAt(from)?.type === was.type ? tr.setSelection(NodeSelection.create(tr.doc, from)) : tr;
}

/** A letter behind the atom that is chosen, and the caret behind it; null when none is. */
export function behindChosen(state: EditorState, letter: string): Transaction | null {
  if (!chosenAtom(state)) return null;
  const { to } = state.selection;
  const $to = state.doc.resolve(to);
  if (!$to.parent.inlineContent) {
    // Behind a block there is no line to type in yet.
    const behind = state.tr.insert(to, schema.nodes.paragraph!.create({ id: newId() }, schema.text(letter)));
    return behind.setSelection(TextSelection.create(behind.doc, to + 1 + letter.length));
  }
  const tr = state.tr.insertText(letter, to);
  return tr.setSelection(TextSelection.create(tr.doc, to + letter.length));
}

/** An index entry at the caret, or round the selected words. */
export function entryPut(state: EditorState, entry: NewEntry): Transaction {
  const { range, ...attrs } = entry;
  const id = newId();
  const make = (kind: string | null) => schema.nodes.indexEntry!.create({ id, kind, ...attrs });
  const { from, to } = state.selection;
  return range ? state.tr.insert(to, make('rangeEnd')).insert(from, make('rangeStart')) : state.tr.insert(from, make(null));
}

/** The entry put before the selected words, and chosen, so that it can be changed where it stands. */
export function entryPutAndChosen(state: EditorState, headings: string[]): Transaction {
  const { from } = state.selection;
  const plain = { headings, principal: false, see: null, seeAlso: null, filesUnder: null, range: false };
  const tr = entryPut(state, plain);
  return tr.setSelection(NodeSelection.create(tr.doc, from));
}
