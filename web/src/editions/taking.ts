// What an edition takes of the outline, and in which order: pure functions of the edition.
import type { Edition, OutlineRow } from '../shared/api';

/** A row of the outline as an edition sees it. */
export interface TakenRow {
  id: string;
  division: string;
  depth: number;
  number: string;
  title: string;
  kind: string;
  /** all of it, some of what is beneath it, nothing. */
  taken: 'all' | 'some' | 'none';
  /** The text of a division before its first head. */
  opening?: boolean;
}

/** A division with the rows of its sections. */
interface Group {
  division: OutlineRow;
  heads: OutlineRow[];
}

function groups(outline: readonly OutlineRow[]): Group[] {
  const made: Group[] = [];
  for (const row of outline)
    if (row.depth === 0) made.push({ division: row, heads: [] });
    else made.at(-1)?.heads.push(row);
  return made;
}

export const takesAll = (e: Edition) => e.takes.length === 0 && e.leavesOut.length === 0;
export const ownOrder = (e: Edition) => e.takes.length > 0;

/** The rows under a head: those that follow it, deeper than it. */
function under(heads: readonly OutlineRow[], at: number): OutlineRow[] {
  const end = heads.findIndex((h, i) => i > at && h.depth <= heads[at]!.depth);
  return heads.slice(at + 1, end < 0 ? undefined : end);
}

/** Whether a head is taken, by itself or with what it stands under. */
function isTaken(e: Edition, g: Group, sections: readonly string[], at: number): boolean {
  const head = g.heads[at]!;
  const over = g.heads.slice(0, at).filter((_, i) => under(g.heads, i).includes(head));
  if ([head, ...over].some((h) => e.leavesOut.includes(h.id))) return false;
  return sections.length === 0 || [head, ...over].some((h) => sections.includes(h.id));
}

/** The outline in the edition's order: what it takes, and behind it what it leaves out. */
export function rowsOf(e: Edition, outline: readonly OutlineRow[]): TakenRow[] {
  const all = groups(outline);
  const taken = e.takes.map((t) => all.find((g) => g.division.id === t.division)).filter((g) => g !== undefined);
  const ordered = ownOrder(e) ? [...taken, ...all.filter((g) => !taken.includes(g))] : all;
  return ordered.flatMap((g) => {
    const isIn = (ownOrder(e) ? taken.includes(g) : true) && !e.leavesOut.includes(g.division.id);
    const sections = e.takes.find((t) => t.division === g.division.id)?.sections ?? [];
    const heads = g.heads.map((h, i) => {
      const own = isIn && isTaken(e, g, sections, i);
      const below = under(g.heads, i).map((u) => isIn && isTaken(e, g, sections, g.heads.indexOf(u)));
      const taken: TakenRow['taken'] = own ? (below.every(Boolean) ? 'all' : 'some') : below.some(Boolean) ? 'some' : 'none';
      return { ...h, taken };
    });
    const whole = isIn && heads.every((h) => h.taken === 'all') && (sections.length === 0 || sections.includes(g.division.id));
    const division: TakenRow = { ...g.division, taken: !isIn ? 'none' : whole ? 'all' : 'some' };
    if (sections.length === 0) return [division, ...heads];
    // In an order of their own: those that are named with what is under them, then the rest.
    const opening: TakenRow = {
      ...g.division,
      title: 'the text before the first head',
      number: '',
      depth: 1,
      opening: true,
      taken: sections.includes(g.division.id) ? 'all' : 'none',
    };
    const rows: TakenRow[] = [];
    for (const id of sections) {
      if (id === g.division.id) rows.push(opening);
      const at = g.heads.findIndex((h) => h.id === id);
      if (at >= 0)
        for (const h of [g.heads[at]!, ...under(g.heads, at)]) {
          const row = heads.find((r) => r.id === h.id)!;
          if (!rows.includes(row)) rows.push(row);
        }
    }
    return [division, ...rows, ...(rows.includes(opening) ? [] : [opening]), ...heads.filter((h) => !rows.includes(h))];
  });
}

const without = (of: readonly string[], id: string) => of.filter((i) => i !== id);

/** The sections of a division as a list that can be put in order: those of its highest level, and its opening text. */
function listed(e: Edition, g: Group): string[] {
  const sections = e.takes.find((t) => t.division === g.division.id)?.sections ?? [];
  if (sections.length > 0) return sections;
  const top = Math.min(...g.heads.map((h) => h.depth));
  return [g.division.id, ...g.heads.filter((h) => h.depth === top && !e.leavesOut.includes(h.id)).map((h) => h.id)];
}

function withSections(e: Edition, outline: readonly OutlineRow[], division: string, sections: string[]): Edition {
  const own = inOwnOrder(e, outline);
  return { ...own, takes: own.takes.map((t) => (t.division === division ? { division, sections } : t)) };
}

/** The edition with the order of its divisions said, which was the manual's till now. */
export function inOwnOrder(e: Edition, outline: readonly OutlineRow[]): Edition {
  if (ownOrder(e)) return e;
  const all = groups(outline);
  return {
    ...e,
    takes: all.filter((g) => !e.leavesOut.includes(g.division.id)).map((g) => ({ division: g.division.id, sections: [] })),
    leavesOut: e.leavesOut.filter((id) => !all.some((g) => g.division.id === id)),
  };
}

