// What can be set of a block or an atom beside its words: fields, by the kind of node. One panel shows them all.
import type { Node } from 'prosemirror-model';
import { within } from './figure-areas';
import { webAddress } from './links';

export type Value = string | number | boolean;

export interface Field {
  name: string;
  label: string;
  kind: 'words' | 'long' | 'source' | 'number' | 'tick' | 'choice';
  choices?: readonly (readonly [value: string, name: string])[];
  least?: number;
  most?: number;
  hint?: string;
}

export interface Settings {
  title: string;
  fields: readonly Field[];
  /** The fields as they stand in a node; without it, attributes of their names. */
  read?: (node: Node) => Record<string, Value>;
  /** The attributes for what was set; an error is what is wrong with it, in words. */
  write?: (values: Record<string, Value>, node: Node) => Record<string, unknown>;
}

/** “3, 5-7” as the lines it names.
 * @throws Error when it names none, or too many */
export function linesOf(words: string): number[] {
  const lines = new Set<number>();
  for (const part of words.split(/[,;\s]+/).filter(Boolean)) {
    const [, from, to] = /^(\d{1,5})(?:[-–](\d{1,5}))?$/.exec(part) ?? [];
    if (!from || Number(from) < 1 || (to && Number(to) < Number(from))) throw new Error(`“${part}” names no lines. Say 3, 5-7.`);
    for (let line = Number(from); line <= Number(to ?? from); line++) lines.add(line);
  }
  return [...lines].sort((a, b) => a - b);
}

/** Lines as they are typed: runs of them with a dash. */
export function linesInWords(lines: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const line of lines) {
    const last = runs.at(-1);
    if (last && last[1] === line - 1) last[1] = line;
    else runs.push([line, line]);
  }
  return runs.map(([from, to]) => (from === to ? from : `${from}-${to}`)).join(', ');
}

/** “30 mm, 2, content”: fixed, in shares of what is left, by what stands in it.
 * @throws Error when a width is none */
export function widthsOf(words: string): string[] {
  return words
    .split(/[,;]/)
    .map((w) => w.trim())
    .filter(Boolean)
    .map((width) => {
      if (/^content$/i.test(width)) return 'content';
      const [, amount, unit] = /^(\d{1,4}(?:\.\d{1,2})?)\s*(mm)?$/.exec(width) ?? [];
      const number = Number(amount);
      if (!amount || !(number > 0) || (!unit && !Number.isInteger(number)))
        throw new Error(`“${width}” is no width. Say 30 mm, 2 (shares), or content.`);
      return unit ? `fixed ${Math.round(number * 100)}` : `share ${number}`;
    });
}

/** Stored widths as they are typed. */
export const widthsInWords = (widths: readonly string[]): string =>
  widths
    .map((width) => {
      const [kind, amount] = width.split(' ');
      return kind === 'fixed' ? `${Number(amount) / 100} mm` : kind === 'share' ? amount : 'content';
    })
    .join(', ');

const placements = [
  ['', 'As the look has it'],
  ['here', 'Here'],
  ['top', 'Top of a page'],
  ['foot', 'Foot of a page'],
  ['ownPage', 'A page of its own'],
] as const;

const breaks = [
  ['page', 'The next page'],
  ['recto', 'The next right-hand page'],
  ['verso', 'The next left-hand page'],
  ['column', 'The next column'],
] as const;

const equation = (title: string, numbered: boolean): Settings => ({
  title,
  fields: [
    { name: 'source', label: 'The equation', kind: 'source', hint: 'F = m v^2 / r' },
    { name: 'alternative', label: 'In words, to be read aloud', kind: 'long' },
    ...(numbered ? [{ name: 'numbered', label: 'It has a number', kind: 'tick' } as const] : []),
  ],
});

const foldings = [
  ['', 'It stands open'],
  ['open', 'It folds open on screens; print shows all of it'],
  ['title', 'It folds open on screens; print shows its title'],
] as const;

/** A place on a picture, in hundredths of its width and height. */
const side = (name: string, label: string, least: number) => ({ name, label, kind: 'number', least, most: 100 }) as const;

