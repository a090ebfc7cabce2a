// Where the spreads of a manual are that tell most of a look.
import type { ProofDivision } from '../shared/api';

export interface Place {
  name: string;
  division: string;
  /** From the division's first page. */
  page: number;
}

/** An opening, a plain spread, and what else has pages of a kind of its own. */
export function tellingPlaces(divisions: readonly ProofDivision[]): Place[] {
  const places: Place[] = [];
  const first = (kind: string) => divisions.find((d) => d.kind === kind && d.pages > 0);
  const add = (name: string, division: ProofDivision | undefined, further = 0) => {
    if (division) places.push({ name, division: division.id, page: Math.min(further, division.pages - 1) });
  };
  const chapters = divisions.filter((d) => d.kind === 'Chapter' && d.pages > 0);
  const longest = chapters.toSorted((a, b) => b.pages - a.pages)[0];
  add('in a chapter', longest, 2);
  add('a chapter opens', chapters[0]);
  add('title page', first('TitlePage'));
  add('contents', first('Contents'));
  add('part page', first('Part'));
  add('appendix', first('Appendix'));
  add('index', first('Index'));
  return places;
}
