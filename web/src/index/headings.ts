// Headings of the index as their list shows them: paths, filters, letters.
import type { IndexRow } from '../shared/api';

export interface Heading {
  row: IndexRow;
  /** Its texts from the top. */
  path: string[];
  /** Its place among all rows. */
  index: number;
}

/** All rows with their paths: what a row stands under comes before it. */
export function headingsOf(rows: readonly IndexRow[]): Heading[] {
  const path: string[] = [];
  return rows.map((row, index) => {
    path.length = row.depth;
    path.push(row.text);
    return { row, path: [...path], index };
  });
}

/** Typed as a heading is typed: levels with › or > between them. */
export const typedPath = (typed: string): string[] =>
  typed
    .split(/[›>]/)
    .map((t) => t.trim())
    .filter(Boolean);

export const saidPath = (path: readonly string[]) => path.join(' › ');

export const samePath = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((t, i) => t === b[i]);

/** Those whose words hold what is asked for, with what they stand under. */
export function filtered(headings: readonly Heading[], asked: string, looseOnly: boolean): Heading[] {
  const words = asked.trim().toLocaleLowerCase();
  if (!words && !looseOnly) return [...headings];
  const kept = new Set<number>();
  for (const h of headings) {
    if (words && !h.row.text.toLocaleLowerCase().includes(words) && !(h.row.see ?? '').toLocaleLowerCase().includes(words)) continue;
    if (looseOnly && h.row.loose.length === 0) continue;
    kept.add(h.index);
    // What it stands under is shown with it.
    for (let i = h.index - 1, depth = h.row.depth; i >= 0 && depth > 0; i--)
      if (headings[i]!.row.depth < depth) {
        kept.add(i);
        depth = headings[i]!.row.depth;
      }
  }
  return headings.filter((h) => kept.has(h.index));
}

/** The first letters that there are, with the place of their first heading in a list. */
export function letters(headings: readonly Heading[]): { letter: string; at: number }[] {
  const found: { letter: string; at: number }[] = [];
  headings.forEach((h, at) => {
    const letter = h.row.group === 'Symbols' ? '#' : h.row.group === '0–9' ? '0' : h.row.group;
    if (h.row.depth === 0 && found.at(-1)?.letter !== letter) found.push({ letter, at });
  });
  return found;
}

/** The words that a heading stands for in the text: of subheadings those they stand under, turned round where they were turned
 * for the order. */
export function phraseOf(path: readonly string[]): string {
  const turned = /^(.+), (\S+)$/.exec(path[0] ?? '');
  return turned ? `${turned[2]} ${turned[1]}` : (path[0] ?? '');
}

/** Another number, another first letter of a heading's last text, by the rules of English. */
export function respelt(text: string): { name: string; text: string }[] {
  const first = text[0] ?? '';
  const rest = text.slice(1);
  const plural = /(s|x|z|ch|sh)$/.test(text) ? `${text}es` : /[^aeiou]y$/.test(text) ? `${text.slice(0, -1)}ies` : `${text}s`;
  const singular = /ies$/.test(text)
    ? `${text.slice(0, -3)}y`
    : /(ss|x|ch|sh|z)es$/.test(text)
      ? text.slice(0, -2)
      : /[^s]s$/.test(text) && !/(us|is)$/.test(text)
        ? text.slice(0, -1)
        : '';
  return [
    first !== first.toLocaleLowerCase() ? { name: 'Small first letter', text: first.toLocaleLowerCase() + rest } : null,
    first !== first.toLocaleUpperCase() ? { name: 'Capital first letter', text: first.toLocaleUpperCase() + rest } : null,
    singular ? { name: 'Singular', text: singular } : { name: 'Plural', text: plural },
  ].filter((r) => r !== null);
}
