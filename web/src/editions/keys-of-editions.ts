// The keys of Editions, as its list of keys shows them.
export const keysOfEditions = [
  ['↑ ↓', 'Walk the editions, the contents, the underlined words'],
  ['Space', 'On a line of the contents: take it in, leave it out'],
  ['Alt ↑, Alt ↓', 'On a line of the contents: move it in this edition’s own order'],
  ['a, 0', 'In the contents: take all, take nothing'],
  ['← →', 'On a division: fold its sections away, unfold them'],
  ['Enter', 'On an underlined word: its choices'],
  ['p', 'On an edition: produce all that it goes out as'],
  ['n, r, c', 'On an edition: a new one, rename, copy'],
  ['Ctrl Z, Ctrl Y', 'Take back, do again'],
] as const;
