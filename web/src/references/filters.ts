// Which references and targets a list shows.
import type { PointedTarget, ReferenceRow, ReferencesView } from '../shared/api';

/** A reference with what it points at. */
export interface Pointing extends Omit<ReferenceRow, 'target' | 'other'> {
  target: PointedTarget | null;
}

export function pointingOf({ references, targets }: ReferencesView): Pointing[] {
  const byId = new Map(targets.map((t) => [t.id, t]));
  return references.map(({ target, other, ...row }) => ({ ...row, target: other ?? byId.get(target ?? '') ?? null }));
}

export const isLoose = (r: Pointing) => r.state === 'nothing' || r.state === 'leftOut' || r.state === 'ambiguous';

export const stateWords: Record<string, string> = {
  sound: 'sound',
  nothing: 'nothing there',
  leftOut: 'left out',
  ambiguous: 'two places',
  other: 'other manual',
};

export interface Wanted {
  words: string;
  looseOnly: boolean;
  division: string;
  form: string;
  /** Only those that point there. */
  target: string;
}

const holds = (text: string, words: string) => text.toLocaleLowerCase().includes(words);

export function shownReferences(rows: readonly Pointing[], wanted: Wanted): Pointing[] {
  const words = wanted.words.trim().toLocaleLowerCase();
  return rows.filter(
    (r) =>
      (!wanted.looseOnly || isLoose(r)) &&
      (!wanted.division || r.division === wanted.division) &&
      (!wanted.form || r.form === wanted.form) &&
      (!wanted.target || r.target?.id === wanted.target) &&
      (!words ||
        r.folio.toLocaleLowerCase() === words ||
        holds(`${r.before}${r.prints}${r.after}`, words) ||
        (r.target && holds(`${r.target.name} ${r.target.number} ${r.target.title}`, words))),
  );
}

export const targetKinds: Record<string, string> = {
  Division: 'division',
  Head: 'head',
  Figure: 'figure',
  Table: 'table',
  Listing: 'listing',
  Equation: 'equation',
  Example: 'example',
  Definition: 'term',
  Document: 'document',
  Clause: 'clause',
  Step: 'step',
  Item: 'item',
  Note: 'note',
  Anchor: 'anchor',
  Block: 'text',
  Other: 'other manual',
};

export function shownTargets(targets: readonly PointedTarget[], words: string, kind: string, unusedOnly: boolean): PointedTarget[] {
  const asked = words.trim().toLocaleLowerCase();
  return targets.filter(
    (t) =>
      (!kind || t.kind === kind) &&
      (!unusedOnly || t.pointing === 0) &&
      (!asked || t.folio.toLocaleLowerCase() === asked || holds(`${t.name} ${t.number} ${t.title}`, asked)),
  );
}

/** An arc from where references stand to what they point at; to nothing where there is nothing. */
export interface Arc {
  from: number;
  to: number | null;
  ids: string[];
}

/** Arcs between places that lie close together are one.
 * @param step sheets that are one place */
export function arcsOf(rows: readonly Pointing[], step: number): Arc[] {
  const arcs = new Map<string, Arc>();
  for (const r of rows) {
    if (r.sheet < 0 || r.state === 'other') continue;
    const to = r.target && r.target.sheet >= 0 ? r.target.sheet : null;
    if (to !== null && Math.abs(to - r.sheet) < step) continue;
    const key = `${Math.round(r.sheet / step)}-${to === null ? 'nothing' : Math.round(to / step)}`;
    const arc = arcs.get(key);
    if (arc) arc.ids.push(r.id);
    else arcs.set(key, { from: r.sheet, to, ids: [r.id] });
  }
  return [...arcs.values()];
}
