import { describe, expect, it } from 'vitest';
import type { PlanRow } from '../shared/api';
import { endOf, parentOf, shown, siblingOf } from './outline';

const row = (id: string, kind: string, depth: number, division = id): PlanRow => ({
  id,
  kind,
  division,
  depth,
  number: '',
  title: id,
  sheet: 0,
  folio: '',
  pages: 1,
  words: 0,
  state: '',
  appliesTo: {},
  looseEnds: 0,
  generated: false,
  begins: 'ByLook',
  language: 'en-GB',
});

const rows = [
  row('preface', 'Preface', 0),
  row('I', 'Part', 0),
  row('1', 'Chapter', 1),
  row('1.1', 'HeadA', 2, '1'),
  row('text', 'Text', 3, '1'),
  row('1.1a', 'HeadB', 3, '1'),
  row('1.2', 'HeadA', 2, '1'),
  row('2', 'Chapter', 1),
  row('II', 'Part', 0),
  row('3', 'Chapter', 1),
  row('A', 'Appendix', 0),
  row('A.1', 'HeadA', 1, 'A'),
];
const at = (id: string) => rows.findIndex((r) => r.id === id);
const ids = (depth: Parameters<typeof shown>[1], folds: [string, boolean][] = []) =>
  shown(rows, depth, new Map(folds)).map((s) => s.row.id);

describe('the rows of the plan', () => {
  it('reach over all that stands beneath them', () => {
    expect(rows[endOf(rows, at('I'))]!.id).toBe('II');
    expect(rows[endOf(rows, at('1'))]!.id).toBe('2');
    expect(rows[endOf(rows, at('1.1'))]!.id).toBe('1.2');
    expect(rows[endOf(rows, at('preface'))]!.id).toBe('I');
    expect(endOf(rows, at('A'))).toBe(rows.length);
  });
  it('are shown to a depth by name', () => {
    expect(ids('Parts')).toEqual(['preface', 'I', 'II', 'A']);
    expect(ids('Chapters')).toEqual(['preface', 'I', '1', '2', 'II', '3', 'A']);
    expect(ids('A')).toEqual(['preface', 'I', '1', '1.1', '1.2', '2', 'II', '3', 'A', 'A.1']);
    expect(ids('B')).toContain('1.1a');
    expect(ids('B')).not.toContain('text');
    expect(ids('Text')).toContain('text');
  });
  it('fold and open by themselves', () => {
    expect(ids('A', [['I', false]])).toEqual(['preface', 'I', 'II', '3', 'A', 'A.1']);
    expect(ids('Parts', [['I', true]])).toEqual(['preface', 'I', '1', '2', 'II', 'A']);
  });
  it('know what they stand under and what stands beside them', () => {
    expect(rows[parentOf(rows, at('1.1a'))]!.id).toBe('1.1');
    expect(parentOf(rows, at('II'))).toBe(-1);
    expect(rows[siblingOf(rows, at('1'), 1)]!.id).toBe('2');
    expect(siblingOf(rows, at('2'), 1)).toBe(-1);
    expect(rows[siblingOf(rows, at('II'), -1)]!.id).toBe('I');
    expect(rows[siblingOf(rows, at('1.2'), -1)]!.id).toBe('1.1');
  });
});
