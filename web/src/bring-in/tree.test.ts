import { describe, expect, it } from 'vitest';
import { called, dropped, moved, nested, toggled, type TreePlace } from './tree';

const place = (name: string, depth: number, kind = depth === 0 ? 'chapter' : 'section'): TreePlace => ({
  file: name.charCodeAt(0),
  name,
  title: name,
  depth,
  kind,
  words: 1,
});
const tree = [place('a', 0), place('b', 1), place('c', 2), place('d', 1), place('e', 0)];
const said = (places: TreePlace[]) =>
  places.map((p) => `${'.'.repeat(p.depth)}${p.name}${p.kind === 'leftOut' ? '!' : p.kind[0]}`).join(' ');

describe('the book that files are', () => {
  it('moves a place among those of its level, with what stands below it', () => {
    expect(said(moved(tree, 1, 1).places)).toBe('ac .ds .bs ..cs ec');
    expect(moved(tree, 1, 1).at).toBe(2);
    expect(said(moved(tree, 3, -1).places)).toBe('ac .ds .bs ..cs ec');
    expect(said(moved(tree, 0, 1).places)).toBe('ec ac .bs ..cs .ds');
    // It never leaves what it stands in.
    expect(said(moved(tree, 1, -1).places)).toBe(said(tree));
    expect(said(moved(tree, 3, 1).places)).toBe(said(tree));
  });
  it('goes deeper into what stands before it, and out again', () => {
    expect(said(nested(tree, 4, 1))).toBe('ac .bs ..cs .ds .es');
    expect(said(nested(tree, 1, -1))).toBe('ac bc .cs .ds ec');
    expect(said(nested(tree, 0, 1))).toBe(said(tree));
    expect(said(nested(tree, 2, 1))).toBe(said(tree));
  });
  it('is called what the writer says, and what stands in a part is a chapter', () => {
    expect(said(called(tree, 0, 'part'))).toBe('ap .bc ..cs .dc ec');
    expect(said(toggled(tree, 3))).toBe('ac .bs ..cs .d! ec');
    expect(said(toggled(toggled(tree, 3), 3))).toBe(said(tree));
  });
  it('is dropped before another place, as deep as that', () => {
    expect(said(dropped(tree, 4, 1))).toBe('ac .es .bs ..cs .ds');
    expect(said(dropped(tree, 1, 4))).toBe('ac .ds bc .cs ec');
    expect(said(dropped(tree, 1, 2))).toBe(said(tree));
  });
});
