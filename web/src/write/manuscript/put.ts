// Where a block goes that is put in, and where typing goes on then.
import type { Node, ResolvedPos } from 'prosemirror-model';
import { NodeSelection, Selection, type Command, type EditorState, type Transaction } from 'prosemirror-state';
import { newId } from '../../shared/api';
import { schema } from './schema';

const n = schema.nodes;

/** Where to type in a block that was just put in at this place: a table's first cell, a listing's lines, else its first text. */
function placeInside(node: Node, pos: number): number | null {
  let found: number | null = null;
  const wanted = node.type === n.table ? n.cell : node.type === n.listing ? n.lines : null;
  node.descendants((child, at) => {
    if (found === null && (wanted ? child.type === wanted : child.isTextblock)) found = pos + 1 + at + 1;
    return found === null;
  });
  return found ?? (node.isTextblock ? pos + 1 : null);
}

/** The innermost place behind the caret's block where such a block may stand: in the step or note with the caret, else in the division. */
function placeFor($from: ResolvedPos, node: Node): { depth: number; instead: boolean } | null {
  for (let depth = $from.depth; depth > 0; depth--) {
    const parent = $from.node(depth - 1);
    const at = $from.index(depth - 1);
    const here = $from.node(depth);
    if (here.type === n.paragraph && here.content.size === 0 && parent.canReplaceWith(at, at + 1, node.type))
      return { depth, instead: true };
    if (parent.canReplaceWith(at + 1, at + 1, node.type)) return { depth, instead: false };
  }
  return null;
}

/** Puts a block behind the one with the caret, or in the place of an empty paragraph; the caret stands where typing goes on. */
export function putBlock(state: EditorState, node: Node): Transaction | null {
  const { $from } = state.selection;
  const place = placeFor($from, node);
  // Between two blocks, where the caret is in neither.
  const pos = place ? (place.instead ? $from.before(place.depth) : $from.after(place.depth)) : $from.pos;
  const tr = place?.instead ? state.tr.replaceWith(pos, $from.after(place.depth), node) : state.tr.insert(pos, node);
  const inside = placeInside(node, pos);
  if (inside !== null) return tr.setSelection(Selection.near(tr.doc.resolve(inside))).scrollIntoView();
  return textBehind(tr, pos + node.nodeSize).scrollIntoView();
}

/** Sets the caret behind a block: into the text there, or into a new paragraph where there is none. */
function textBehind(tr: Transaction, pos: number): Transaction {
  const $pos = tr.doc.resolve(pos);
  if (!$pos.nodeAfter?.isTextblock) tr.insert(pos, n.paragraph!.create({ id: newId() }));
  return tr.setSelection(Selection.near(tr.doc.resolve(pos + 1)));
}

/** The caret behind all there is: at the end of the last text, or in a new paragraph where the last block is none. */
export const atEnd = (tr: Transaction): Transaction =>
  tr.doc.lastChild!.isTextblock ? tr.setSelection(Selection.atEnd(tr.doc)) : textBehind(tr, tr.doc.content.size);

/** A paragraph behind the block with the caret: behind the table, the listing, the figure, the note, the list. */
export const paragraphBehind: Command = (state, dispatch) => {
  const { $from } = state.selection;
  if (state.selection instanceof NodeSelection && state.selection.node.isBlock) {
    dispatch?.(textBehind(state.tr, state.selection.to).scrollIntoView());
    return true;
  }
  const plain = (node: Node) => node.type === n.paragraph || node.type === n.head;
  for (let depth = plain($from.parent) ? $from.depth - 1 : $from.depth; depth > 0; depth--) {
    const parent = $from.node(depth - 1);
    const at = $from.index(depth - 1) + 1;
    if ($from.node(depth).type.isInGroup('block') && parent.canReplaceWith(at, at, n.paragraph!)) {
      const pos = $from.after(depth);
      const tr = state.tr.insert(pos, n.paragraph!.create({ id: newId() }));
      dispatch?.(tr.setSelection(Selection.near(tr.doc.resolve(pos + 1))).scrollIntoView());
      return true;
    }
  }
  return false;
};

/** A block round what the caret stands in; where that may not be, as in a step's first line, a new one behind it. */
export const wrappedOr =
  (wrap: Command, make: () => Node): Command =>
  (state, dispatch, view) => {
    if (wrap(state, dispatch, view)) return true;
    if (!state.selection.$from.parent.inlineContent || !placeFor(state.selection.$from, make())) return false;
    const tr = putBlock(state, make());
    if (tr) dispatch?.(tr);
    return tr !== null;
  };
