import { beforeEach, expect, it } from 'vitest';
import { Slice, type Node } from 'prosemirror-model';
import { EditorState, TextSelection, type Transaction } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import { notices } from '../../shared/notices.svelte';
import { MarksAlong } from './marks-along';
import { schema } from './schema';

const n = schema.nodes;
const entry = (id: string, heading: string) => n.indexEntry!.create({ id, headings: [heading] });
const line = (id: string, content: Node[]) => n.paragraph!.create({ id }, content);

let state: EditorState;
let along: MarksAlong;
const view = {
  get state() {
    return state;
  },
  focus() {},
  dispatch: (tr: Transaction) => apply(tr),
} as unknown as EditorView;
function apply(tr: Transaction) {
  const before = state;
  state = state.apply(tr);
  along.follow(tr, before);
}
const headings = () => {
  const found: string[] = [];
  state.doc.descendants((node) => void (node.type === n.indexEntry && found.push((node.attrs.headings as string[])[0]!)));
  return found;
};

beforeEach(() => {
  state = EditorState.create({
    doc: n.doc!.create(null, [
      line('a', [schema.text('Before it. ')]),
      line('b', [schema.text('Turn the '), entry('e1', 'crank'), schema.text('crank and the '), entry('e2', 'drum'), schema.text('drum.')]),
      line('c', [schema.text('After it.')]),
    ]),
  });
  along = new MarksAlong(() => view);
  notices.dismiss();
});

it('says which marks went with words, and keeps them by choice where the words stood', () => {
  const from = state.doc.child(0).nodeSize + 1 + 4;
  apply(state.tr.delete(from, from + 10));
  expect(headings()).toEqual(['drum']);
  expect(notices.current?.text).toContain('went the index entry “crank”');
  apply(state.tr.insertText('!', 1));
  along.deed!.run();
  expect(headings()).toEqual(['crank', 'drum']);
  expect(state.doc.child(1).textBetween(0, state.doc.child(1).content.size, '', '|')).toBe('Turn|k and the |drum.');
  expect(along.deed).toBeNull();
});

it('keeps the marks of a paragraph that went in the one before it, never in one of their own', () => {
  const at = state.doc.child(0).nodeSize;
  apply(state.tr.delete(at, at + state.doc.child(1).nodeSize));
  expect(notices.current?.text).toContain('2 index entries: crank, drum');
  along.deed!.run();
  expect(state.doc.childCount).toBe(2);
  expect(headings()).toEqual(['crank', 'drum']);
  expect(state.doc.child(0).textContent).toBe('Before it. ');
});

it('says nothing when the mark itself is taken out, or words without one', () => {
  let at = -1;
  state.doc.descendants((node, pos) => void (node.attrs.id === 'e1' && (at = pos)));
  apply(state.tr.delete(at, at + 1));
  apply(state.tr.delete(1, 4));
  expect(notices.current).toBeNull();
  expect(along.deed).toBeNull();
});

it('says nothing of words that only moved to another place of the text', () => {
  const at = state.doc.child(0).nodeSize;
  const moved = state.doc.child(1);
  const tr = state.tr.delete(at, at + moved.nodeSize);
  apply(tr.insert(tr.doc.content.size, moved));
  expect(headings()).toEqual(['crank', 'drum']);
  expect(along.deed).toBeNull();
});

it('says which marks came with pasted words, and leaves them out by choice', () => {
  const words = line('d', [schema.text('the '), entry('e9', 'sheave'), schema.text('sheave')]);
  const tr = state.tr.setSelection(TextSelection.create(state.doc, 3));
  apply(tr.replaceSelection(new Slice(words.content, 0, 0)).setMeta('uiEvent', 'paste'));
  expect(notices.current?.text).toContain('came the index entry “sheave”');
  along.deed!.run();
  expect(headings()).toEqual(['crank', 'drum']);
  expect(state.doc.child(0).textContent).toBe('Bethe sheavefore it. ');
});
