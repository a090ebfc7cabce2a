import { expect, test } from 'vitest';
import { draggedWidths } from './column-drag';

test('what one column gives the other gets, and all become shares', () => {
  expect(draggedWidths(['content', 'content', 'content'], [100, 100, 200], 0, 50)).toEqual(['share 375', 'share 125', 'share 500']);
});

test('a column never vanishes, however far the line is dragged', () => {
  for (const by of [-900, 900]) {
    const shares = draggedWidths(['content', 'content'], [100, 100], 0, by).map((w) => Number(w.split(' ')[1]));
    expect(Math.min(...shares)).toBe(90);
    expect(shares[0]! + shares[1]!).toBe(1000);
  }
});

test('a fixed width that the line does not touch stays, one that it touches does not', () => {
  expect(draggedWidths(['fixed 3000', 'share 1', 'content'], [100, 100, 100], 1, 20)[0]).toBe('fixed 3000');
  expect(draggedWidths(['fixed 3000', 'share 1', 'content'], [100, 100, 100], 0, 20)[0]).toBe('share 400');
});
