import { describe, expect, it } from 'vitest';
import { freeName, moved, renamedLayout, sourceOf, stepsOf, valueAt, withValue, type Json } from './tree';

const look: Json = {
  masters: [
    { name: 'Right', inner: 64, fields: [{ edge: 'head', pattern: '{folio}' }] },
    { name: 'Left', basedOn: 'Right', outer: 50 },
    { name: 'Deep', basedOn: 'Left' },
  ],
  pages: { recto: 'Right', verso: 'Left' },
  sequences: { index: { name: 'Right', begins: 'recto', pages: { recto: 'Left' } } },
  dresses: [
    { role: 'body', dress: { size: 10, left: 3 } },
    { role: 'bullet', dress: { left: 9 } },
    { role: 'bullet', within: 'list', dress: {} },
    { role: 'imprint', dress: {} },
  ],
};

describe('a place of a look', () => {
  it('is walked step by step', () => {
    expect(stepsOf('masters[0].fields[0].pattern')).toEqual(['masters', 0, 'fields', 0, 'pattern']);
    expect(valueAt(look, 'masters[0].fields[0].pattern')).toBe('{folio}');
    expect(valueAt(look, 'masters[7].inner')).toBeUndefined();
    expect(valueAt(look, '')).toBe(look);
  });
  it('is changed in another tree', () => {
    const before = JSON.stringify(look);
    const now = withValue(look, 'masters[0].fields[0].pattern', 'x');
    expect(valueAt(now, 'masters[0].fields[0].pattern')).toBe('x');
    expect(valueAt(withValue(look, 'masters[1].outer', undefined), 'masters[1]')).toEqual({ name: 'Left', basedOn: 'Right' });
    expect(valueAt(withValue(look, 'masters[0]', undefined), 'masters[0].name')).toBe('Left');
    expect(valueAt(withValue(look, 'index.text.size', 8), 'index')).toEqual({ text: { size: 8 } });
    expect(JSON.stringify(look)).toBe(before);
  });
});

describe('where a value comes from', () => {
  it('is here, or a layout that this one is based on', () => {
    expect(sourceOf(look, 'masters[1].outer', null)).toMatchObject({ value: 50, here: true });
    expect(sourceOf(look, 'masters[2].inner', null)).toEqual({ value: 64, here: false, place: 'masters[0].inner', from: 'Right' });
    expect(sourceOf(look, 'masters[2].columns', '1')).toEqual({ value: 1, here: false, place: null, from: '' });
  });
  it('is the role anywhere else, or the text', () => {
    expect(sourceOf(look, 'dresses[2].dress.left', '0')).toMatchObject({ value: 9, from: 'bullet' });
    expect(sourceOf(look, 'dresses[3].dress.left', '0')).toMatchObject({ value: 3, from: 'body', place: 'dresses[0].dress.left' });
    expect(sourceOf(look, 'dresses[0].dress.after', '0')).toMatchObject({ value: 0, place: null });
  });
  it('ends where layouts are based on one another', () => {
    const round = withValue(look, 'masters[0].basedOn', 'Deep');
    expect(sourceOf(round, 'masters[2].columns', '1').value).toBe(1);
  });
});

describe('lists of a look', () => {
  it('change order by one', () => {
    expect(moved(['a', 'b', 'c'], 1, -1)).toEqual(['b', 'a', 'c']);
    expect(moved(['a', 'b'], 1, 1)).toEqual(['a', 'b']);
  });
  it('have names of their own', () => {
    expect(freeName('Left', [{ name: 'Left' }, { name: 'Left 2' }])).toBe('Left 3');
    expect(freeName('New', [{ name: 'Left' }])).toBe('New');
  });
  it('follow a layout that is renamed, and nothing else of that name', () => {
    const now = renamedLayout(look, 0, 'Text');
    expect(valueAt(now, 'masters[0].name')).toBe('Text');
    expect(valueAt(now, 'masters[1].basedOn')).toBe('Text');
    expect(valueAt(now, 'pages')).toEqual({ recto: 'Text', verso: 'Left' });
    expect(valueAt(now, 'sequences.index')).toEqual({ name: 'Right', begins: 'recto', pages: { recto: 'Left' } });
  });
});
