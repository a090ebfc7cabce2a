// The line between two columns of a table is dragged: what one of them gives, the other gets.
import { Plugin } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import { TableMap } from 'prosemirror-tables';
import { schema } from './schema';
import { columnsOf } from './tables';

/** So near to a line, in pixels, the pointer takes it. */
const near = 5;
/** A column keeps so much, in pixels. */
const narrowest = 18;

/** Widths, in the stored form, after the line behind a column was moved. Columns become shares of what the page has; one of a fixed
 * width that the line does not touch keeps it.
 * @param drawn widths as they are drawn, in pixels */
export function draggedWidths(widths: readonly string[], drawn: readonly number[], column: number, by: number): string[] {
  const now = [...drawn];
  const both = now[column]! + now[column + 1]!;
  const least = Math.min(narrowest, both / 2);
  now[column] = Math.max(least, Math.min(both - least, now[column]! + by));
  now[column + 1] = both - now[column]!;
  const total = now.reduce((sum, width) => sum + width, 0);
  return now.map((width, i) => {
    const touched = i === column || i === column + 1;
    if (!touched && widths[i]?.startsWith('fixed')) return widths[i]!;
    return `share ${Math.max(1, Math.round((width / total) * 1000))}`;
  });
}

interface Line {
  table: number;
  /** The column before it. */
  column: number;
  left: number;
  top: number;
  height: number;
}

/** Widths of all columns as they are drawn, from cells that lie in one column only. */
function drawnWidths(view: EditorView, gridPos: number): number[] {
  const grid = view.state.doc.nodeAt(gridPos)!;
  const map = TableMap.get(grid);
  const widths = Array.from({ length: map.width }, () => 0);
  for (const cell of new Set(map.map)) {
    const { left, right } = map.findCell(cell);
    const dom = view.nodeDOM(gridPos + 1 + cell);
    if (right - left === 1 && dom instanceof HTMLElement) widths[left] ||= dom.getBoundingClientRect().width;
  }
  const known = widths.filter((w) => w > 0);
  const middle = known.length > 0 ? known.reduce((sum, w) => sum + w, 0) / known.length : 60;
  return widths.map((w) => w || middle);
}

/** The line under the pointer, if there is one between two columns. */
function lineAt(view: EditorView, event: MouseEvent): Line | null {
  const dom = (event.target as HTMLElement).closest<HTMLElement>('td');
  if (!dom || !view.dom.contains(dom)) return null;
  const box = dom.getBoundingClientRect();
  const side = box.right - event.clientX < near ? 'right' : event.clientX - box.left < near ? 'left' : null;
  if (!side) return null;
  const pos = view.posAtDOM(dom, 0);
  const $cell = view.state.doc.resolve(pos);
  for (let d = $cell.depth; d > 0; d--) {
    if ($cell.node(d).type !== schema.nodes.grid) continue;
    const map = TableMap.get($cell.node(d));
    const { left, right } = map.findCell($cell.before(d + 2) - $cell.start(d));
    const column = (side === 'right' ? right : left) - 1;
    if (column < 0 || column > map.width - 2) return null;
    const table = dom.closest('table')!.getBoundingClientRect();
    return { table: $cell.before(d - 1), column, left: box[side], top: table.top, height: table.height };
  }
  return null;
}

export const columnDrag = new Plugin({
  view(view) {
    const rule = document.createElement('div');
    rule.className = 'column-line';
    rule.hidden = true;
    view.dom.parentElement?.append(rule);
    let stop = () => undefined as void;

    const place = (line: Line, by: number) => {
      const around = rule.offsetParent?.getBoundingClientRect() ?? { left: 0, top: 0 };
      rule.style.left = `${line.left + by - around.left}px`;
      rule.style.top = `${line.top - around.top}px`;
      rule.style.height = `${line.height}px`;
    };
    const look = (event: MouseEvent) => {
      if (event.buttons > 0) return;
      view.dom.classList.toggle('on-line', lineAt(view, event) !== null);
    };
    const begin = (event: MouseEvent) => {
      const line = event.button === 0 ? lineAt(view, event) : null;
      if (!line) return;
      event.preventDefault();
      event.stopPropagation();
      const begun = event.clientX;
      const move = (e: MouseEvent) => {
        rule.hidden = false;
        place(line, e.clientX - begun);
      };
      const end = (e: MouseEvent) => {
        stop();
        // Meanwhile another writer may have changed the text.
        const table = line.table < view.state.doc.content.size ? view.state.doc.nodeAt(line.table) : null;
        if (!table || table.type !== schema.nodes.table || e.clientX === begun) return;
        const drawn = drawnWidths(view, line.table + 1 + table.firstChild!.nodeSize);
        const { alignments, widths } = columnsOf(table, drawn.length);
        const said = widths ?? alignments.map(() => 'content');
        if (line.column + 1 >= drawn.length) return;
        view.dispatch(view.state.tr.setNodeAttribute(line.table, 'widths', draggedWidths(said, drawn, line.column, e.clientX - begun)));
      };
      const leave = (e: KeyboardEvent) => {
        if (e.key === 'Escape') stop();
      };
      stop = () => {
        rule.hidden = true;
        window.removeEventListener('mousemove', move);
        window.removeEventListener('mouseup', end);
        window.removeEventListener('keydown', leave, true);
      };
      window.addEventListener('mousemove', move);
      window.addEventListener('mouseup', end);
      window.addEventListener('keydown', leave, true);
    };
    view.dom.addEventListener('mousemove', look);
    // Before the editor takes the press for choosing cells.
    view.dom.addEventListener('mousedown', begin, true);
    return {
      destroy() {
        stop();
        rule.remove();
        view.dom.removeEventListener('mousemove', look);
        view.dom.removeEventListener('mousedown', begin, true);
      },
    };
  },
});
