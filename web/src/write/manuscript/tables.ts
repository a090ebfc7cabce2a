// What is done to a table: its rows, columns and cells by the editor's table commands, and what the table says of its columns
// (alignment, width) and of its header goes along.
import type { Node } from 'prosemirror-model';
import { Plugin, Selection, TextSelection, type Command, type EditorState, type Transaction } from 'prosemirror-state';
import { Decoration, DecorationSet } from 'prosemirror-view';
import {
  addColumn,
  addRow,
  cellAround,
  CellSelection,
  goToNextCell,
  isInTable,
  mergeCells,
  moveTableColumn,
  moveTableRow,
  nextCell as nextCellOf,
  removeColumn,
  removeRow,
  selectedRect,
  setCellAttr,
  splitCell,
  TableMap,
  type TableRect,
} from 'prosemirror-tables';
import { GapCursor } from 'prosemirror-gapcursor';
import { newId } from '../../shared/api';
import { onlyLetters } from './margins';
import type { Role } from './roles';
import { schema } from './schema';

const n = schema.nodes;

export const mostColumns = 60;
export const mostRows = 2000;

/** An empty table of this size; null for one that no page could hold. */
export function newTable(columns: number, rows: number): Node | null {
  if (!(columns >= 1 && columns <= mostColumns && rows >= 1 && rows <= mostRows)) return null;
  const row = () =>
    n.row!.create(
      { id: newId() },
      Array.from({ length: columns }, () => n.cell!.create({ id: newId() })),
    );
  const grid = n.grid!.create(
    null,
    Array.from({ length: rows }, () => row()),
  );
  return n.table!.create({ id: newId(), headerRows: rows > 1 ? 1 : 0, columns: Array.from({ length: columns }, () => 'left') }, [
    n.caption!.create(),
    grid,
  ]);
}

/** The table with the caret, and where it stands. */
function tableOf(state: EditorState): { table: Node; pos: number } | null {
  const { $from } = state.selection;
  for (let d = $from.depth; d > 0; d--) if ($from.node(d).type === n.table) return { table: $from.node(d), pos: $from.before(d) };
  return null;
}

type Columns = { alignments: (string | null)[]; widths: string[] | null };

/** What the table says of each column. */
export function columnsOf(table: Node, width: number): Columns {
  const alignments = Array.from({ length: width }, (_, i) => (table.attrs.columns as string[] | null)?.[i] ?? 'left');
  const given = table.attrs.widths as string[] | null;
  return { alignments, widths: given && given.length > 0 ? Array.from({ length: width }, (_, i) => given[i] ?? 'content') : null };
}

function say(tr: Transaction, pos: number, { alignments, widths }: Columns): Transaction {
  return tr.setNodeAttribute(pos, 'columns', alignments).setNodeAttribute(pos, 'widths', widths);
}

/** A command on the rectangle of chosen cells, or of the cell with the caret. */
const onRect =
  (act: (tr: Transaction, rect: TableRect, table: { table: Node; pos: number }) => Transaction | null): Command =>
  (state, dispatch) => {
    const table = tableOf(state);
    if (!table || !isInTable(state)) return false;
    const tr = act(state.tr, selectedRect(state), table);
    if (!tr) return false;
    dispatch?.(tr.scrollIntoView());
    return true;
  };

const rowAt = (where: 'above' | 'below') =>
  onRect((tr, rect, { table, pos }) => {
    if (rect.map.height >= mostRows) return null;
    const at = where === 'above' ? rect.top : rect.bottom;
    addRow(tr, rect, at);
    const header = table.attrs.headerRows as number;
    // A row put in among the header rows is one of them.
    if (at < header) tr.setNodeAttribute(pos, 'headerRows', header + 1);
    return inCell(tr, rect, at, rect.left);
  });

const columnAt = (where: 'before' | 'behind') =>
  onRect((tr, rect, { table, pos }) => {
    if (rect.map.width >= mostColumns) return null;
    const at = where === 'before' ? rect.left : rect.right;
    const { alignments, widths } = columnsOf(table, rect.map.width);
    addColumn(tr, rect, at);
    const like = where === 'before' ? at : at - 1;
    alignments.splice(at, 0, alignments[like] ?? 'left');
    widths?.splice(at, 0, widths[like] ?? 'content');
    return inCell(say(tr, pos, { alignments, widths }), rect, rect.top, at);
  });

