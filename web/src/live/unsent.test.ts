import 'fake-indexeddb/auto';
import { expect, test } from 'vitest';
import { divisionsLeftOver, dropUnsent, keepAtOnce, keepUnsent, leftOver, type Unsent } from './unsent';

const record = (tab: string, words: string, division = 'd'): Unsent => ({
  tab,
  manual: 'm',
  division,
  part: null,
  inflight: null,
  bases: {},
  draft: [{ change: { id: 'a', division, basedOn: 1, body: words, after: null, deleted: false }, base: null }],
  joined: {},
  title: null,
  at: 1,
});

test('two tabs on one division keep their words apart, and dropping one leaves the other', async () => {
  await keepUnsent(record('one', 'words of one'));
  await keepUnsent(record('two', 'words of two'));
  expect((await leftOver('m', 'd')).map((u) => u.draft[0]!.change.body).sort()).toEqual(['words of one', 'words of two']);
  await dropUnsent(record('one', ''));
  expect((await leftOver('m', 'd')).map((u) => u.tab)).toEqual(['two']);
  await keepUnsent(record('three', 'elsewhere', 'e'));
  expect((await divisionsLeftOver('m')).sort()).toEqual(['d', 'e']);
  expect(await leftOver('other', 'd')).toEqual([]);
});

test('words that a page wrote as it went are found; what is newer counts', async () => {
  await keepUnsent(record('late', 'written in time', 'f'));
  keepAtOnce({ ...record('late', 'written at the last moment', 'f'), at: 2 });
  expect((await leftOver('m', 'f')).map((u) => u.draft[0]!.change.body)).toEqual(['written at the last moment']);
  keepAtOnce({ ...record('late', 'older', 'f'), at: 1 });
  expect((await leftOver('m', 'f')).map((u) => u.draft[0]!.change.body)).toEqual(['written at the last moment']);
  expect(Object.keys(localStorage).filter((k) => k.startsWith('kivren.last'))).toEqual([]);
  // What was stored after all does not come back.
  keepAtOnce({ ...record('late', 'stored since', 'f'), at: 9 });
  await dropUnsent(record('late', '', 'f'));
  expect(await leftOver('m', 'f')).toEqual([]);
});

test('words written as the page went outlast older ones that reach the database after them', async () => {
  const older = keepUnsent({ ...record('going', 'the drum turns,', 'g'), at: 1 });
  keepAtOnce({ ...record('going', 'the drum turns, slowly', 'g'), at: 2 });
  await older;
  expect((await leftOver('m', 'g')).map((u) => u.draft[0]!.change.body)).toEqual(['the drum turns, slowly']);
});
