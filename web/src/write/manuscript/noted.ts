// The words that an open note to a colleague is about: those right before it, as long as they still say what they said.
import type { Node } from 'prosemirror-model';
import { Plugin, PluginKey } from 'prosemirror-state';
import { Decoration, DecorationSet } from 'prosemirror-view';
import { onlyLetters } from './margins';
import { schema } from './schema';

const key = new PluginKey<DecorationSet>('noted');

export const noted = new Plugin<DecorationSet>({
  key,
  state: {
    init: (_, state) => draw(state.doc),
    apply: (tr, set) => (!tr.docChanged ? set : onlyLetters(tr) ? set.map(tr.mapping, tr.doc) : draw(tr.doc)),
  },
  props: { decorations: (state) => key.getState(state) },
});

function draw(doc: Node): DecorationSet {
  const drawn: Decoration[] = [];
  doc.descendants((node, pos, parent) => {
    if (node.type !== schema.nodes.writerNote || !parent || node.attrs.done || !node.attrs.words) return;
    const words = String(node.attrs.words);
    const start = pos - doc.resolve(pos).parentOffset;
    // Atoms between the words count as one place each.
    const said = parent.textBetween(0, pos - start, undefined, '\ufffc');
    if (said.endsWith(words)) drawn.push(Decoration.inline(pos - words.length, pos, { class: 'noted' }));
  });
  return DecorationSet.create(doc, drawn);
}
