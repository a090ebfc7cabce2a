import { describe, expect, it } from 'vitest';
import type { LooseEnd } from '../shared/api';
import { kindOf, mendOf, ordered } from './loose-ends';

const kinds = [
  { kind: 'ReferenceToNothing', group: 'References', gravity: 'Wrong', name: 'Reference to nothing', why: '' },
  { kind: 'OverfullLine', group: 'Pages', gravity: 'Unsightly', name: 'Line too long', why: '' },
  { kind: 'HeadingNearlyAlike', group: 'Index', gravity: 'Doubtful', name: 'Headings nearly alike', why: '' },
];
const end = (kind: string, division: string, more: Partial<LooseEnd> = {}): LooseEnd => ({
  kind,
  division,
  block: 'b',
  words: 'brake bands',
  message: '',
  sheet: 0,
  subject: 's',
  aside: null,
  instead: null,
  ...more,
});
const divisions = [
  { id: 'one', title: 'Crossing', number: '1' },
  { id: 'two', title: 'Winch', number: '2' },
];
const all = [end('HeadingNearlyAlike', 'one'), end('OverfullLine', 'two'), end('ReferenceToNothing', 'two'), end('OverfullLine', 'one')];

describe('loose ends in a list', () => {
  it('stand with what prints wrong first', () => {
    expect(ordered(all, kinds, 'gravity', divisions).map((g) => g.head)).toEqual(['prints wrong', 'looks wrong', 'to be looked at']);
  });
  it('stand by their kinds, those of one kind together', () => {
    const groups = ordered(all, kinds, 'kind', divisions);
    expect(groups.map((g) => [g.head, g.ends.length])).toEqual([
      ['Reference to nothing', 1],
      ['Line too long', 2],
      ['Headings nearly alike', 1],
    ]);
  });
  it('stand by divisions in the order of the manual', () => {
    expect(ordered(all, kinds, 'division', divisions).map((g) => g.head)).toEqual(['1 Crossing', '2 Winch']);
  });
  it('of a kind that nobody told about print wrong', () => {
    expect(kindOf(kinds, end('Unheard', 'one')).gravity).toBe('Wrong');
    expect(kindOf(kinds, end('ReferenceGrownOld', 'one')).group).toBe('References');
  });
});

describe('the mend of a loose end', () => {
  it('merges headings that are nearly alike', () => {
    expect(mendOf(end('HeadingNearlyAlike', 'one', { instead: 'brake band' }))).toEqual({
      words: 'Merge into “brake band”',
      index: { do: 'move', heading: ['brake bands'], to: ['brake band'] },
    });
  });
  it('goes where a reference can be pointed elsewhere', () => {
    expect(mendOf(end('ReferenceToNothing', 'one'))).toMatchObject({ view: 'references', at: 's' });
  });
  it('is none where only words can mend it', () => {
    expect(mendOf(end('OverfullLine', 'one'))).toBeNull();
    expect(mendOf(end('OverfullLine', 'one', { instead: 'a place to break' }))).toMatchObject({ words: 'Allow the break' });
  });
});
