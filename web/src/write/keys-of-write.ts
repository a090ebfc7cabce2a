// The keys of Write, as its list of keys shows them.
export const keysOfWrite = [
  ['Ctrl .', 'What this is: a head (1 to 4), body (0), steps, lists, admonitions, span roles'],
  ['Ctrl ;', 'Put in: cross-reference (x), index entry (i), footnote (n), variable (v), anchor (a), table (t), figure (f), listing (l)'],
  ['Ctrl . then a, p', 'Applies to some readers only; a passage made of the selected blocks'],
  ['F4', 'Variables, conditions, passages: kept once, used in many places'],
  ['Ctrl F', 'Find and replace in the manual'],
  ['Ctrl K', 'Go and do'],
  ['Enter, Alt ←', 'On a chosen reference: go where it points, and back'],
  ['Ctrl Enter', 'Go on behind the table, listing, figure or note'],
  ['F2', 'Fold the divisions, or open them'],
  ['F8, Shift F8', 'Fold the proof, or open it; over the whole window'],
  ['Tab, Shift Tab', 'Nest a step, an item or a head; lift it'],
  ['Enter in an empty item', 'Leave the list'],
  ['Ctrl Z, Ctrl Y', 'Take back, do again'],
  ['Esc then Tab', 'Leave the manuscript'],
  ['↑ ↓ in the fore-edge', 'Walk the divisions and heads'],
  ['Ctrl /, ?', 'These keys'],
] as const;
