import { describe, expect, it } from 'vitest';
import type { SweptWords } from '../shared/api';
import { canJoin, countOf, inOrder, nextOpen, orders, type Choice } from './sweeping';

const place = (block: string, more: Partial<SweptWords> = {}): SweptWords => ({
  division: 'd',
  block,
  version: 3,
  ordinal: 0,
  inner: block,
  in: 'Text',
  before: '',
  match: 'brake band',
  after: '',
  sheet: 1,
  folio: '1',
  indexed: false,
  left: false,
  ...more,
});
const a = place('a');
const b = place('b');
const c = place('c');
const head = place('h', { in: 'Head' });
const listing = place('l', { in: 'Listing' });
const chosen = (...pairs: [SweptWords, Choice][]) => new Map(pairs);

describe('places of a sweep', () => {
  it('stand in the order of the text, those in heads and listings apart', () => {
    expect(inOrder([a, head, b, listing, c], false).map((p) => p.block)).toEqual(['a', 'b', 'c', 'h', 'l']);
  });
  it('that were left once are shown only when asked for', () => {
    const left = place('x', { left: true });
    expect(inOrder([a, left], false)).toEqual([a]);
    expect(inOrder([a, left], true)).toEqual([a, left]);
  });
  it('become points, principal points and places left', () => {
    const o = orders([a, b, c], chosen([a, 'taken'], [b, 'left'], [c, 'principal']));
    expect(o.map((x) => [x.block, x.as])).toEqual([
      ['b', 'left'],
      ['a', 'taken'],
      ['c', 'principal'],
    ]);
  });
  it('that are joined become one range, over what was left between', () => {
    const o = orders([a, b, c, head], chosen([a, 'taken'], [b, 'joined'], [c, 'joined'], [head, 'taken']));
    expect(o.map((x) => [x.block, x.as])).toEqual([
      ['a', 'rangeStart'],
      ['c', 'rangeEnd'],
      ['h', 'taken'],
    ]);
    expect(countOf([a, b, c, head], chosen([a, 'taken'], [b, 'joined'], [c, 'joined'], [head, 'taken']))).toBe(2);
  });
  it('are joined only to what is taken before them', () => {
    expect(canJoin([a, b], chosen([a, 'taken']), 1)).toBe(true);
    expect(canJoin([a, b], chosen([a, 'left']), 1)).toBe(false);
    expect(canJoin([a, b], chosen(), 0)).toBe(false);
    expect(canJoin([a, head], chosen([a, 'taken']), 1)).toBe(false);
  });
  it('are gone through past what is in the index already', () => {
    const indexed = place('i', { indexed: true });
    expect(nextOpen([a, indexed, listing, b], chosen(), 0)).toBe(3);
    expect(nextOpen([a], chosen(), 0)).toBe(0);
  });
});
