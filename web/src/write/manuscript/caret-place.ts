// Where the caret is, as the rest of the screen needs it.
import type { Node } from 'prosemirror-model';
import { NodeSelection, type EditorState } from 'prosemirror-state';
import { selectedBlocks } from './blocks';
import { typedBefore } from './margins';
import { schema } from './schema';

export interface CaretPlace {
  /** The innermost block with an id. */
  block: string;
  /** The division's own block that it stands in. */
  own: string;
  /** Typed characters before the caret in the innermost block. */
  typed: number;
  /** The heads over the caret, and the steps. */
  path: string[];
  /** The head whose section it is in. */
  head: string | null;
}

export function caretPlace(state: EditorState): CaretPlace {
  const { selection } = state;
  const from = selection.$from;
  let block = selection instanceof NodeSelection && selection.node.isBlock ? String(selection.node.attrs.id) : '';
  let typed = 0;
  for (let d = block ? 0 : from.depth; d > 0; d--) {
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
  state.doc.forEach((node, offset) => {
    if (offset > from.pos || node.type !== schema.nodes.head || (node.attrs.level !== 'A' && node.attrs.level !== 'B')) return;
    path.length = node.attrs.level === 'A' ? 0 : Math.min(path.length, section ? 1 : 0);
    section ??= node;
    head = node.attrs.id as string;
    path.push(node.textContent);
  });
  for (let d = 1; d <= from.depth; d++) if (from.node(d).type === schema.nodes.step) path.push('step ' + (from.index(d - 1) + 1));
  return { block, own: selectedBlocks(state)[0] ?? '', typed, path, head };
}
