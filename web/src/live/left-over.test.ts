import 'fake-indexeddb/auto';
import { beforeEach, expect, test, vi } from 'vitest';
import { api, Offline, Problem, type Answer, type Batch, type BlockChange } from '../shared/api';
import { sendLeftOver } from './left-over';
import { dropUnsent, keepUnsent, leftOver, type Unsent } from './unsent';

const change = (body: string): BlockChange => ({ id: 'a', division: 'd', basedOn: 1, body, after: null, deleted: false });
const record = (tab: string, sent: string, typedOn: string): Unsent => ({
  tab,
  manual: 'm',
  division: 'd',
  part: null,
  inflight: { id: `batch-${tab}`, writer: tab, label: 'Typing', blocks: [change(sent)], joined: {} },
  bases: { a: '' },
  draft: [{ change: change(typedOn), base: sent }],
  joined: {},
  title: null,
  at: 1,
});

/** What the server is sent, and what it does with the first and the second of it. */
function server(...does: ((batch: Batch) => Answer | Error)[]) {
  const sent: Batch[] = [];
  vi.spyOn(api, 'send').mockImplementation(async (_, batch) => {
    const answer = does[Math.min(sent.length, does.length - 1)]!(batch);
    sent.push(batch);
    if (answer instanceof Error) throw answer;
    return answer;
  });
  return sent;
}
const takes =
  (merged: string | null = null) =>
  (batch: Batch): Answer => ({
    batch: batch.id,
    act: 1,
    accepted: batch.blocks.map((b) => ({ id: b.id, version: 5, merged, bothAt: false })),
    refused: [],
  });

beforeEach(async () => {
  for (const unsent of await leftOver('m', 'd')) await dropUnsent(unsent);
});

test('what one tab typed on after its batch goes up before what another tab has', async () => {
  await keepUnsent(record('one', 'A', 'AAA'));
  await keepUnsent(record('two', 'B', 'BBB'));
  const sent = server(takes());
  const left = await sendLeftOver('m', 'd');
  expect(sent.map((b) => [b.id, b.blocks[0]!.body, b.blocks[0]!.basedOn])).toEqual([
    ['batch-one', 'A', 1],
    ['batch-one-since', 'AAA', 5],
    ['batch-two', 'B', 1],
    ['batch-two-since', 'BBB', 5],
  ]);
  expect(left.flatMap((u) => u.draft)).toEqual([]);
});

test('where the server merged the batch, what was typed on is merged in the text', async () => {
  await keepUnsent(record('one', 'A', 'AAA'));
  const sent = server(takes('AX'));
  const [left] = await sendLeftOver('m', 'd');
  expect(sent.length).toBe(1);
  expect(left!.draft).toEqual([{ change: change('AAA'), base: 'A' }]);
});

test('what was typed on and is not taken stands on the batch, which was', async () => {
  await keepUnsent(record('one', 'A', 'AAA'));
  server(takes(), () => new Problem('No.'));
  const [left] = await sendLeftOver('m', 'd');
  expect(left!.draft).toEqual([{ change: change('AAA'), base: 'A' }]);
});

test('a batch that is not taken goes back to what was typed on', async () => {
  await keepUnsent(record('one', 'A', 'AAA'));
  server(() => new Problem('No.'));
  const [left] = await sendLeftOver('m', 'd');
  expect(left!.inflight).toBeNull();
  expect(left!.draft).toEqual([{ change: change('AAA'), base: '' }]);
});

test('with the server away at either nothing is dropped', async () => {
  for (const away of [0, 1]) {
    await keepUnsent(record('one', 'A', 'AAA'));
    server(...Array.from({ length: away }, () => takes()), () => new Offline());
    await expect(sendLeftOver('m', 'd')).rejects.toThrow(Offline);
    expect((await leftOver('m', 'd'))[0]!.inflight!.id).toBe('batch-one');
  }
});
