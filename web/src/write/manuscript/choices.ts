// What can be put in, by name and key: in a division, and in the one line of a note.
import { makings } from './makings';
import type { Role } from './roles';

const choice = (name: string, key: string): Role => ({ name, key, command: () => true });

export const inLine: Role[] = [
  choice('Cross-reference', 'x'),
  choice('Index entry', 'i'),
  choice('Index entry over the words', 'w'),
  choice('Variable', 'v'),
  choice('Anchor', 'a'),
  choice('Equation', 'q'),
  choice('Note to a colleague', 'm'),
];

export const putIn: Role[] = [
  ...inLine.slice(0, -1),
  choice('Footnote', 'n'),
  choice('Pop-up, in print a footnote', 'u'),
  choice('Table', 't'),
  choice('Figure', 'f'),
  ...makings.map(({ name, key }) => choice(name, key)),
  choice('Contents list', 'c'),
  choice('Page break', 'p'),
  choice('Passage', 's'),
  ...inLine.slice(-1),
];

/** What can be chosen otherwise about the marks that went or came with words. */
export const along = (name: string): Role => choice(name, 'k');
