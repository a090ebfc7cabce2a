// The keys of Look, as its list of keys shows them.
export const keysOfLook = [
  ['↑ ↓', 'Among the parts: choose; in a field: one step, with Shift ten'],
  ['/', 'Search all settings'],
  ['Tab', 'From setting to setting'],
  ['← → ↑ ↓', 'On a margin of the page: move it'],
  ['Page up, Page down', 'On the spread: turn the page'],
  ['Ctrl Enter', 'Keep'],
  ['Ctrl Z, Ctrl Y', 'Take back, do again'],
] as const;
