import { expect, test } from 'vitest';
import type { PlanRow } from '../shared/api';
import { ChosenRows } from './chosen-rows.svelte';
import { shown } from './outline';

const row = (id: string, kind: string, depth: number) => ({ id, kind, depth, title: id, division: id }) as unknown as PlanRow;
const rows = [
  row('use', 'Part', 0),
  row('round', 'Chapter', 1),
  row('oil', 'A', 2),
  row('winch', 'Chapter', 1),
  row('care', 'Part', 0),
  row('spares', 'Chapter', 1),
];
const begun = () =>
  new ChosenRows(
    () => rows,
    () => shown(rows, 'D', new Map()),
  );

test('one row is chosen at a time, and an act is done to it', () => {
  const chosen = begun();
  expect(chosen.all).toEqual([]);
  chosen.choose('round');
  chosen.choose('winch');
  expect([chosen.all, chosen.current?.title]).toEqual([['winch'], 'winch']);
});

test('with Shift all from the one before it are chosen, in either direction', () => {
  const chosen = begun();
  chosen.choose('winch');
  chosen.choose('round', true);
  expect(chosen.all).toEqual(['round', 'oil', 'winch']);
  chosen.choose('spares', true);
  expect(chosen.all).toEqual(['winch', 'care', 'spares']);
});

test('with Ctrl single rows come and go', () => {
  const chosen = begun();
  chosen.choose('round');
  chosen.choose('spares', false, true);
  chosen.choose('round', false, true);
  expect(chosen.all).toEqual(['spares']);
  // The last one goes too; the keys go on from it all the same.
  chosen.choose('spares', false, true);
  expect([chosen.all, chosen.at]).toEqual([['spares'], 'spares']);
});

test('what stands beneath a chosen row goes with it', () => {
  const chosen = begun();
  chosen.choose('use');
  expect([...chosen.within]).toEqual(['use', 'round', 'oil', 'winch']);
  const both = begun();
  both.choose('use');
  both.choose('care', false, true);
  expect(both.within.size).toBe(6);
});
