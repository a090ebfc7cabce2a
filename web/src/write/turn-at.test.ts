import { expect, test } from 'vitest';
import type { PageTurn } from '../shared/api';
import { turnAt } from './turn-at';

const turn = (sheet: number, block: string, at: number): PageTurn => ({ sheet, folio: String(sheet), block, at, reason: '' });
const blocks = ['a', 'b', 'c', 'd'];
const order = (b: string) => blocks.indexOf(b);
const turns = [turn(10, 'a', 0), turn(11, 'b', 120), turn(12, 'd', 0)];

test('the caret before the place where a page begins is on the page before', () => {
  expect(turnAt(turns, { block: 'b', typed: 119 }, order)).toBe(10);
  expect(turnAt(turns, { block: 'b', typed: 120 }, order)).toBe(11);
});

test('blocks between two turns are on the page between them', () => {
  expect(turnAt(turns, { block: 'c', typed: 5 }, order)).toBe(11);
  expect(turnAt(turns, { block: 'd', typed: 0 }, order)).toBe(12);
});

test('a block that is not in the manuscript is on no page', () => {
  expect(turnAt(turns, { block: 'gone', typed: 0 }, order)).toBeNull();
});
