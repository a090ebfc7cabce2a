// The keys of Look, as its list of keys shows them.
export const keysOfLook = [
  ['↑ ↓', 'Walk the looks'],
  ['Enter', 'Put the look on'],
  ['← →', 'On the spread: the pages before, the pages behind'],
  ['Ctrl Z, Ctrl Y', 'Take back, do again'],
] as const;
