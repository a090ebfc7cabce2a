// Blocks of the manuscript by their identity, and one turned into another.
import type { Node } from 'prosemirror-model';
import type { EditorState, Transaction } from 'prosemirror-state';

export function findBlock(id: string, doc: Node | undefined): { node: Node; pos: number } | null {
  let found: { node: Node; pos: number } | null = null;
  doc?.descendants((node, pos) => {
    if (found) return false;
    if (node.attrs.id === id) found = { node, pos };
    return found === null;
  });
  return found;
}

/** Turns one block into another by the smallest step, so that the writer's own undo and caret outlive it. */
export function becoming(tr: Transaction, pos: number, was: Node, is: Node): Transaction {
  if (!was.sameMarkup(is)) return tr.replaceWith(pos, pos + was.nodeSize, is);
  const start = was.content.findDiffStart(is.content);
  const end = was.content.findDiffEnd(is.content);
  if (start === null || !end) return tr;
  const overlap = Math.max(0, start - Math.min(end.a, end.b));
  return tr.replace(pos + 1 + start, pos + 1 + end.a + overlap, is.slice(start, end.b + overlap));
}

/** The ids of the division's own blocks that the selection reaches into. */
export function selectedBlocks({ doc, selection }: EditorState): string[] {
  const rows: string[] = [];
  doc.forEach((node, pos) => {
    if (pos + node.nodeSize > selection.from && pos <= selection.to && (pos < selection.to || selection.empty))
      rows.push(String(node.attrs.id));
  });
  return rows;
}
