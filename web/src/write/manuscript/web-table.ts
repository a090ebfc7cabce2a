// Tables that come by paste from a web page or a spreadsheet.
import { DOMParser, Fragment, Slice, type Node } from 'prosemirror-model';
import { mostPastedLetters } from './pasted-words';
import { mostColumns, mostRows, newTable } from './tables';
import { schema } from './schema';

const n = schema.nodes;

/** How many cells one reaches over: a pasted number is not trusted. */
const span = (cell: HTMLTableCellElement, name: 'colspan' | 'rowspan', most: number) =>
  Math.max(1, Math.min(most, Number.parseInt(cell.getAttribute(name) ?? '1', 10) || 1));

function words(cell: HTMLElement, parser: DOMParser): Fragment {
  const inline: Node[] = [];
  parser.parse(cell).descendants((node) => {
    if (!node.isTextblock) return true;
    if (inline.length > 0 && node.content.size > 0) inline.push(n.lineBreak!.create());
    node.forEach((child) => inline.push(child));
    return false;
  });
  return Fragment.from(inline);
}

/** Why a pasted table is larger than one can be; null when it is not. */
export function tableTooLarge(html: string): string | null {
  if (!/<table/i.test(html)) return null;
  for (const table of new globalThis.DOMParser().parseFromString(html, 'text/html').querySelectorAll('table')) {
    const columns = Math.max(0, ...[...table.rows].map((row) => row.cells.length));
    if (columns > mostColumns || table.rows.length > mostRows)
      return `A table has up to ${mostColumns} columns and ${mostRows} rows; this one has ${columns} and ${table.rows.length}. Divide it, and paste it in parts.`;
  }
  return null;
}

/** The caption and rows of a table of the web; null when it has none. */
export function webTable(table: HTMLTableElement, parser: DOMParser): Node | null {
  const rows = [...table.rows].slice(0, mostRows).filter((row) => row.cells.length > 0);
  if (rows.length === 0) return null;
  const isHeader = (row: HTMLTableRowElement) => row.parentElement?.tagName === 'THEAD' || [...row.cells].every((c) => c.tagName === 'TH');
  const firstBody = rows.findIndex((row) => !isHeader(row));
  const grid = rows.map((row, at) =>
    n.row!.create(
      null,
      [...row.cells]
        .slice(0, mostColumns)
        .map((cell) =>
          n.cell!.create(
            { colspan: span(cell, 'colspan', mostColumns), rowspan: span(cell, 'rowspan', rows.length - at) },
            words(cell, parser),
          ),
        ),
    ),
  );
  return n.table!.create({ headerRows: firstBody < 0 ? Math.min(1, rows.length - 1) : firstBody }, [
    n.caption!.create(null, table.caption ? words(table.caption, parser) : null),
    n.grid!.create(null, grid),
  ]);
}

/** Lines with tabs between their cells, as spreadsheets and terminals give them; null for other text. */
export function tabbedTable(text: string): Slice | null {
  if (text.length > mostPastedLetters) return null;
  const lines = text.replace(/\r\n?/g, '\n').replace(/\n+$/, '').split('\n');
  const rows = lines.map((line) => line.split('\t'));
  const width = Math.max(...rows.map((row) => row.length));
  if (width < 2 || rows.length < 2 || rows.some((row) => row.length < 2)) return null;
  const table = newTable(width, rows.length);
  if (!table) return null;
  const grid = n.grid!.create(
    null,
    rows.map((row) =>
      n.row!.create(
        null,
        Array.from({ length: width }, (_, i) => n.cell!.create(null, row[i]?.trim() ? schema.text(row[i].trim()) : null)),
      ),
    ),
  );
  return new Slice(Fragment.from(table.copy(Fragment.from([n.caption!.create(), grid]))), 0, 0);
}

/** A table pasted where a table is: its cells go into the cells there. */
export function cellsOf(slice: Slice): Slice {
  const only = slice.content.childCount === 1 ? slice.content.firstChild : null;
  return only && only.type === n.table ? new Slice(Fragment.from(only.lastChild), 0, 0) : slice;
}