/** The caret goes into what was put in. */
function inCell(tr: Transaction, rect: TableRect, row: number, column: number): Transaction {
  const { table, map } = again(tr, rect);
  const cell = map.map[row * map.width + column]!;
  const place = TextSelection.create(tr.doc, rect.tableStart + cell + 1 + table.nodeAt(cell)!.content.size);
  return tr.setSelection(place);
}

const withoutRows = onRect((tr, rect, { table, pos }) => {
  if (rect.top === 0 && rect.bottom === rect.map.height) return null;
  for (let row = rect.bottom - 1; row >= rect.top; row--) {
    removeRow(tr, rect, row);
    Object.assign(rect, again(tr, rect));
  }
  const header = table.attrs.headerRows as number;
  return tr.setNodeAttribute(pos, 'headerRows', header - Math.max(0, Math.min(header, rect.bottom) - Math.min(header, rect.top)));
});

const withoutColumns = onRect((tr, rect, { table, pos }) => {
  if (rect.left === 0 && rect.right === rect.map.width) return null;
  const { alignments, widths } = columnsOf(table, rect.map.width);
  for (let column = rect.right - 1; column >= rect.left; column--) {
    removeColumn(tr, rect, column);
    Object.assign(rect, again(tr, rect));
  }
  const count = rect.right - rect.left;
  alignments.splice(rect.left, count);
  widths?.splice(rect.left, count);
  return say(tr, pos, { alignments, widths });
});

/** The table as a transaction has left it. */
function again(tr: Transaction, rect: TableRect): Pick<TableRect, 'table' | 'map'> {
  const table = tr.doc.nodeAt(rect.tableStart - 1)!;
  return { table, map: TableMap.get(table) };
}

const moved = (by: 1 | -1, what: 'row' | 'column'): Command => {
  return (state, dispatch) => {
    const found = tableOf(state);
    if (!found || !isInTable(state)) return false;
    const rect = selectedRect(state);
    const from = what === 'row' ? rect.top : rect.left;
    const to = from + by;
    if (to < 0 || to >= (what === 'row' ? rect.map.height : rect.map.width)) return false;
    const move = what === 'row' ? moveTableRow({ from, to }) : moveTableColumn({ from, to });
    return move(
      state,
      dispatch &&
        ((tr) => {
          if (what === 'column') {
            const { alignments, widths } = columnsOf(found.table, rect.map.width);
            alignments.splice(to, 0, ...alignments.splice(from, 1));
            widths?.splice(to, 0, ...widths.splice(from, 1));
            say(tr, found.pos, { alignments, widths });
          }
          dispatch(tr.scrollIntoView());
        }),
    );
  };
};

/** Rows below the header in the order of what they say in the caret's column: numbers by their size, words by the language. */
const sorted = (by: 1 | -1): Command =>
  onRect((tr, rect, { table }) => {
    const grid = rect.table;
    const heads = Math.min(table.attrs.headerRows as number, grid.childCount);
    // Rows that a cell holds together cannot part.
    let whole = true;
    grid.descendants((node) => {
      if (node.type === n.cell && (node.attrs.rowspan as number) > 1) whole = false;
      return node.type !== n.cell;
    });
    if (!whole || grid.childCount - heads < 2) return null;
    const words = (row: number) => grid.nodeAt(rect.map.map[row * rect.map.width + rect.left]!)?.textContent.trim() ?? '';
    const rows = Array.from({ length: grid.childCount - heads }, (_, i) => ({ row: grid.child(heads + i), words: words(heads + i) }));
    const number = (text: string) =>
      /^[-−+]?\d[\d\s.,]*/.test(text) ? Number.parseFloat(text.replace('−', '-').replace(/[\s,]/g, '')) : NaN;
    const inOrder = rows.toSorted((a, b) => {
      const [x, y] = [number(a.words), number(b.words)];
      const order = !Number.isNaN(x) && !Number.isNaN(y) ? x - y : a.words.localeCompare(b.words, undefined, { numeric: true });
      return by * order;
    });
    let from = rect.tableStart;
    for (let i = 0; i < heads; i++) from += grid.child(i).nodeSize;
    return tr.replaceWith(
      from,
      rect.tableStart + grid.content.size,
      inOrder.map((r) => r.row),
    );
  });

