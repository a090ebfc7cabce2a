import { EditorState, TextSelection, type Command } from 'prosemirror-state';
import { CellSelection, tableEditing } from 'prosemirror-tables';
import { expect, test } from 'vitest';
import { clipboardParser } from './clipboard';
import { identities } from './identities';
import { paragraphBehind, putBlock } from './put';
import { blockRoles } from './roles';
import { schema } from './schema';
import { jsonOf, nodeOf } from './stored';
import { mostColumns, newTable, nextCell, tableActs } from './tables';
import { cellsOf, tabbedTable, webTable } from './web-table';

const n = schema.nodes;
const plugins = [identities, tableEditing()];

/** A table of these words, with the caret in the cell that says `here`; rows as their cells' words. */
function opened(rows: string[][], attrs: Record<string, unknown> = {}, here = 'a') {
  const grid = n.grid!.create(
    null,
    rows.map((row, r) =>
      n.row!.create(
        { id: `r${r}` },
        row.map((words, c) => n.cell!.create({ id: `c${r}${c}` }, words ? schema.text(words) : null)),
      ),
    ),
  );
  const table = n.table!.create({ id: 't', headerRows: 0, columns: rows[0]!.map(() => 'left'), ...attrs }, [n.caption!.create(), grid]);
  const state = EditorState.create({ doc: n.doc!.create(null, table), plugins });
  return at(state, here);
}

function at(state: EditorState, words: string) {
  let found = 0;
  state.doc.descendants((node, pos) => {
    if (node.isTextblock && node.textContent === words && !found) found = pos + 1;
  });
  return state.apply(state.tr.setSelection(TextSelection.create(state.doc, found)));
}

const act = (name: string): Command => tableActs.find((a) => a.name === name)!.command;

function done(state: EditorState, command: Command) {
  let next: EditorState | null = null;
  const could = command(state, (tr) => (next = state.apply(tr)));
  return could ? (next as EditorState | null) : null;
}

const rowsOf = (state: EditorState) => {
  const rows: string[][] = [];
  state.doc.descendants((node) => {
    if (node.type === n.row) rows.push([]);
    if (node.type === n.cell) rows.at(-1)!.push(node.textContent);
  });
  return rows;
};
const attr = (state: EditorState, name: string): unknown => state.doc.firstChild!.attrs[name];

test('a column goes in, moves and goes out with its alignment and width', () => {
  const state = opened(
    [
      ['a', 'b'],
      ['c', 'd'],
    ],
    { columns: ['left', 'decimal'], widths: ['fixed 2000', 'share 1'] },
    'b',
  );
  const more = done(state, act('Column before'))!;
  expect(rowsOf(more)).toEqual([
    ['a', '', 'b'],
    ['c', '', 'd'],
  ]);
  expect(attr(more, 'columns')).toEqual(['left', 'decimal', 'decimal']);
  expect(attr(more, 'widths')).toEqual(['fixed 2000', 'share 1', 'share 1']);
  const moved = done(at(more, 'a'), act('Column to the right'))!;
  expect(rowsOf(moved)[0]).toEqual(['', 'a', 'b']);
  expect(attr(moved, 'widths')).toEqual(['share 1', 'fixed 2000', 'share 1']);
  const fewer = done(at(moved, 'b'), act('Take out the column'))!;
  expect(rowsOf(fewer)).toEqual([
    ['', 'a'],
    ['', 'c'],
  ]);
  expect(attr(fewer, 'widths')).toEqual(['share 1', 'fixed 2000']);
});

test('rows go in, out, up and down; the header counts those among it', () => {
  const state = opened([['a'], ['b'], ['c']], { headerRows: 1 });
  const above = done(state, act('Row above'))!;
  expect(rowsOf(above)).toEqual([[''], ['a'], ['b'], ['c']]);
  expect(attr(above, 'headerRows')).toBe(2);
  expect(attr(done(at(above, 'a'), act('Take out the row'))!, 'headerRows')).toBe(1);
  expect(rowsOf(done(at(state, 'c'), act('Row up'))!)).toEqual([['a'], ['c'], ['b']]);
  expect(done(at(state, 'c'), act('Row down'))).toBeNull();
  expect(done(opened([['a']]), act('Take out the row'))).toBeNull();
});

test('every new row and cell has an identity of its own', () => {
  const state = done(done(opened([['a', 'b']]), act('Row below'))!, act('Column behind'))!;
  const ids: unknown[] = [];
  state.doc.descendants((node) => {
    if (node.type === n.row || node.type === n.cell) ids.push(node.attrs.id);
  });
  expect(ids.every(Boolean)).toBe(true);
  expect(new Set(ids).size).toBe(ids.length);
});

test('cells merge, keep their words, and divide again', () => {
  const state = opened([
    ['a', 'b'],
    ['c', 'd'],
  ]);
  const cells: number[] = [];
  state.doc.descendants((node, pos) => {
    if (node.type === n.cell) cells.push(pos);
  });
  const chosen = state.apply(state.tr.setSelection(CellSelection.create(state.doc, cells[0]!, cells[1]!)));
  const merged = done(chosen, act('Merge the cells'))!;
  expect(rowsOf(merged)).toEqual([['ab'], ['c', 'd']]);
  const stored = jsonOf(merged.doc.firstChild!);
  expect(stored.content![1]!.content![0]!.attrs).toEqual({ id: 'c00', columns: 2 });
  const divided = done(at(merged, 'ab'), act('Divide the cell'))!;
  expect(rowsOf(divided)).toEqual([
    ['ab', ''],
    ['c', 'd'],
  ]);
});

