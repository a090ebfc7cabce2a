// The keys of Contents, as its list of keys shows them.
export const keysOfContents = [
  ['↑ ↓', 'Walk the lists, the lines of a list'],
  ['Tab', 'From piece to piece of a level’s line'],
  ['Enter', 'On a piece: its settings; on a line of the list: open the head in Write'],
  ['Delete', 'On a piece: take it out of the line'],
  ['← →', 'On the folio: before the title, behind it'],
  ['r', 'On a line of the list: change its title, where it stands in the text'],
  ['Ctrl Z, Ctrl Y', 'Take back, do again'],
] as const;
