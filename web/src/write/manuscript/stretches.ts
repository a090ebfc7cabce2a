// Which blocks of a division are laid out, and what of them is drawn: all of a short one, and of a long one those in sight,
// those around the caret and those that ask something of the writer.
import type { Node } from 'prosemirror-model';
import { PluginKey, type EditorState } from 'prosemirror-state';

/** Blocks from which on a division is long. */
export const long = 150;

/** Blocks, by their index in the division, from the first up to but without the second. */
export type Stretch = [from: number, to: number];

/** The stretches that are laid out; null for all there is. */
export const stretchesKey = new PluginKey<Stretch[] | null>('stretches');

/** Stretches in order, those that touch as one. */
export function joined(stretches: Stretch[], count: number): Stretch[] {
  const found: Stretch[] = [];
  for (const [from, to] of stretches
    .map(([a, b]): Stretch => [Math.max(0, a), Math.min(count, b)])
    .filter(([a, b]) => a < b)
    .sort((a, b) => a[0] - b[0])) {
    const last = found.at(-1);
    if (last && from <= last[1] + 1) last[1] = Math.max(last[1], to);
    else found.push([from, to]);
  }
  return found;
}

/** The blocks between two heights, when each is as tall as said and they stand under one another. */
export function between(top: number, bottom: number, count: number, heightOf: (index: number) => number): Stretch {
  let y = 0;
  let from = -1;
  for (let n = 0; n < count; n++) {
    const height = heightOf(n);
    if (from < 0 && y + height > top) from = n;
    if (y >= bottom) return [Math.max(0, from), n];
    y += height;
  }
  return [from < 0 ? Math.max(0, count - 1) : from, count];
}

/** The blocks that are laid out, each with its place. */
export function* drawnBlocks(state: EditorState): Generator<{ node: Node; pos: number }> {
  const { doc } = state;
  const stretches = stretchesKey.getState(state) ?? [[0, doc.childCount]];
  let pos = 0;
  let n = 0;
  for (const [from, to] of stretches) {
    for (; n < from && n < doc.childCount; n++) pos += doc.child(n).nodeSize;
    for (; n < to && n < doc.childCount; n++) {
      const node = doc.child(n);
      yield { node, pos };
      pos += node.nodeSize;
    }
  }
}