test('sorting leaves the header, takes numbers by their size, and tables whose rows hang together as they are', () => {
  const state = opened([['size'], ['12'], ['9'], ['−3'], ['100']], { headerRows: 1 }, 'size');
  expect(rowsOf(done(state, act('Sort by this column'))!).flat()).toEqual(['size', '−3', '9', '12', '100']);
  expect(rowsOf(done(state, act('Sort backwards'))!).flat()).toEqual(['size', '100', '12', '9', '−3']);
  const held = nodeOf({
    type: 'table',
    attrs: { id: 't', headerRows: 0 },
    content: [
      { type: 'caption' },
      {
        type: 'row',
        attrs: { id: 'r1' },
        content: [{ type: 'cell', attrs: { id: 'c1', rows: 2 }, content: [{ type: 'text', text: 'b' }] }],
      },
      { type: 'row', attrs: { id: 'r2' } },
    ],
  });
  const tall = at(EditorState.create({ doc: n.doc!.create(null, held), plugins }), 'b');
  expect(done(tall, act('Sort by this column'))).toBeNull();
});

test('Tab behind the last cell makes a row, and the caret is in it', () => {
  const state = done(opened([['a', 'b']], {}, 'b'), nextCell)!;
  expect(rowsOf(state)).toEqual([
    ['a', 'b'],
    ['', ''],
  ]);
  expect(state.selection.$from.node(-1)).toBe(state.doc.firstChild!.lastChild!.child(1));
  expect(state.selection.$from.index(-1)).toBe(0);
});

test('a table is put in with the caret in its first cell, also inside a step; behind it one can go on', () => {
  const step = n.step!.create({ id: 's' }, n.paragraph!.create({ id: 'p' }, schema.text('Turn')));
  const state = at(EditorState.create({ doc: n.doc!.create(null, n.steps!.create({ id: 'st' }, step)), plugins }), 'Turn');
  const put = state.apply(putBlock(state, newTable(2, 2)!)!);
  expect(put.selection.$from.parent.type).toBe(n.cell);
  expect(put.doc.firstChild!.firstChild!.lastChild!.type).toBe(n.table);
  const on = done(put, paragraphBehind)!;
  expect(on.doc.firstChild!.firstChild!.childCount).toBe(3);
  expect(on.selection.$from.parent.type).toBe(n.paragraph);
  expect(on.selection.$from.parent.content.size).toBe(0);
});

test('a warning in the first line of a step stands behind it, with the caret inside', () => {
  const step = n.step!.create({ id: 's' }, n.paragraph!.create({ id: 'p' }, schema.text('Turn')));
  const state = at(EditorState.create({ doc: n.doc!.create(null, n.steps!.create({ id: 'st' }, step)), plugins }), 'Turn');
  const warned = done(state, blockRoles.find((r) => r.name === 'Warning')!.command)!;
  const inside = warned.doc.firstChild!.firstChild!;
  expect(inside.child(1).type).toBe(n.admonition);
  expect(inside.child(1).attrs.kind).toBe('warning');
  expect(warned.selection.$from.node(-1).type).toBe(n.admonition);
});

test('a page break leaves the caret in the text behind it', () => {
  const state = at(
    EditorState.create({ doc: n.doc!.create(null, n.paragraph!.create({ id: 'p' }, schema.text('last'))), plugins }),
    'last',
  );
  const put = state.apply(putBlock(state, n.pageBreak!.create({ id: 'b' }))!);
  expect(put.doc.childCount).toBe(3);
  expect(put.selection.$from.parent).toBe(put.doc.lastChild);
});

test('a table of the web comes with caption, header and spans; one of absurd spans is bounded', () => {
  const dom = document.createElement('div');
  dom.innerHTML = `<p>before</p><div><table><caption>Loads</caption><thead><tr><th>Line<th>Load</tr></thead>
    <tbody><tr><td rowspan="9"><p>one</p><p><b>two</b></p><td colspan="100000">x</tr></tbody></table></div>`;
  const parsed = clipboardParser.parse(dom);
  const table = parsed.child(1);
  expect(table.type).toBe(n.table);
  expect(table.attrs.headerRows).toBe(1);
  expect(table.firstChild!.textContent).toBe('Loads');
  const cell = table.lastChild!.child(1).firstChild!;
  expect(cell.attrs.rowspan).toBe(1);
  expect(cell.child(1).type).toBe(n.lineBreak);
  expect(cell.child(2).marks[0]!.type.name).toBe('strong');
  expect(table.lastChild!.child(1).child(1).attrs.colspan).toBe(mostColumns);
  expect(webTable(document.createElement('table'), clipboardParser)).toBeNull();
});

test('tabbed lines are a table; other text is not', () => {
  expect(tabbedTable('Line\tLoad\r\none\t4 kN\n')!.content.firstChild!.lastChild!.textContent).toBe('LineLoadone4 kN');
  for (const text of ['one line\twith a tab', 'two\nlines', '']) expect(tabbedTable(text)).toBeNull();
});

test('a table pasted into a table gives its cells', () => {
  const slice = tabbedTable('a\tb\nc\td')!;
  expect(cellsOf(slice).content.firstChild!.type).toBe(n.grid);
});

test('no table is larger than a page can hold', () => {
  for (const [columns, rows] of [
    [0, 3],
    [300, 3],
    [3, 0],
    [NaN, 3],
  ])
    expect(newTable(columns!, rows!)).toBeNull();
});
