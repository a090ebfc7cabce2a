import { describe, expect, it } from 'vitest';
import type { SettingForm } from '../shared/api';
import { coloursOf, facesOf, groupsOf, inWords, newItem, numbersShown, partOf, search, settingsOf, usesOf, type Forms } from './parts';
import type { Json } from './tree';

const look: Json = {
  masters: [{ name: 'Right' }, { name: 'Bare', basedOn: 'Right' }, { name: 'Spare' }],
  pages: { recto: 'Right' },
  sequences: { titlePage: { pages: { recto: 'Bare' } }, chapter: {} },
  dresses: [
    { role: 'body', dress: {} },
    { role: 'bullet', within: 'list', dress: {} },
  ],
  heads: [{}, {}, {}, {}],
  lists: [{ name: 'contents', lines: [{ kind: 'division' }] }],
};
const form = (name: string, words: string): SettingForm => ({
  name,
  words,
  kind: 'measure',
  of: '',
  least: 0,
  most: 9,
  step: 1,
  choices: [],
  usual: '0',
  mayBeNull: false,
});
const forms: Forms = {
  dress: [form('before', 'space above'), form('after', 'space below')],
  blockDress: [form('before', 'space above'), form('after', 'space below'), form('keepsNext', 'keeps with two lines of what follows')],
  pageMaster: [form('inner', 'inner margin')],
  look: [form('sink', 'how far an opening is sunk')],
  blockMeasures: [form('tableBefore', 'space above tables')],
};

describe('what a look gives names to', () => {
  const named: Json = {
    faces: [{ name: 'House', italic: { hash: 'x', called: 'i.ttf' } }],
    colours: [{ name: 'sea', screen: '#123456' }],
  };
  it('faces are those that ship, and the house’s with what each has a file for', () => {
    expect(facesOf(named).map((f) => f.name)).toEqual(expect.arrayContaining(['serif', 'code', 'House', 'House italic']));
    expect(facesOf(named).map((f) => f.name)).not.toContain('House strong');
    expect(coloursOf(named)).toEqual([{ name: 'sea', screen: '#123456' }]);
  });
  it('another one has a name of its own', () => {
    expect(newItem(named, 'namedColour', [{ name: 'heads', screen: '#000000' }])).toMatchObject({ name: 'heads 2', screen: '#000000' });
    expect(newItem({}, 'houseFace', [])).toEqual({ name: 'House face' });
  });
});

describe('the parts of a look', () => {
  const groups = groupsOf(look);
  const name = (place: string) => partOf(groups, place)?.name;
  it('are found by any place in them', () => {
    expect(name('masters[1].fields[0].pattern')).toBe('Bare');
    expect(name('heads[1].before')).toBe('B head');
    expect(name('dresses[1]')).toBe('Bullet in list');
    expect(name('table.text.size')).toBe('Tables');
    expect(name('blocks.tableBefore')).toBe('Tables');
    expect(name('sink')).toBe('Division title');
    expect(name('divisionLabel.size')).toBe('Division title');
    expect(name('sequences.titlePage.begins')).toBe('Title page');
    expect(name('lists[0].lines[0]')).toBe('List “contents”');
    expect(name('nothing.of.this')).toBeUndefined();
  });
  it('hold each setting of blocks once', () => {
    const said = groups
      .flatMap((g) => g.parts)
      .flatMap((p) => p.sections)
      .filter((s) => s.of === 'blockMeasures')
      .flatMap((s) => s.only ?? []);
    expect(new Set(said).size).toBe(said.length);
  });
  it('are searched by words of the setting and of the part', () => {
    expect(search(look, forms, 'space above B head').map((f) => f.place)).toEqual(['heads[1].before']);
    expect(search(look, forms, 'tables above').map((f) => f.place)).toContain('blocks.tableBefore');
    expect(search(look, forms, 'keeps B head').map((f) => f.place)).toEqual(['heads[1].keepsNext']);
    expect(search(look, forms, '   ')).toEqual([]);
    expect(search(look, forms, 'space', 3)).toHaveLength(3);
  });
  it('know which divisions take a layout', () => {
    expect(usesOf(look, 'Right')).toEqual(['all that name none']);
    expect(usesOf(look, 'Bare')).toEqual(['titlePage']);
    expect(usesOf(look, 'Spare')).toEqual([]);
  });
});

describe('numbers', () => {
  it('are shown as they come out', () => {
    expect(numbersShown(undefined)).toBe('Chapter 4 · Section 4.2 · Figure 4-2 · Appendix A, Figure A-2');
    expect(numbersShown({ chapter: '', section: '', headsTo: 'c', captionsBy: 'manual', appendix: 'Annex' })).toBe(
      '4 · 4.2.3.1 · Figure 17 · Annex A, Figure 31',
    );
    expect(numbersShown({ headsTo: null })).toContain('heads without numbers');
    expect(numbersShown({ chapters: 'romanCapitals', captionSign: '.', headSign: '–' })).toBe(
      'Chapter IV · Section IV–2 · Figure IV.2 · Appendix A, Figure A.2',
    );
    expect(numbersShown({ captionsBy: 'part' })).toContain('Figure II-17');
  });
});

describe('settings of a look', () => {
  it('are those named, in that order', () =>
    expect(settingsOf(forms, { title: '', place: '', of: 'dress', only: ['after', 'before'] }).map((s) => s.name)).toEqual([
      'after',
      'before',
    ]));
  it('are said in words', () => {
    expect(inWords('sansStrong')).toBe('Sans strong');
    expect(inWords('runsOn')).toBe('On the same page');
  });
  it('of a list begin as the item before, or as something that can be worn', () => {
    expect(newItem(look, 'runningField', [{ edge: 'head' }])).toEqual({ edge: 'head' });
    expect(newItem(look, 'runningField', [])).toMatchObject({ pattern: '{folio}' });
    expect(newItem(look, 'artwork', [])).toMatchObject({ width: 72 });
  });
});
