import type { PageTurn } from '../shared/api';

/** The page the caret is on: the last one that begins before it. Order is a block's place in the manuscript. */
export function turnAt(turns: PageTurn[], caret: { block: string; typed: number }, orderOf: (block: string) => number): number | null {
  const at = orderOf(caret.block);
  if (at < 0) return null;
  let found: PageTurn | null = turns[0] ?? null;
  for (const turn of turns.slice(1)) {
    if (!turn.block) continue;
    const begins = orderOf(turn.block);
    if (begins < 0 || begins > at) continue;
    if (begins === at && turn.block === caret.block && turn.at > caret.typed) continue;
    found = turn;
  }
  return found?.sheet ?? null;
}