const aligned = (alignment: string): Command =>
  onRect((tr, rect, { table, pos }) => {
    const { alignments, widths } = columnsOf(table, rect.map.width);
    for (let column = rect.left; column < rect.right; column++) alignments[column] = alignment;
    return say(tr, pos, { alignments, widths });
  });

/** Widths of the chosen columns, in the stored form: `content`, `share N`, `fixed N` (hundredths of a millimetre). */
const wide = (width: string): Command =>
  onRect((tr, rect, { table, pos }) => {
    const { alignments, widths } = columnsOf(table, rect.map.width);
    const said = widths ?? alignments.map(() => 'content');
    for (let column = rect.left; column < rect.right; column++) said[column] = width;
    return say(tr, pos, { alignments, widths: said.every((w) => w === 'content') ? null : said });
  });

const headerRows = (by: 1 | -1): Command =>
  onRect((tr, rect, { table, pos }) => {
    const header = (table.attrs.headerRows as number) + by;
    return header < 0 || header >= rect.map.height ? null : tr.setNodeAttribute(pos, 'headerRows', header);
  });

const turned = (name: 'headerColumn' | 'mayTurn'): Command =>
  onRect((tr, _, { table, pos }) => tr.setNodeAttribute(pos, name, !table.attrs[name]));

const group = onRect((tr, rect) => {
  let pos = rect.tableStart;
  for (let row = 0; row < rect.top; row++) pos += rect.table.child(row).nodeSize;
  return tr.setNodeAttribute(pos, 'group', !rect.table.child(rect.top).attrs.group);
});

const withoutTable: Command = (state, dispatch) => {
  const found = tableOf(state);
  if (!found) return false;
  const tr = state.tr.delete(found.pos, found.pos + found.table.nodeSize);
  dispatch?.(tr.setSelection(Selection.near(tr.doc.resolve(Math.min(found.pos, tr.doc.content.size)))).scrollIntoView());
  return true;
};

/** What is offered while the caret is in a table. */
export const tableActs: Role[] = [
  { name: 'Row below', key: 'r', command: rowAt('below') },
  { name: 'Row above', key: 'R', command: rowAt('above') },
  { name: 'Column behind', key: 'c', command: columnAt('behind') },
  { name: 'Column before', key: 'C', command: columnAt('before') },
  { name: 'Take out the row', command: withoutRows },
  { name: 'Take out the column', command: withoutColumns },
  { name: 'Row up', command: moved(-1, 'row') },
  { name: 'Row down', command: moved(1, 'row') },
  { name: 'Column to the left', command: moved(-1, 'column') },
  { name: 'Column to the right', command: moved(1, 'column') },
  { name: 'Merge the cells', key: 'm', command: mergeCells },
  { name: 'Divide the cell', key: 'd', command: splitCell },
  { name: 'One header row more', key: 'h', command: headerRows(1) },
  { name: 'One header row less', key: 'H', command: headerRows(-1) },
  { name: 'Header column, or not', command: turned('headerColumn') },
  { name: 'Row as a head within, or not', command: group },
  { name: 'Column to the left edge', command: aligned('left') },
  { name: 'Column centred', command: aligned('centre') },
  { name: 'Column to the right edge', command: aligned('right') },
  { name: 'Column by its decimals', command: aligned('decimal') },
  { name: 'Column as wide as its words', command: wide('content') },
  { name: 'Column as wide as there is room', command: wide('share 1') },
  { name: 'This cell as its column', command: setCellAttr('alignment', null) },
  { name: 'Sort by this column', key: 's', command: sorted(1) },
  { name: 'Sort backwards', key: 'S', command: sorted(-1) },
  { name: 'May be turned to landscape, or not', command: turned('mayTurn') },
  { name: 'Take out the table', command: withoutTable },
];

/** Tab goes to the next cell, and behind the last one makes a row. */
export const nextCell: Command = (state, dispatch, view) => {
  if (!isInTable(state)) return false;
  if (goToNextCell(1)(state, dispatch, view)) return true;
  return onRect((tr, rect) => {
    if (rect.map.height >= mostRows) return null;
    return inCell(addRow(tr, rect, rect.map.height), rect, rect.map.height, 0);
  })(state, dispatch, view);
};

export const cellBefore: Command = (state, dispatch, view) => isInTable(state) && (goToNextCell(-1)(state, dispatch, view) || true);

