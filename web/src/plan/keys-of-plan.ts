// The keys of Plan, as its list of keys shows them.
export const keysOfPlan = [
  ['↑ ↓', 'Walk the rows; with Shift choose several'],
  ['← →', 'Fold and open'],
  ['Tab, Shift Tab', 'Deeper, and up; an A section becomes a chapter of its own'],
  ['Alt ↑, Alt ↓', 'Move among its like, with everything beneath'],
  ['Ctrl X, Ctrl V', 'Carry the chosen rows, and put them down behind the row or into the part; with Shift before it'],
  ['s, j', 'Split the division before a head; join a chapter to the one before it'],
  ['o', 'Read and type the text under the row'],
  ['r', 'Rename'],
  ['n', 'Find a head, or type a new one'],
  ['1, 2, 3', 'Draft, checked, final'],
  ['a', 'What the chosen rows apply to: a model, a medium, a reader'],
  ['F4', 'Variables, conditions, passages'],
  ['Delete', 'Take out, with everything beneath'],
  ['Ctrl Z, Ctrl Y', 'Take back, do again'],
  ['Enter', 'Write here'],
  ['Esc then Tab', 'Leave the list'],
] as const;
