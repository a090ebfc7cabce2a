import { describe, expect, it } from 'vitest';
import type { ProofDivision } from '../shared/api';
import { tellingPlaces } from './spreads';

const division = (kind: string, firstSheet: number, pages: number): ProofDivision => ({
  id: kind + firstSheet,
  kind,
  title: '',
  number: '',
  firstSheet,
  pages,
  heads: [],
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
      { name: 'in a chapter', division: 'Chapter4', page: 2 },
      { name: 'a chapter opens', division: 'Chapter2', page: 0 },
      { name: 'title page', division: 'TitlePage0', page: 0 },
    ]);
  });
  it('are none in a manual without pages', () => expect(tellingPlaces([])).toEqual([]));
});