/** From the edge of a cell's words on, cells are chosen. */
const choosingCells =
  (axis: 'horiz' | 'vert', direction: 1 | -1): Command =>
  (state, dispatch, view) => {
    const { selection } = state;
    if (!isInTable(state) || !view) return false;
    // At the table's edge there is no cell more.
    if (selection instanceof CellSelection) return nextCellOf(selection.$headCell, axis, direction) === null;
    const edge = axis === 'horiz' ? (direction > 0 ? 'right' : 'left') : direction > 0 ? 'down' : 'up';
    const $cell = cellAround(selection.$head);
    if (!$cell || !view.endOfTextblock(edge)) return false;
    const $next = nextCellOf($cell, axis, direction) ?? $cell;
    dispatch?.(state.tr.setSelection(new CellSelection($cell, $next)).scrollIntoView());
    return true;
  };

export const cellKeys: Record<string, Command> = {
  'Shift-ArrowRight': choosingCells('horiz', 1),
  'Shift-ArrowLeft': choosingCells('horiz', -1),
  'Shift-ArrowDown': choosingCells('vert', 1),
  'Shift-ArrowUp': choosingCells('vert', -1),
};

/** From the last row down, out of the table, where there may be no text yet. Up leads to the caption, which is the table's own. */
export const belowTable: Command = (state, dispatch, view) => {
  const found = tableOf(state);
  if (!found || !isInTable(state) || state.selection instanceof CellSelection) return false;
  const rect = selectedRect(state);
  if (rect.bottom < rect.map.height || (view && !view.endOfTextblock('down'))) return false;
  const $behind = state.doc.resolve(found.pos + found.table.nodeSize);
  const next = $behind.nodeAfter;
  const place = next?.isTextblock ? Selection.near($behind, 1) : new GapCursor($behind);
  dispatch?.(state.tr.setSelection(place).scrollIntoView());
  return true;
};

/** Header cells are told to eye and screen reader; drawn anew only where tables change. */
export const tableHeads = new Plugin<DecorationSet>({
  state: {
    init: (_, state) => DecorationSet.create(state.doc, heads(state.doc)),
    apply: (tr, set) =>
      !tr.docChanged ? set : onlyLetters(tr) ? set.map(tr.mapping, tr.doc) : DecorationSet.create(tr.doc, heads(tr.doc)),
  },
  props: {
    decorations(state) {
      return this.getState(state);
    },
  },
});

const isInOneColumn = (map: TableMap, cell: number) => {
  const { left, right } = map.findCell(cell);
  return right - left === 1;
};

function drawnWidth(width: string, all: readonly string[]): string {
  const [kind, amount] = width.split(' ');
  if (kind === 'fixed') return `width: ${Number(amount) / 100}mm`;
  if (kind !== 'share') return '';
  const shares = all.reduce((sum, w) => sum + (w.startsWith('share ') ? Number(w.slice(6)) : 0), 0);
  return `width: ${Math.round((Number(amount) / shares) * 100)}%`;
}

function heads(doc: Node): Decoration[] {
  const drawn: Decoration[] = [];
  doc.descendants((table, pos) => {
    if (table.type !== n.table) return !table.inlineContent;
    const grid = table.lastChild!;
    const start = pos + 1 + table.firstChild!.nodeSize + 1;
    const map = TableMap.get(grid);
    const header = table.attrs.headerRows as number;
    const mark = (cell: number, role: string) =>
      drawn.push(Decoration.node(start + cell, start + cell + grid.nodeAt(cell)!.nodeSize, { class: 'heading', role }));
    // As the page will have them, as near as the manuscript's width allows.
    (table.attrs.widths as string[] | null)?.slice(0, map.width).forEach((width, column, all) => {
      const style = drawnWidth(width, all);
      const cell = style ? map.map.find((at, i) => i % map.width === column && isInOneColumn(map, at)) : undefined;
      if (cell !== undefined) drawn.push(Decoration.node(start + cell, start + cell + grid.nodeAt(cell)!.nodeSize, { style }));
    });
    const seen = new Set<number>();
    for (let row = 0; row < map.height; row++)
      for (let column = 0; column < (row < header ? map.width : table.attrs.headerColumn ? 1 : 0); column++) {
        const cell = map.map[row * map.width + column]!;
        if (seen.has(cell)) continue;
        seen.add(cell);
        mark(cell, row < header ? 'columnheader' : 'rowheader');
      }
    return false;
  });
  return drawn;
}
