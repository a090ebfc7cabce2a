import { expect, test } from 'vitest';
import { EditorState } from 'prosemirror-state';
import { margins, marginsKey, onlyLetters, positionOf, typedBefore } from './margins';
import { schema } from './schema';

const { paragraph, indexEntry, lineBreak } = schema.nodes;
const entry = () => indexEntry!.create({ id: 'e', headings: ['winch'] });
// "The ◆winch turns" with an atom that counts nothing as typed.
const block = paragraph!.create({ id: 'p' }, [schema.text('The '), entry(), schema.text('winch turns')]);

test('a typed character’s place skips the atoms before it', () => {
  expect(positionOf(block, 10, 2)).toBe(13);
  expect(positionOf(block, 10, 9)).toBe(10 + 1 + 9 + 1);
});

test('what was typed before a place counts characters only', () => {
  expect(typedBefore(block, 4)).toBe(4);
  expect(typedBefore(block, 5)).toBe(4);
  expect(typedBefore(block, 7)).toBe(6);
});

test('place and count are each other’s inverse at every character', () => {
  for (let typed = 0; typed <= 'The winch turns'.length; typed++) expect(typedBefore(block, positionOf(block, 0, typed) - 1)).toBe(typed);
});

test('past the last character it is the end of the block', () => {
  const ended = paragraph!.create({ id: 'p' }, [schema.text('Done'), lineBreak!.create()]);
  expect(positionOf(ended, 0, 99)).toBe(1 + ended.content.size);
});

const written = () =>
  EditorState.create({
    doc: schema.nodes.doc!.create(null, [block, paragraph!.create({ id: 'q' }, [schema.text('She is moored.')])]),
    plugins: [margins],
  });
const marks = { marks: null, looseEnds: [] };
const drawn = (state: EditorState) => marginsKey.getState(state)!.set;

test('margins are not drawn again when letters were typed and a composition says the same', () => {
  const state = written();
  const said = (composition: number) => ({
    marks: { composition, turns: [], numbers: {}, printed: {}, pointedAt: { p: 2 } },
    looseEnds: [],
  });
  const once = state.apply(state.tr.setMeta(marginsKey, said(1)));
  const typed = once.apply(once.tr.insertText('m', 3));
  expect(drawn(typed.apply(typed.tr.setMeta(marginsKey, said(2))))).toBe(drawn(typed));
});

test('margins are drawn again when an entry came or went, or a composition says something else', () => {
  const state = written();
  const once = state.apply(state.tr.setMeta(marginsKey, marks));
  const entered = once.apply(once.tr.insert(3, entry()));
  expect(drawn(entered.apply(entered.tr.setMeta(marginsKey, marks)))).not.toBe(drawn(entered));
  const other = { ...marks, looseEnds: [{ kind: 'OverfullLine', division: 'd', block: 'q', words: 'x', message: 'too wide' }] };
  expect(drawn(once.apply(once.tr.setMeta(marginsKey, other))).find()).toHaveLength(2);
});

test.each([
  ['letters typed', (s: EditorState) => s.tr.insertText('m', 2), true],
  ['letters taken out', (s: EditorState) => s.tr.delete(1, 3), true],
  ['an entry taken out with its letters', (s: EditorState) => s.tr.delete(3, 8), false],
  ['a block split', (s: EditorState) => s.tr.split(3), false],
  ['a block joined', (s: EditorState) => s.tr.join(block.nodeSize), false],
  ['an attribute set', (s: EditorState) => s.tr.setNodeAttribute(0, 'role', 'lead'), false],
])('%s: only letters', (_, change, expected) => {
  expect(onlyLetters(change(written()))).toBe(expected);
});