/** The edition in the manual's order; what it left out stays left out. */
export function inManualsOrder(e: Edition, outline: readonly OutlineRow[]): Edition {
  const rows = rowsOf(e, outline);
  const gone = rows.filter((r) => r.taken === 'none' && !r.opening).map((r) => r.id);
  const all = groups(outline);
  const divisions = new Set(all.filter((g) => gone.includes(g.division.id)).map((g) => g.division.id));
  return {
    ...e,
    takes: [],
    // Of a division that is not there no section needs to be named.
    leavesOut: gone.filter(
      (id) => divisions.has(id) || !divisions.has(all.find((g) => g.heads.some((h) => h.id === id))?.division.id ?? ''),
    ),
  };
}

/** Takes a division or section in, or leaves it out. */
export function toggled(e: Edition, outline: readonly OutlineRow[], row: TakenRow): Edition {
  const group = groups(outline).find((g) => g.division.id === row.division);
  if (!group) return e;
  const takes = row.taken === 'none';
  if (row.depth === 0) {
    if (!ownOrder(e)) return { ...e, leavesOut: takes ? without(e.leavesOut, row.id) : [...e.leavesOut, row.id] };
    return {
      ...e,
      leavesOut: without(e.leavesOut, row.id),
      takes: takes ? [...e.takes, { division: row.id, sections: [] }] : e.takes.filter((t) => t.division !== row.id),
    };
  }
  const sections = e.takes.find((t) => t.division === row.division)?.sections ?? [];
  const isIn = ownOrder(e) ? e.takes.some((t) => t.division === row.division) : !e.leavesOut.includes(row.division);
  // A section of a division that is left out: the division comes with this section alone.
  if (!isIn && takes) {
    const own = inOwnOrder(e, outline);
    return {
      ...own,
      leavesOut: own.leavesOut.filter((id) => id !== row.id && id !== row.division),
      takes: [...own.takes, { division: row.division, sections: [row.opening ? row.division : row.id] }],
    };
  }
  if (sections.length === 0) {
    if (row.opening) return e;
    return { ...e, leavesOut: takes ? without(e.leavesOut, row.id) : [...e.leavesOut, row.id] };
  }
  const id = row.opening ? row.division : row.id;
  if (takes) return { ...withSections(e, outline, row.division, [...sections, id]), leavesOut: without(e.leavesOut, id) };
  const left = without(sections, id);
  if (left.length === sections.length) return { ...e, leavesOut: [...e.leavesOut, id] };
  // The last section goes with its division.
  if (left.length === 0) return { ...e, takes: e.takes.filter((t) => t.division !== row.division) };
  return withSections(e, outline, row.division, left);
}

/** Moves a division among divisions, a section among the sections of its division; the same edition where it cannot go on. */
export function moved(e: Edition, outline: readonly OutlineRow[], row: TakenRow, by: 1 | -1): Edition {
  if (row.taken === 'none') return e;
  const swap = <T>(of: readonly T[], at: number): T[] | null => {
    const to = at + by;
    if (at < 0 || to < 0 || to >= of.length) return null;
    const next = [...of];
    [next[at], next[to]] = [next[to]!, next[at]!];
    return next;
  };
  const own = inOwnOrder(e, outline);
  if (row.depth === 0) {
    const takes = swap(
      own.takes,
      own.takes.findIndex((t) => t.division === row.id),
    );
    return takes ? { ...own, takes } : e;
  }
  const group = groups(outline).find((g) => g.division.id === row.division);
  if (!group) return e;
  const sections = listed(e, group);
  const next = swap(sections, sections.indexOf(row.opening ? row.division : row.id));
  return next ? withSections(own, outline, row.division, next) : e;
}

/** The edition with nothing taken, to take a few from there; an edition that names nothing takes everything. */
export function emptied(e: Edition, outline: readonly OutlineRow[]): Edition {
  return { ...e, takes: [], leavesOut: groups(outline).map((g) => g.division.id) };
}

/** How much of the edition is taken, in words. */
export function tookWords(e: Edition, outline: readonly OutlineRow[]): string {
  if (takesAll(e)) return 'everything';
  if (rowsOf(e, outline).every((r) => r.taken === 'none')) return 'nothing yet';
  const rows = rowsOf(e, outline);
  const divisions = rows.filter((r) => r.depth === 0);
  const whole = divisions.filter((r) => r.taken === 'all').length;
  const parts = divisions.filter((r) => r.taken === 'some');
  const sections = rows.filter(
    (r) =>
      r.depth > 0 &&
      r.taken !== 'none' &&
      parts.some((p) => p.id === r.division) &&
      (e.takes.find((t) => t.division === r.division)?.sections ?? []).includes(r.opening ? r.division : r.id),
  ).length;
  const count = (n: number, of: string) => `${n} ${of}${n === 1 ? '' : 's'}`;
  if (parts.length === 0) return `${whole} of ${count(divisions.length, 'division')}`;
  return sections > 0
    ? `${whole > 0 ? `${count(whole, 'division')} and ` : ''}${count(sections, 'section')}`
    : `${count(whole + parts.length, 'division')}, ${parts.length} in part`;
}
