// The book that many files are, as the writer puts it in order: places in a row, each so deep. What stands below a place goes with it.
import type { BringInView } from '../shared/api';

export type TreePlace = NonNullable<BringInView['tree']>['places'][number];

export const kinds = [
  { kind: 'chapter', name: 'a chapter' },
  { kind: 'section', name: 'a section of what it stands in' },
  { kind: 'part', name: 'a part' },
  { kind: 'appendix', name: 'an appendix' },
  { kind: 'preface', name: 'a preface' },
  { kind: 'glossary', name: 'the glossary' },
  { kind: 'leftOut', name: 'left out' },
] as const;

export const kindName = (kind: string) => (kind === 'leftOut' ? 'left out' : kind);

/** The end of what stands below a place. */
export function end(places: readonly TreePlace[], at: number): number {
  let to = at + 1;
  while (to < places.length && places[to]!.depth > places[at]!.depth) to++;
  return to;
}

/** What a place is where nothing else is said: a part's are chapters, a chapter's are sections. */
function usual(places: readonly TreePlace[], at: number): string {
  for (let i = at - 1; i >= 0; i--)
    if (places[i]!.depth < places[at]!.depth && places[i]!.kind !== 'leftOut') return places[i]!.kind === 'part' ? 'chapter' : 'section';
  return places[at]!.file < 0 ? 'part' : 'chapter';
}

const plain = (kind: string) => kind === 'chapter' || kind === 'section';

/** Chapters and sections follow where they stand; what was called otherwise stays so. */
function settled(places: readonly TreePlace[], from: number, to: number): TreePlace[] {
  const next = [...places];
  for (let i = from; i < to; i++) if (plain(next[i]!.kind)) next[i] = { ...next[i]!, kind: usual(next, i) };
  return next;
}

/** Moved before the one before it, or behind the one behind it, of its level, with what stands below it. */
export function moved(places: readonly TreePlace[], at: number, by: 1 | -1): { places: TreePlace[]; at: number } {
  const depth = places[at]!.depth;
  const to = end(places, at);
  if (by < 0) {
    let before = at - 1;
    while (before >= 0 && places[before]!.depth > depth) before--;
    if (before < 0 || places[before]!.depth < depth) return { places: [...places], at };
    return { places: [...places.slice(0, before), ...places.slice(at, to), ...places.slice(before, at), ...places.slice(to)], at: before };
  }
  if (to >= places.length || places[to]!.depth < depth) return { places: [...places], at };
  const behind = end(places, to);
  return {
    places: [...places.slice(0, at), ...places.slice(to, behind), ...places.slice(at, to), ...places.slice(behind)],
    at: at + behind - to,
  };
}

/** One step deeper, into what stands before it; or out of what it stands in. */
export function nested(places: readonly TreePlace[], at: number, by: 1 | -1): TreePlace[] {
  const own = places[at]!;
  const above = at > 0 ? places[at - 1]! : undefined;
  const depth = own.depth + by;
  if (depth < 0 || (by > 0 && (!above || above.depth < own.depth))) return [...places];
  const to = end(places, at);
  const next = places.map((p, i) => (i >= at && i < to ? { ...p, depth: p.depth + by } : p));
  return settled(next, at, end(next, at));
}

export function called(places: readonly TreePlace[], at: number, kind: string): TreePlace[] {
  const next = places.map((p, i) => (i === at ? { ...p, kind } : p));
  return settled(next, at + 1, end(next, at));
}

/** Left out, or taken as what it is where it stands. */
export function toggled(places: readonly TreePlace[], at: number): TreePlace[] {
  return called(places, at, places[at]!.kind === 'leftOut' ? usual(places, at) : 'leftOut');
}

/** Put before another place, as deep as that, with what stands below it. */
export function dropped(places: readonly TreePlace[], from: number, before: number): TreePlace[] {
  const to = end(places, from);
  if (before >= from && before < to) return [...places];
  const by = places[before]!.depth - places[from]!.depth;
  const own = places.slice(from, to).map((p) => ({ ...p, depth: p.depth + by }));
  const rest = [...places.slice(0, from), ...places.slice(to)];
  const at = before > from ? before - own.length : before;
  const next = [...rest.slice(0, at), ...own, ...rest.slice(at)];
  return settled(next, at, at + own.length);
}
