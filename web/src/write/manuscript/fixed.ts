// Text that a pattern fixed: it is shown, composed and counted, and changes only in the pattern.
import type { Node } from 'prosemirror-model';
import { Plugin } from 'prosemirror-state';
import { Decoration, DecorationSet } from 'prosemirror-view';

function fixedBlocks(doc: Node): Map<string, Node> {
  const found = new Map<string, Node>();
  doc.forEach((node) => {
    if (node.attrs.fixedBy) found.set(node.attrs.id as string, node);
  });
  return found;
}

/** Refuses a change of fixed text and says why; changes that came from the server pass. */
export function fixed(tell: (words: string) => void) {
  return new Plugin({
    filterTransaction(tr, state) {
      if (!tr.docChanged || tr.getMeta('remote')) return true;
      const before = fixedBlocks(state.doc);
      if (before.size === 0) return true;
      const after = fixedBlocks(tr.doc);
      for (const [id, node] of before) {
        const now = after.get(id);
        if (now !== node && !now?.eq(node)) {
          tell(`This text is fixed by the pattern “${node.attrs.fixedBy}”; it changes only there.`);
          return false;
        }
      }
      return true;
    },
    props: {
      decorations(state) {
        const marks: Decoration[] = [];
        state.doc.forEach((node, offset) => {
          if (node.attrs.fixedBy)
            marks.push(
              Decoration.node(offset, offset + node.nodeSize, { class: 'fixed', title: `Fixed by the pattern “${node.attrs.fixedBy}”` }),
            );
        });
        return marks.length > 0 ? DecorationSet.create(state.doc, marks) : null;
      },
    },
  });
}
