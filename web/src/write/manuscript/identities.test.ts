import { EditorState } from 'prosemirror-state';
import { expect, test } from 'vitest';
import { identities } from './identities';
import { schema } from './schema';

const { doc, paragraph, indexEntry } = schema.nodes;
const start = (...blocks: Parameters<NonNullable<typeof doc>['create']>[1][]) =>
  EditorState.create({ doc: doc!.create(null, blocks as never), plugins: [identities] });
const ids = (state: EditorState) => {
  const found: string[] = [];
  state.doc.descendants((node) => {
    if (node.attrs.id) found.push(node.attrs.id as string);
  });
  return found;
};

test('the first part of a split keeps its identity, the second gets one of its own', () => {
  const state = start(paragraph!.create({ id: 'a' }, schema.text('One. Two.')));
  const after = state.apply(state.tr.split(6));
  const [first, second] = ids(after);
  expect(first).toBe('a');
  expect(second).toBeTruthy();
  expect(second).not.toBe('a');
});

test('what is pasted twice is twice another block, with its atoms', () => {
  const copied = paragraph!.create({ id: 'a' }, [schema.text('Winch'), indexEntry!.create({ id: 'e', headings: ['winch'] })]);
  const state = start(copied);
  const after = state.apply(state.tr.insert(state.doc.content.size, copied));
  expect(new Set(ids(after)).size).toBe(4);
  expect(ids(after).slice(0, 2)).toEqual(['a', 'e']);
});

test('both ends of an index range keep the identity they share', () => {
  const end = (kind: string) => indexEntry!.create({ id: 'r', headings: ['winch'], kind });
  const state = start(paragraph!.create({ id: 'a' }, [end('rangeStart'), schema.text('Winch'), end('rangeEnd')]));
  const after = state.apply(state.tr.split(4));
  expect(ids(after).filter((id) => id === 'r').length).toBe(2);
});

test('typing changes no identity', () => {
  const state = start(paragraph!.create({ id: 'a' }, schema.text('One.')), paragraph!.create({ id: 'b' }));
  expect(ids(state.apply(state.tr.insertText('x', 3)))).toEqual(['a', 'b']);
});
