// Which rows of the plan are in sight: by depth, and by what the writer folded or opened.
import type { PlanRow } from '../shared/api';

export const depths = ['Parts', 'Chapters', 'A', 'B', 'C', 'D', 'Text'] as const;
export type Depth = (typeof depths)[number];

/** 0 for parts and what stands beside them, 1 for chapters of a part, 2–5 for A–D heads, 6 for text. */
export function levelOf(row: PlanRow): number {
  if (row.kind === 'Text') return 6;
  if (row.kind.startsWith('Head')) return 2 + 'ABCD'.indexOf(row.kind[4]!);
  return row.depth === 0 ? 0 : 1;
}

/** The index after the last row beneath this one. */
export function endOf(rows: PlanRow[], at: number): number {
  const own = rows[at]!;
  let end = at + 1;
  while (end < rows.length && beneath(own, rows[end]!)) end++;
  return end;
}

function beneath(above: PlanRow, row: PlanRow): boolean {
  if (above.kind === 'Text') return false;
  if (row.kind === 'Text' || row.kind.startsWith('Head')) {
    if (!above.kind.startsWith('Head')) return above.kind === 'Part' ? row.depth > above.depth : row.division === above.division;
    return row.division === above.division && row.depth > above.depth;
  }
  return above.kind === 'Part' && row.depth > above.depth;
}

export interface Shown {
  row: PlanRow;
  index: number;
  /** Rows stand beneath it. */
  has: boolean;
  open: boolean;
}

/** The rows in sight. A row deeper than the depth is shown where the writer opened what it stands under. */
export function shown(rows: PlanRow[], depth: Depth, folds: ReadonlyMap<string, boolean>): Shown[] {
  const found: Shown[] = [];
  const walk = (from: number, to: number, asked: boolean) => {
    for (let i = from; i < to;) {
      const row = rows[i]!;
      const end = endOf(rows, i);
      if (asked || levelOf(row) <= depths.indexOf(depth)) {
        const has = end > i + 1;
        const open = has && (folds.get(row.id) ?? deeperShown(rows, i, end, depth));
        found.push({ row, index: i, has, open });
        if (open) walk(i + 1, end, folds.get(row.id) ?? false);
      }
      i = end;
    }
  };
  walk(0, rows.length, false);
  return found;
}

function deeperShown(rows: PlanRow[], at: number, end: number, depth: Depth): boolean {
  if (end === at + 1) return false;
  // The depth names the deepest rows shown: a row opens when what stands right under it is no deeper.
  let nearest = 9;
  for (let i = at + 1; i < end; i++) nearest = Math.min(nearest, levelOf(rows[i]!));
  return nearest <= depths.indexOf(depth);
}

/** The row that this one stands right under; −1 for none. */
export function parentOf(rows: PlanRow[], at: number): number {
  for (let i = at - 1; i >= 0; i--) if (endOf(rows, i) > at) return i;
  return -1;
}

/** The row of the same level before or after this one under the same parent; −1 for none. */
export function siblingOf(rows: PlanRow[], at: number, step: 1 | -1): number {
  const parent = parentOf(rows, at);
  const [from, to] = parent < 0 ? [0, rows.length] : [parent + 1, endOf(rows, parent)];
  const like: number[] = [];
  for (let i = from; i < to; i = endOf(rows, i)) if (rows[i]!.kind !== 'Text') like.push(i);
  return like[like.indexOf(at) + step] ?? -1;
}

/** How far a division is. */
export const states = ['Draft', 'Checked', 'Final'];

/** On what page a division begins, as the writer reads it. */
export const beginnings: Record<string, string> = {
  ByLook: 'begins by the look',
  NewPage: 'begins a page',
  Recto: 'begins a right-hand page',
  Verso: 'begins a left-hand page',
  RunsOn: 'runs on',
};
