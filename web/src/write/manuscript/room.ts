// Room under a block for the card of its text that is not stored: what follows moves down and is not covered.
import { Plugin, PluginKey } from 'prosemirror-state';
import { Decoration, DecorationSet } from 'prosemirror-view';

/** Ids of blocks of the division with the height in pixels each needs under it. */
export type Room = [id: string, height: number][];

export const roomKey = new PluginKey<DecorationSet>('room');

export const room = new Plugin<DecorationSet>({
  key: roomKey,
  state: {
    init: () => DecorationSet.empty,
    apply: (tr, set) => {
      const asked = tr.getMeta(roomKey) as Room | undefined;
      if (!asked) return set.map(tr.mapping, tr.doc);
      const heights = new Map(asked);
      const drawn: Decoration[] = [];
      if (heights.size > 0)
        tr.doc.forEach((node, pos) => {
          const height = heights.get(node.attrs.id as string);
          if (height) drawn.push(Decoration.node(pos, pos + node.nodeSize, { style: `margin-bottom: ${height}px` }));
        });
      return DecorationSet.create(tr.doc, drawn);
    },
  },
  props: { decorations: (state) => roomKey.getState(state) },
});
