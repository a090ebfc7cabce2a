import { expect, test } from 'vitest';
import { positionOf, typedBefore } from './margins';
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
