import { describe, expect, it } from 'vitest';
import type { ProofDivision } from '../shared/api';
import { spreadOf, tellingPlaces } from './spreads';

const division = (kind: string, firstSheet: number, pages: number): ProofDivision => ({
  id: kind + firstSheet,
  kind,
  title: '',
  number: '',
  firstSheet,
  pages,
  heads: [],
});

describe('a spread', () => {
  it('is a left and a right page', () => {
    expect(spreadOf(4, 10)).toEqual([3, 4]);
    expect(spreadOf(3, 10)).toEqual([3, 4]);
  });
  it('is one page at the beginning and at the end', () => {
    expect(spreadOf(0, 10)).toEqual([0]);
    expect(spreadOf(9, 10)).toEqual([9]);
    expect(spreadOf(0, 0)).toEqual([]);
  });
});

describe('places that tell of a look', () => {
  it('are those that the manual has', () => {
    const places = tellingPlaces([
      division('TitlePage', 0, 1),
      division('Chapter', 2, 1),
      division('Chapter', 4, 9),
      division('Index', 14, 0),
    ]);
    expect(places).toEqual([
      { name: 'a chapter opens', sheet: 2 },
      { name: 'in a chapter', sheet: 6 },
      { name: 'title page', sheet: 0 },
    ]);
  });
  it('are none in a manual without pages', () => expect(tellingPlaces([])).toEqual([]));
});
