import { expect, test } from 'vitest';
import { bandHeights, headRow, least } from './bands';

const divisions = [
  { id: 'a', pages: 2 },
  { id: 'b', pages: 20 },
  { id: 'c', pages: 10 },
];

test('a band is as thick as its pages', () => {
  const [a, b, c] = bandHeights(divisions, null, 600, 0) as [number, number, number];
  expect(b).toBeGreaterThan(c);
  expect(c).toBeGreaterThan(a);
  expect((b - least) / (c - least)).toBeCloseTo(2, 1);
});

test('the open band has room for its heads even when there is little', () => {
  const [, b] = bandHeights(divisions, 'b', 100, 6) as [number, number, number];
  expect(b).toBeGreaterThanOrEqual(6 * headRow);
});

test('bands fill the room and no more', () => {
  const sum = bandHeights(divisions, 'a', 600, 3).reduce((x, y) => x + y + 2, 0);
  expect(Math.abs(sum - 600)).toBeLessThanOrEqual(2);
});
