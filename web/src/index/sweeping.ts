// What is chosen of the places that a sweep found, and what becomes of it.
import type { SweptOrder, SweptWords } from '../shared/api';

/** joined: it belongs to a range with the taken place before it. */
export type Choice = 'left' | 'taken' | 'principal' | 'joined';

/** Where an entry cannot stand: the lines of a listing. */
export const canTake = (place: SweptWords) => place.in !== 'Listing';

const apart = (place: SweptWords) => place.in === 'Head' || place.in === 'Caption' || place.in === 'Listing';

/** Places in running text first; those in heads, captions and listings apart, behind them. */
export function inOrder(places: readonly SweptWords[], shownLeft: boolean): SweptWords[] {
  const shown = places.filter((p) => shownLeft || !p.left);
  return [...shown.filter((p) => !apart(p)), ...shown.filter(apart)];
}

export const isApart = apart;

/** Whether a place can be joined to a range: one that is taken stands somewhere before it, in running text as it does. */
export function canJoin(places: readonly SweptWords[], choices: ReadonlyMap<SweptWords, Choice>, at: number): boolean {
  const place = places[at];
  if (!place || apart(place)) return false;
  for (let i = at - 1; i >= 0; i--) {
    const choice = choices.get(places[i]!);
    if (choice && choice !== 'left') return !apart(places[i]!);
  }
  return false;
}

/** What is asked for: of a range the first and the last place. */
export function orders(places: readonly SweptWords[], choices: ReadonlyMap<SweptWords, Choice>): SweptOrder[] {
  const made: SweptOrder[] = [];
  const order = (p: SweptWords, as: string) => made.push({ block: p.block, version: p.version, ordinal: p.ordinal, as });
  const decided = places.filter((p) => choices.has(p));
  const taken = decided.filter((p) => choices.get(p) !== 'left');
  for (const p of decided) if (choices.get(p) === 'left') order(p, 'left');
  for (let i = 0; i < taken.length; i++) {
    const first = taken[i]!;
    let last = i;
    while (last + 1 < taken.length && choices.get(taken[last + 1]!) === 'joined') last++;
    if (last > i) {
      order(first, 'rangeStart');
      order(taken[last]!, 'rangeEnd');
    } else order(first, choices.get(first) === 'principal' ? 'principal' : 'taken');
    i = last;
  }
  return made;
}

/** How many locators that makes. */
export function countOf(places: readonly SweptWords[], choices: ReadonlyMap<SweptWords, Choice>): number {
  return orders(places, choices).filter((o) => o.as === 'taken' || o.as === 'principal' || o.as === 'rangeStart').length;
}

/** The next place to decide on, behind one; the same where there is none. */
export function nextOpen(places: readonly SweptWords[], choices: ReadonlyMap<SweptWords, Choice>, at: number): number {
  for (let i = at + 1; i < places.length; i++) if (!choices.has(places[i]!) && !places[i]!.indexed && canTake(places[i]!)) return i;
  return Math.min(at + 1, places.length - 1);
}
