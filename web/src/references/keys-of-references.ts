// The keys of Cross-references, as its list of keys shows them.
export const keysOfReferences = [
  ['↑ ↓', 'Walk the list'],
  ['/', 'Filter by words, a number, a folio'],
  ['Enter', 'Open the place in Write; of one that points at nothing: point at the likeliest'],
  ['1 … 6', 'Point one at nothing at one of the proposals'],
  ['p', 'Point at another place: this one, or all that are marked'],
  ['f', 'Another form: of this one, or of all that are marked'],
  ['d', 'Make plain text of it'],
  ['x, a', 'Mark one; mark all that are shown'],
  ['o', 'On a loose one: all that pointed at the same place go along'],
  ['Delete', 'Take out the reference; in Targets an anchor that nobody points at'],
  ['r', 'In Targets: rename an anchor'],
  ['Enter', 'In Targets: who points there'],
  ['Ctrl Z, Ctrl Y', 'Take back, do again'],
] as const;
