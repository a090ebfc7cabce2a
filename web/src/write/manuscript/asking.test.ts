import { EditorState, TextSelection } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import type { Node } from 'prosemirror-model';
import { expect, test } from 'vitest';
import { askAddress, askAnchor, askPassage, askTable } from './asking';
import { along, inLine, putIn } from './choices';
import { schema } from './schema';
import { chosenWords, headingOf, notedWords, selectedWords } from './selected';

const n = schema.nodes;
const doc = n.doc!.create(null, [
  n.paragraph!.create({ id: 'p' }, schema.text('The winch turns the drum.')),
  n.paragraph!.create({ id: 'q' }, schema.text('The brake holds it.')),
]);

/** A view as far as what is asked needs one: a state, and what was done to it. */
function view(from: number, to: number) {
  const made = {
    state: EditorState.create({ doc, selection: TextSelection.create(doc, from, to) }),
    dispatch(tr: Parameters<EditorView['dispatch']>[0]) {
      made.state = made.state.apply(tr);
    },
  };
  return made as unknown as EditorView;
}

test('the words that are selected, and what they may be taken for', () => {
  const { state } = view(5, 10);
  expect(selectedWords(state)).toBe('winch');
  expect(chosenWords(state)).toBe('winch');
  expect(headingOf(state)).toBe('winch');
  expect(notedWords(state)).toBe('winch');
  // Nothing, one letter, two blocks.
  expect(headingOf(view(5, 5).state)).toBe('');
  expect(notedWords(view(5, 5).state)).toBe('');
  expect(headingOf(view(5, 6).state)).toBe('');
  const both = view(5, 31).state;
  expect(headingOf(both)).toBe('');
  expect(notedWords(both)).toBe('');
  expect(selectedWords(both)).toBe('winch turns the drum. The');
});

test('an anchor is called as the selected words are, and stands before them', () => {
  const at = view(5, 10);
  const put: [string, number][] = [];
  const asked = askAnchor(at, (node: Node, pos: number) => put.push([String(node.attrs.name), pos]));
  expect(asked.text).toBe('winch');
  asked.then('');
  asked.then('drum end');
  expect(put).toEqual([['drum end', 5]]);
});

test('a table is as many columns and rows as are typed, and no more than can be', () => {
  const put: Node[] = [];
  const asked = askTable((table) => put.push(table));
  for (const size of ['2 × 3', '2', '900 × 900', 'none']) asked.then(size);
  expect(put.map((t) => [t.attrs.columns.length, t.lastChild!.childCount])).toEqual([
    [2, 3],
    [2, 2],
  ]);
});

test('an address is asked of words, kept with its scheme, taken off again, and refused where it is none', () => {
  expect(askAddress(view(5, 5))).toBeNull();
  const at = view(5, 10);
  const links = () => {
    const found: string[] = [];
    at.state.doc.descendants((node) => void node.marks.forEach((m) => found.push(String(m.attrs.address))));
    return found;
  };
  askAddress(at)!.then('javascript:alert(1)');
  expect(links()).toEqual([]);
  askAddress(at)!.then('ferry.example/winch');
  expect(links()).toEqual(['https://ferry.example/winch']);
  expect(askAddress(at)!.text).toBe('https://ferry.example/winch');
  askAddress(at)!.then('');
  expect(links()).toEqual([]);
});

test('a passage is made of the blocks that were selected when it was asked', () => {
  const made: string[] = [];
  expect(askPassage(['p'], (name) => made.push(name)).label).toContain('this block');
  const asked = askPassage(['p', 'q'], (name) => made.push(name));
  expect(asked.label).toContain('2 blocks');
  asked.then('');
  asked.then('Before leaving');
  expect(made).toEqual(['Before leaving']);
});

test('each key puts in one thing', () => {
  for (const choices of [putIn, inLine, [along('Leave the entry'), ...putIn]])
    expect(new Set(choices.map((c) => c.key)).size).toBe(choices.length);
});
