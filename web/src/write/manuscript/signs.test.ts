import { EditorState } from 'prosemirror-state';
import { EditorView } from 'prosemirror-view';
import { beforeEach, expect, test } from 'vitest';
import { newId } from '../../shared/api';
import { schema } from './schema';
import { signs, takeSignBack, turnSigns } from './signs';

/** Types letter by letter, as a keyboard does. */
function typed(text: string, language = 'en-GB', marks: string[] = []): EditorView {
  const doc = schema.nodes.doc!.create(null, schema.nodes.paragraph!.create({ id: newId() }));
  const view = new EditorView(null, { state: EditorState.create({ doc, plugins: [signs(language)] }) });
  for (const letter of text) {
    view.dispatch(view.state.tr.setStoredMarks(marks.map((m) => schema.marks[m]!.create())));
    const { from, to } = view.state.selection;
    const took = view.someProp('handleTextInput', (handle) => handle(view, from, to, letter, () => view.state.tr));
    if (!took) view.dispatch(view.state.tr.insertText(letter, from, to));
  }
  return view;
}
const wordsOf = (view: EditorView) => view.state.doc.textContent;

beforeEach(() => localStorage.clear());

test.each([
  ['"Stop," he said.', '“Stop,” he said.'],
  ["the ferry's \"'red' lamp\"", 'the ferry’s “‘red’ lamp”'],
  ['("a")', '(“a”)'],
  ['3--5 -- or --- so', '3–5 – or — so'],
  ['wait... now', 'wait… now'],
  ['1/2 a turn, 11/2 not, 5/7 not', '½ a turn, 11/2 not, 5/7 not'],
  ['5 mm wide, 12 kN. 7 months', '5\u00a0mm wide, 12\u00a0kN. 7 months'],
  ['18 h', '18 h'],
])('%s', (keys, printed) => {
  expect(wordsOf(typed(keys))).toBe(printed);
});

test.each([
  ['de', '„Halt“, ‚rot‘, geht’s'],
  ['sv', '”Halt”, ’rot’, geht’s'],
  ['fr', '«\u00a0Halt\u00a0», ‹\u00a0rot\u00a0›, geht’s'],
  ['de-CH', '«Halt», ‹rot›, geht’s'],
  ['pl', '„Halt”, ‚rot’, geht’s'],
])('the marks of %s', (language, printed) => {
  expect(wordsOf(typed(`"Halt", 'rot', geht's`, language))).toBe(printed);
});

test('one key takes a sign back, another leaves all as it is typed; words of code stay', () => {
  const view = typed('say "');
  expect(takeSignBack(view.state, view.dispatch)).toBe(true);
  expect(wordsOf(view)).toBe('say "');
  expect(wordsOf(typed('"--"', 'en', ['code']))).toBe('"--"');
  expect(turnSigns()).toBe(false);
  expect(wordsOf(typed('"a" -- b'))).toBe('"a" -- b');
  expect(turnSigns()).toBe(true);
  expect(wordsOf(typed('"a"'))).toBe('“a”');
});

test('the words round a sign keep what they are', () => {
  const view = typed('so "', 'en', ['strong']);
  expect(view.state.doc.firstChild!.childCount).toBe(1);
  expect(view.state.doc.firstChild!.firstChild!.marks.map((m) => m.type.name)).toEqual(['strong']);
});
