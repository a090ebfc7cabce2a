import { describe, expect, it } from 'vitest';
import type { IndexRow } from '../shared/api';
import { filtered, headingsOf, letters, phraseOf, respelt, typedPath } from './headings';

const row = (depth: number, text: string, more: Partial<IndexRow> = {}): IndexRow => ({
  depth,
  text,
  group: depth === 0 ? text[0]!.toUpperCase() : '',
  line: 0,
  locators: '1',
  count: 1,
  files: null,
  see: null,
  seeAlso: null,
  loose: [],
  ...more,
});
const rows = [
  row(0, '6E', { group: '0–9' }),
  row(0, 'brake'),
  row(1, 'band'),
  row(2, 'lining of'),
  row(1, 'lever'),
  row(0, 'bridle', { loose: [{ kind: 'HeadingNearlyAlike', message: '', block: '', words: '', subject: '' }] }),
  row(0, 'cable', { see: 'rope' }),
];

describe('headings', () => {
  const all = headingsOf(rows);
  it('have the texts from the top as their path', () => {
    expect(all.map((h) => h.path.join('/'))).toEqual([
      '6E',
      'brake',
      'brake/band',
      'brake/band/lining of',
      'brake/lever',
      'bridle',
      'cable',
    ]);
  });
  it('are filtered with what they stand under', () => {
    expect(filtered(all, 'lining', false).map((h) => h.row.text)).toEqual(['brake', 'band', 'lining of']);
    expect(filtered(all, 'rope', false).map((h) => h.row.text)).toEqual(['cable']);
    expect(filtered(all, '', true).map((h) => h.row.text)).toEqual(['bridle']);
    expect(filtered(all, 'nothing', false)).toEqual([]);
  });
  it('have letters to go to', () => {
    expect(letters(all)).toEqual([
      { letter: '0', at: 0 },
      { letter: 'B', at: 1 },
      { letter: 'C', at: 6 },
    ]);
  });
  it('are typed with signs between the levels', () => {
    expect(typedPath(' brake › band >lining of› ')).toEqual(['brake', 'band', 'lining of']);
  });
});

describe('the phrase of a heading', () => {
  it('is turned round where the heading was', () => {
    expect(phraseOf(['buoys, mooring'])).toBe('mooring buoys');
    expect(phraseOf(['brake band', 'lining of'])).toBe('brake band');
    expect(phraseOf(['alongside, coming to lie'])).toBe('alongside, coming to lie');
  });
});

describe('another form of a heading', () => {
  it.each([
    ['brake bands', 'Singular', 'brake band'],
    ['pulley', 'Plural', 'pulleys'],
    ['buoy, mooring winch', 'Plural', 'buoy, mooring winches'],
    ['batteries', 'Singular', 'battery'],
    ['Crossing', 'Small first letter', 'crossing'],
  ])('%s: %s', (text, name, to) => {
    expect(respelt(text)).toContainEqual({ name, text: to });
  });
});
