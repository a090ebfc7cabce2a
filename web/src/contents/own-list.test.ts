import { describe, expect, it } from 'vitest';
import { furtherLine, kindName, moved, piecesOf, takesKind, taking, withPiece, type OwnList, type OwnListLine } from './own-list';

const line: OwnListLine = {
  takes: 'head',
  dress: { face: 'serif', size: 9, leading: 12, before: 0, tabular: true },
  divisions: [],
  level: 'a',
  indent: 18,
  numberColumn: 24,
  numbered: true,
  named: false,
  nameAbove: false,
  folio: 'after',
  leader: true,
  separator: '',
  runIn: false,
  leadsOn: false,
};
const list: OwnList = { name: 'contents', scope: 'manual', lines: [line], sorted: false, folioColumn: 30, mostPages: 0 };

describe('the pieces of a line', () => {
  it('stand in their order', () => {
    expect(piecesOf(line)).toEqual(['Number', 'Title', 'Leader', 'Folio']);
    expect(piecesOf(moved(line))).toEqual(['Folio', 'Number', 'Title']);
    expect(moved(moved(line))).toEqual(line);
  });
  it('are put in and taken out, but for the title', () => {
    expect(piecesOf(withPiece(line, 'Number', false))).toEqual(['Title', 'Leader', 'Folio']);
    expect(piecesOf(withPiece(line, 'Folio', false))).toEqual(['Number', 'Title']);
    expect(piecesOf(withPiece(withPiece(line, 'Folio', false), 'Folio', true))).toEqual(piecesOf(line));
    expect(withPiece(line, 'Title', false)).toBe(line);
  });
});

describe('a level', () => {
  it('takes heads of one level, divisions of some kinds, or all of a kind', () => {
    expect(takesKind(line, 'Head', 'A')).toBe(true);
    expect(takesKind(line, 'Head', 'B')).toBe(false);
    const chapters = taking(line, 'Division', 'Chapter');
    expect(chapters).not.toHaveProperty('level');
    expect(takesKind(chapters, 'Division', 'Chapter')).toBe(true);
    expect(takesKind(chapters, 'Division', 'Part')).toBe(false);
    expect(takesKind({ ...chapters, divisions: [] }, 'Division', 'Part')).toBe(true);
    expect(takesKind(taking(line, 'Figure', ''), 'Figure', '')).toBe(true);
  });
  it('that is added is dressed like the last, and stands further in', () => {
    expect(furtherLine(list, 'Head', 'B')).toMatchObject({ takes: 'head', level: 'b', indent: 27, dress: line.dress });
    expect(furtherLine({ ...list, lines: [] }, 'Table', '')).toMatchObject({ takes: 'table', indent: 0 });
  });
  it('has a name for what it takes', () => {
    expect([kindName('Head', 'B'), kindName('Division', 'TitlePage'), kindName('Figure', '')]).toEqual([
      'B heads',
      'title page',
      'figures',
    ]);
  });
});
