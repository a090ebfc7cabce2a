import { EditorState, TextSelection } from 'prosemirror-state';
import { expect, test } from 'vitest';
import { schema } from '../manuscript/schema';
import { spelling, spellingKey, wordsOf, wrongAt } from './spelling';

const n = schema.nodes;
const text = (words: string, ...marks: string[]) =>
  schema.text(
    words,
    marks.map((m) => schema.marks[m]!.create()),
  );
const doc = n.doc!.create(null, [
  n.paragraph!.create({ id: 'a' }, [
    text('The '),
    text('shea'),
    text('ve', 'strong'),
    text(' of '),
    text('grub.cfg', 'code'),
    text(' is well-oilt'),
    n.indexEntry!.create({ id: 'e', headings: ['x'] }),
    n.footnote!.create({ id: 'f' }, text('See teh log.')),
  ]),
  n.listing!.create({ id: 'l' }, [n.caption!.create(null, text('Setings')), n.lines!.create(null, text('sped = 1'))]),
]);

test('words are found across what they are marked as, in notes and captions, and not in program text', () => {
  expect([...wordsOf(doc)].map((w) => w.word)).toEqual(['The', 'sheave', 'of', 'is', 'well', 'oilt', 'See', 'teh', 'log', 'Setings']);
  for (const { word, from, to } of wordsOf(doc)) expect(doc.textBetween(from, to)).toBe(word);
});

test('a wrong word is known where the caret stands, and moves with what is typed before it', () => {
  let state = EditorState.create({ doc, plugins: [spelling] });
  state = state.apply(state.tr.setMeta(spellingKey, new Set(['oilt', 'teh'])));
  state = state.apply(state.tr.insertText('So ', 1));
  const place = [...wordsOf(state.doc)].find((w) => w.word === 'oilt')!;
  state = state.apply(state.tr.setSelection(TextSelection.create(state.doc, place.from + 2)));
  expect(wrongAt(state)).toEqual(place);
  state = state.apply(state.tr.setSelection(TextSelection.create(state.doc, 2)));
  expect(wrongAt(state)).toBeNull();
});
