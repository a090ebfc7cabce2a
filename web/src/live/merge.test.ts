import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { merge, type JsonNode } from './merge';

interface Case {
  what: string;
  based: string;
  mine: string;
  theirs: string;
  is: string;
  both?: boolean;
}
const cases = JSON.parse(readFileSync('../tests/merges.json', 'utf8')) as Case[];
const paragraph = (text: string): JsonNode => ({
  type: 'paragraph',
  attrs: { id: 'p' },
  ...(text ? { content: [{ type: 'text', text }] } : {}),
});
const textOf = (node: JsonNode | null): string => (node?.text ?? '') + (node?.content ?? []).map(textOf).join('');

describe('the cases that the server answers too', () => {
  for (const c of cases)
    test(c.what, () => {
      const flag = { both: false };
      expect(textOf(merge(paragraph(c.based), paragraph(c.mine), paragraph(c.theirs), flag))).toBe(c.is);
      expect(flag.both).toBe(c.both ?? false);
    });
});

test('random typing of two: every letter that either put in is in the result', () => {
  let seed = 7;
  const random = (n: number) => (seed = (seed * 48271) % 2147483647) % n;
  const change = (text: string, letters: string) => {
    let now = text;
    for (let i = random(6); i >= 0; i--) {
      const at = random(now.length + 1);
      now = now.slice(0, at) + letters[random(letters.length)]! + now.slice(at);
    }
    return now;
  };
  for (let round = 0; round < 3000; round++) {
    const based = 'the band brake holds the drum'.slice(0, random(30));
    const [mine, theirs] = [change(based, 'XYZ '), change(based, '123 ')];
    const merged = textOf(merge(paragraph(based), paragraph(mine), paragraph(theirs), { both: false }));
    for (const letter of 'XYZ') expect(count(merged, letter), `${based} | ${mine} | ${theirs} → ${merged}`).toBe(count(mine, letter));
    for (const letter of '123') expect(count(merged, letter), `${based} | ${mine} | ${theirs} → ${merged}`).toBe(count(theirs, letter));
    expect(merged.replace(/[XYZ123 ]/g, '')).toBe(based.replaceAll(' ', ''));
  }
});

const count = (text: string, letter: string) => text.split(letter).length - 1;

test('steps of one list changed by two are merged by their ids; one taken out while the other wrote in it stays', () => {
  const step = (id: string, text: string): JsonNode => ({
    type: 'step',
    attrs: { id },
    content: [{ ...paragraph(text), attrs: { id: id + 'p' } }],
  });
  const steps = (...content: JsonNode[]): JsonNode => ({ type: 'steps', attrs: { id: 's' }, content });
  const merged = merge(
    steps(step('1', 'first'), step('2', 'second'), step('3', 'third')),
    steps(step('1', 'first'), step('3', 'third'), step('4', 'fourth')),
    steps(step('1', 'first, by two'), step('2', 'second, by two'), step('3', 'third')),
    { both: false },
  );
  expect((merged?.content ?? []).map(textOf)).toEqual(['first, by two', 'second, by two', 'third', 'fourth']);
});