export const settingsOf: Record<string, Settings> = {
  aside: {
    title: 'Aside',
    fields: [{ name: 'folds', label: 'On screens', kind: 'choice', choices: foldings }],
    read: ({ attrs }) => ({ folds: (attrs.folds as string | null) ?? '' }),
    write: (v) => ({ folds: v.folds || null }),
  },
  figureArea: {
    title: 'Area of the picture',
    fields: [
      side('left', 'From the left, in hundredths', 0),
      side('top', 'From the top', 0),
      side('width', 'Width', 2),
      side('height', 'Height', 2),
    ],
    read: ({ attrs }) => Object.fromEntries(['left', 'top', 'width', 'height'].map((name) => [name, Number(attrs[name]) / 10])),
    write: (v) => ({
      ...within({ left: Number(v.left) * 10, top: Number(v.top) * 10, width: Number(v.width) * 10, height: Number(v.height) * 10 }),
    }),
  },
  figure: {
    title: 'Figure',
    fields: [
      { name: 'alternative', label: 'What it shows, in words', kind: 'long' },
      { name: 'width', label: 'Width, in hundredths of the measure', kind: 'number', least: 5, most: 400 },
      { name: 'placement', label: 'Where it stands', kind: 'choice', choices: placements },
      { name: 'plays', label: 'A film or sound it stands for, by its web address', kind: 'words', hint: 'https://…' },
    ],
    read: ({ attrs }) => ({
      alternative: attrs.alternative as string,
      width: attrs.width as number,
      placement: (attrs.placement as string | null) ?? '',
      plays: (attrs.plays as string | null) ?? '',
    }),
    write: (v) => {
      const typed = String(v.plays).trim();
      const plays = webAddress(typed);
      if (typed && !plays) throw new Error('A web address begins with https:// or http://.');
      return { alternative: String(v.alternative).trim(), width: v.width, placement: v.placement || null, plays: plays || null };
    },
  },
  listing: {
    title: 'Listing',
    fields: [
      { name: 'language', label: 'Language of the lines', kind: 'words', hint: 'csharp, python, ini, bash …' },
      { name: 'lineNumbers', label: 'Lines are numbered', kind: 'tick' },
      { name: 'marked', label: 'Lines set apart', kind: 'words', hint: '3, 5-7' },
    ],
    read: ({ attrs }) => ({
      language: attrs.language as string,
      lineNumbers: attrs.lineNumbers as boolean,
      marked: linesInWords((attrs.marked as number[] | null) ?? []),
    }),
    write: (v) => {
      const marked = linesOf(String(v.marked));
      return { language: String(v.language).trim().toLowerCase(), lineNumbers: v.lineNumbers, marked: marked.length > 0 ? marked : null };
    },
  },
  table: {
    title: 'Table',
    fields: [
      { name: 'widths', label: 'Widths of the columns', kind: 'words', hint: '30 mm, 2, content' },
      { name: 'headerColumn', label: 'The first column heads its rows', kind: 'tick' },
      { name: 'mayTurn', label: 'It turns to landscape where it is too wide', kind: 'tick' },
    ],
    read: ({ attrs }) => ({
      widths: widthsInWords((attrs.widths as string[] | null) ?? []),
      headerColumn: attrs.headerColumn as boolean,
      mayTurn: attrs.mayTurn as boolean,
    }),
    write: (v) => {
      const widths = widthsOf(String(v.widths));
      return { widths: widths.length > 0 ? widths : null, headerColumn: v.headerColumn, mayTurn: v.mayTurn };
    },
  },
  list: {
    title: 'List',
    fields: [
      {
        name: 'kind',
        label: 'Its items have',
        kind: 'choice',
        choices: [
          ['unordered', 'Dashes'],
          ['decimal', 'Numbers'],
          ['alpha', 'Letters'],
          ['roman', 'Roman numbers'],
        ],
      },
      { name: 'start', label: 'It begins at', kind: 'number', least: 0, most: 9999 },
      { name: 'continues', label: 'It goes on from the list before it', kind: 'tick' },
    ],
  },
  steps: { title: 'Steps', fields: [{ name: 'continues', label: 'They go on from the steps before', kind: 'tick' }] },
  head: {
    title: 'Head',
    fields: [
      { name: 'shortTitle', label: 'Short title, for running heads', kind: 'words' },
      { name: 'numbered', label: 'It has a number', kind: 'tick' },
      {
        name: 'listed',
        label: 'In the contents list',
        kind: 'choice',
        choices: [
          ['', 'As the look has it'],
          ['always', 'Always'],
          ['never', 'Never'],
        ],
      },
      { name: 'printed', label: 'It prints where it stands', kind: 'tick' },
    ],
    read: ({ attrs }) => ({
      shortTitle: (attrs.shortTitle as string | null) ?? '',
      numbered: attrs.numbered as boolean,
      listed: (attrs.listed as string | null) ?? '',
      printed: attrs.printed as boolean,
    }),
    write: (v) => ({
      shortTitle: String(v.shortTitle).trim() || null,
      numbered: v.numbered,
      listed: v.listed || null,
      printed: v.printed,
    }),
  },
  document: { title: 'Document', fields: [{ name: 'designation', label: 'Its designation', kind: 'words', hint: 'CF-2:2024' }] },
  definitions: { title: 'Definitions', fields: [{ name: 'glossary', label: 'A glossary: sorted by its terms', kind: 'tick' }] },
  equation: equation('Equation', true),
  inlineEquation: equation('Equation in the line', false),
  inlinePicture: { title: 'Picture in the line', fields: [{ name: 'alternative', label: 'What it shows, in words', kind: 'long' }] },
  pageBreak: { title: 'Page break', fields: [{ name: 'to', label: 'What follows begins on', kind: 'choice', choices: breaks }] },
};

/** The values of a node's fields. */
export function valuesOf(node: Node): Record<string, Value> {
  const settings = settingsOf[node.type.name]!;
  return settings.read?.(node) ?? Object.fromEntries(settings.fields.map((f) => [f.name, node.attrs[f.name] as Value]));
}

/** The attributes that what was set makes of a node.
 * @throws Error what is wrong, in words */
export function attributesOf(node: Node, values: Record<string, Value>): Record<string, unknown> {
  const settings = settingsOf[node.type.name]!;
  const within = { ...values };
  for (const { name, kind, least, most } of settings.fields)
    if (kind === 'number') within[name] = Math.max(least ?? 0, Math.min(most ?? 9999, Math.round(Number(values[name])) || (least ?? 0)));
  return settings.write?.(within, node) ?? within;
}
