// Which two pages lie open together, and where the spreads are that tell most of a look.
import type { ProofDivision } from '../shared/api';

/** The sheets of a spread, by one of them. Even sheets are right-hand pages; the first lies alone.
 * @param sheets how many there are */
export function spreadOf(sheet: number, sheets: number): number[] {
  const right = sheet % 2 === 0 ? sheet : sheet + 1;
  return [right - 1, right].filter((s) => s >= 0 && s < sheets);
}

export interface Place {
  name: string;
  sheet: number;
}

/** An opening, a plain spread, and what else has pages of a kind of its own. */
export function tellingPlaces(divisions: readonly ProofDivision[]): Place[] {
  const places: Place[] = [];
  const first = (kind: string) => divisions.find((d) => d.kind === kind && d.pages > 0);
  const add = (name: string, division: ProofDivision | undefined, further = 0) => {
    if (division) places.push({ name, sheet: division.firstSheet + Math.min(further, division.pages - 1) });
  };
  const chapters = divisions.filter((d) => d.kind === 'Chapter' && d.pages > 0);
  add('a chapter opens', chapters[0]);
  add(
    'in a chapter',
    chapters.toSorted((a, b) => b.pages - a.pages).find((d) => d.pages > 2),
    2,
  );
  add('title page', first('TitlePage'));
  add('contents', first('Contents'));
  add('part page', first('Part'));
  add('appendix', first('Appendix'));
  add('index', first('Index'));
  return places;
}
