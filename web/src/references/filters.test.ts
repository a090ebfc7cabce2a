import { describe, expect, it } from 'vitest';
import type { PointedTarget } from '../shared/api';
import { arcsOf, pointingOf, shownReferences, shownTargets, type Pointing, type Wanted } from './filters';

const target = (id: string, more: Partial<PointedTarget> = {}): PointedTarget => ({
  id,
  division: 'd',
  kind: 'Head',
  name: 'Section',
  number: '3.1',
  title: 'Livestock',
  sheet: 20,
  folio: '21',
  pointing: 1,
  ...more,
});
const reference = (id: string, more: Partial<Pointing> = {}): Pointing => ({
  id,
  division: 'd',
  block: 'b',
  sheet: 3,
  folio: '4',
  before: 'Lead the animals as ',
  prints: '“Livestock”',
  after: ' describes.',
  form: 'title',
  state: 'sound',
  pointsAt: 't',
  target: target('t'),
  lost: null,
  ...more,
});
const all: Wanted = { words: '', looseOnly: false, division: '', form: '', target: '' };
const rows = [
  reference('one'),
  reference('two', { state: 'nothing', target: null, lost: '“Ramp”', folio: '29', sheet: 28 }),
  reference('three', { division: 'e', form: 'page', target: target('u', { title: 'The ramp', sheet: 60 }) }),
];
const ids = (found: Pointing[]) => found.map((r) => r.id);

describe('references', () => {
  it('know what they point at: a target of the manual, a place in another, nothing', () => {
    const row = reference('one');
    const other = target('far', { kind: 'Other' });
    const view = {
      composition: 1,
      targets: [target('t')],
      forms: [],
      terms: 0,
      termsLead: false,
      references: [
        { ...row, target: 't', other: null },
        { ...row, target: null, other },
        { ...row, target: null, other: null },
      ],
    };
    expect(pointingOf(view).map((r) => r.target?.id)).toEqual(['t', 'far', undefined]);
  });
  it('are filtered by words around them, by what they point at, and by folio', () => {
    expect(ids(shownReferences(rows, { ...all, words: 'ANIMALS' }))).toEqual(['one', 'two', 'three']);
    expect(ids(shownReferences(rows, { ...all, words: 'the ramp' }))).toEqual(['three']);
    expect(ids(shownReferences(rows, { ...all, words: '29' }))).toEqual(['two']);
  });
  it('are filtered by state, division, form and target', () => {
    expect(ids(shownReferences(rows, { ...all, looseOnly: true }))).toEqual(['two']);
    expect(ids(shownReferences(rows, { ...all, division: 'e' }))).toEqual(['three']);
    expect(ids(shownReferences(rows, { ...all, form: 'page' }))).toEqual(['three']);
    expect(ids(shownReferences(rows, { ...all, target: 't' }))).toEqual(['one']);
  });
  it('are arcs, one for those that lie close together, an open one to nothing', () => {
    const arcs = arcsOf([...rows, reference('four', { sheet: 4 })], 5);
    expect(arcs).toEqual([
      { from: 3, to: 20, ids: ['one', 'four'] },
      { from: 28, to: null, ids: ['two'] },
      { from: 3, to: 60, ids: ['three'] },
    ]);
  });
});

describe('targets', () => {
  const targets = [target('t'), target('a', { kind: 'Anchor', title: 'ramp', pointing: 0 })];
  it('are filtered by kind, by words, and by whether anybody points there', () => {
    expect(shownTargets(targets, 'ramp', '', false).map((t) => t.id)).toEqual(['a']);
    expect(shownTargets(targets, '', 'Head', false).map((t) => t.id)).toEqual(['t']);
    expect(shownTargets(targets, '', '', true).map((t) => t.id)).toEqual(['a']);
  });
});
