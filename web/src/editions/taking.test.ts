import { describe, expect, it } from 'vitest';
import type { Edition, OutlineRow } from '../shared/api';
import { emptied, inManualsOrder, inOwnOrder, moved, rowsOf, takesAll, toggled, tookWords } from './taking';
import { newEdition } from './output-words';

const row = (id: string, division: string, depth: number): OutlineRow => ({ id, division, depth, kind: 'chapter', number: '', title: id });
const outline = [
  row('a', 'a', 0),
  row('a1', 'a', 1),
  row('a11', 'a', 2),
  row('a2', 'a', 1),
  row('b', 'b', 0),
  row('b1', 'b', 1),
  row('c', 'c', 0),
];
const whole = newEdition('E');
const at = (e: Edition, id: string, opening = false) => rowsOf(e, outline).find((r) => r.id === id && !!r.opening === opening)!;
const said = (e: Edition) =>
  rowsOf(e, outline)
    .map((r) => (r.taken === 'all' ? '' : r.taken === 'some' ? '~' : '-') + (r.opening ? `(${r.id})` : r.id))
    .join(' ');

describe('what an edition takes', () => {
  it('takes everything to begin with', () => {
    expect(said(whole)).toBe('a a1 a11 a2 b b1 c');
    expect(takesAll(whole)).toBe(true);
    expect(tookWords(whole, outline)).toBe('everything');
  });

  it('leaves a section out with all beneath it, and takes it in again', () => {
    const less = toggled(whole, outline, at(whole, 'a1'));
    expect(said(less)).toBe('~a -a1 -a11 a2 b b1 c');
    expect(tookWords(less, outline)).toBe('3 divisions, 1 in part');
    expect(toggled(less, outline, at(less, 'a1'))).toEqual(whole);
  });

  it('moves a division, and says the order from then on', () => {
    const next = moved(whole, outline, at(whole, 'b'), -1);
    expect(said(next)).toBe('b b1 a a1 a11 a2 c');
    expect(moved(whole, outline, at(whole, 'a'), -1)).toBe(whole);
    expect(said(inManualsOrder(next, outline))).toBe(said(whole));
  });

  it('moves a section among those of its division, with its opening text', () => {
    const next = moved(whole, outline, at(whole, 'a2'), -1);
    expect(said(next)).toBe('a (a) a2 a1 a11 b b1 c');
    const again = moved(next, outline, at(next, 'a2'), -1);
    expect(said(again)).toBe('a a2 (a) a1 a11 b b1 c');
    const less = toggled(again, outline, at(again, 'a', true));
    expect(said(less)).toBe('~a a2 a1 a11 -(a) b b1 c');
    expect(tookWords(less, outline)).toBe('2 divisions and 2 sections');
  });

  it('takes one section of a division that is left out', () => {
    const less = toggled(whole, outline, at(whole, 'a'));
    const one = toggled(less, outline, at(less, 'a2'));
    expect(said(one)).toBe('b b1 c ~a a2 -(a) -a1 -a11');
    const none = toggled(one, outline, at(one, 'a2'));
    expect(said(none)).toBe('b b1 c -a -a1 -a11 -a2');
  });

  it('keeps what is left out when the manual’s order is taken again', () => {
    const own = toggled(inOwnOrder(whole, outline), outline, at(whole, 'b'));
    expect(said(own)).toBe('a a1 a11 a2 c -b -b1');
    expect(inManualsOrder(own, outline).leavesOut).toEqual(['b']);
  });

  it('begins from nothing and takes a few sections in the order in which they are chosen', () => {
    const none = emptied(whole, outline);
    expect(tookWords(none, outline)).toBe('nothing yet');
    const one = toggled(none, outline, at(none, 'b1'));
    const two = toggled(one, outline, at(one, 'a2'));
    expect(said(two)).toBe('~b b1 -(b) ~a a2 -(a) -a1 -a11 -c');
    expect(tookWords(two, outline)).toBe('2 sections');
  });
});
