// Every block and atom keeps its identity; what a split or a copy made twice gets a new one. The first part of a split
// keeps the id. Both ends of an index range share theirs.
import { Plugin, type Transaction } from 'prosemirror-state';
import type { Node } from 'prosemirror-model';
import { newId } from '../../shared/api';
import { carriesId } from './schema';

const keyOf = (node: Node) => (node.type.name === 'indexEntry' && node.attrs.kind === 'rangeEnd' ? 'end:' : '') + String(node.attrs.id);

/** Gives ids to all that has none or one that stands earlier in the document. Null when nothing is to be done. */
export function repair(tr: Transaction, doc: Node): Transaction | null {
  const seen = new Set<string>();
  let changed = false;
  doc.descendants((node, pos) => {
    if (!carriesId(node)) return true;
    const own = node.attrs.id as string | null;
    if (!own || seen.has(keyOf(node))) {
      tr.setNodeAttribute(pos, 'id', newId());
      changed = true;
    } else seen.add(keyOf(node));
    return true;
  });
  return changed ? tr.setMeta('addToHistory', false) : null;
}

export const identities = new Plugin({
  appendTransaction(transactions, before, after) {
    if (!transactions.some((t) => t.docChanged)) return null;
    // Typing inside one text block changes no identity; only structure can.
    const structural = transactions.some((t) =>
      t.steps.some((step) => {
        const slice = (step as unknown as { slice?: { content: { size: number; firstChild: Node | null }; openStart: number } }).slice;
        return !slice || slice.openStart > 0 || (slice.content.firstChild !== null && !slice.content.firstChild.isText);
      }),
    );
    if (!structural && before.doc.childCount === after.doc.childCount) return null;
    return repair(after.tr, after.doc);
  },
});
