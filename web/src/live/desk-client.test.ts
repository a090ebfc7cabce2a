import 'fake-indexeddb/auto';
import { beforeEach, expect, test, vi } from 'vitest';
import { api, Offline, Problem, type Answer, type Batch } from '../shared/api';
import { schema } from '../write/manuscript/schema';
import { DeskClient } from './desk-client.svelte';
import { dropUnsent, leftOver } from './unsent';

const { doc, paragraph } = schema.nodes;
const text = (id: string, words: string) => paragraph!.create({ id }, words ? schema.text(words) : null);
const page = (...blocks: ReturnType<typeof text>[]) => doc!.create(null, blocks);

let sent: Batch[];
let answers: ((answer: Answer | Error) => void)[];

beforeEach(async () => {
  sent = [];
  answers = [];
  for (const unsent of await leftOver('m', 'd')) await dropUnsent(unsent);
  vi.spyOn(api, 'send').mockImplementation((_, batch) => {
    sent.push(batch);
    return new Promise((resolve, reject) => answers.push((a) => (a instanceof Error ? reject(a) : resolve(a))));
  });
});

const accepted = (batch: Batch, act: number, version: number): Answer => ({
  batch: batch.id,
  act,
  accepted: batch.blocks.map((b) => ({ id: b.id, version, merged: null, bothAt: false })),
  refused: [],
});

function opened(...blocks: ReturnType<typeof text>[]) {
  const client = new DeskClient('m', 'd');
  client.start(page(...blocks), new Map(blocks.map((b) => [b.attrs.id as string, 1])));
  return client;
}

/** What stands in the browser's own store, when it says what is expected. */
const stored = async (words: string) =>
  vi.waitFor(async () => expect(JSON.stringify(await leftOver('m', 'd'))).toContain(words), { timeout: 2000 });

test('one changed block goes up alone, with the version it was based on', () => {
  const [a, b] = [text('a', 'One.'), text('b', 'Two.')];
  const client = opened(a, b);
  client.changed(page(a, text('b', 'Two, longer.')));
  expect(sent[0]!.blocks.map((x) => [x.id, x.basedOn, x.after])).toEqual([['b', 1, null]]);
  expect(client.state).toBe('saving');
});

test('what is typed while a batch is under way goes up with the next, on the new version; then nothing is left', async () => {
  const client = opened(text('a', 'O'));
  client.changed(page(text('a', 'On')));
  client.changed(page(text('a', 'One')));
  expect(sent.length).toBe(1);
  await stored('One');
  answers[0]!(accepted(sent[0]!, 1, 2));
  await vi.waitFor(() => expect(sent.length).toBe(2));
  expect(sent[1]!.blocks[0]!.basedOn).toBe(2);
  answers[1]!(accepted(sent[1]!, 2, 3));
  await vi.waitFor(() => expect(client.state).toBe('saved'));
  await vi.waitFor(async () => expect(await leftOver('m', 'd')).toEqual([]));
});

test('a new block says what it stands after; a moved one too; a deleted one goes', () => {
  const [a, b, c] = [text('a', 'A'), text('b', 'B'), text('c', 'C')];
  const client = opened(a, b, c);
  client.changed(page(c, a, text('n', 'New')));
  const changes = new Map(sent[0]!.blocks.map((x) => [x.id, x]));
  expect(changes.get('b')!.deleted).toBe(true);
  expect(changes.get('n')!.after).toBe('a');
  expect([...changes.values()].some((x) => x.body === null && x.after !== null)).toBe(true);
});

test('a block that equals what the server has does not go up', () => {
  const client = opened(text('a', 'Same.'));
  client.changed(page(text('a', 'Same.')));
  expect(sent).toEqual([]);
  expect(client.state).toBe('saved');
});

test('while the server is away the words stand in the browser’s own store and are sent again under one id', async () => {
  const client = opened(text('a', ''));
  client.changed(page(text('a', 'Kept.')));
  answers[0]!(new Offline());
  await vi.waitFor(() => expect(client.state).toBe('offline'));
  await stored('Kept.');
  await vi.waitFor(() => expect(sent.length).toBe(2), { timeout: 3000 });
  expect(sent[1]!.id).toBe(sent[0]!.id);
  client.close();
});

test('a store that takes nothing does not hold up what goes to the server, and is told', async () => {
  const full = vi.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
    throw new DOMException('full', 'QuotaExceededError');
  });
  const client = opened(text('a', ''));
  client.changed(page(text('a', 'Typed.')));
  expect(sent.length).toBe(1);
  await vi.waitFor(() => expect(client.unkept).toBe(true));
  full.mockRestore();
  answers[0]!(accepted(sent[0]!, 1, 2));
  await vi.waitFor(() => expect(client.state).toBe('saved'));
});

test('a refused block stays in the text, and keeping mine sends it on top of theirs', async () => {
  const client = opened(text('a', 'Old.'));
  client.changed(page(text('a', 'Mine.')));
  answers[0]!({
    batch: sent[0]!.id,
    act: 0,
    accepted: [],
    refused: [{ id: 'a', why: 'Changed.', theirs: JSON.stringify(text('a', 'Theirs.')), version: 7 }],
  });
  await vi.waitFor(() => expect(client.state).toBe('refused'));
  await stored('Mine.');
  client.keepMine('a');
  expect(sent[1]!.blocks[0]).toMatchObject({ id: 'a', basedOn: 7 });
  expect(sent[1]!.blocks[0]!.body).toContain('Mine.');
});

test('a batch that the server cannot take is taken apart: one bad block is told, the others are stored', async () => {
  const [a, b] = [text('a', 'A'), text('b', 'B')];
  const client = opened(a, b);
  client.changed(page(text('a', 'bad words'), text('b', 'good words')));
  answers[0]!(new Problem('This cannot be read.'));
  await vi.waitFor(() => expect(sent.length).toBe(2));
  answers[1]!(new Problem('This cannot be read.'));
  await vi.waitFor(() => expect(sent.length).toBe(3));
  expect(sent[2]!.blocks[0]!.body).toContain('good words');
  answers[2]!(accepted(sent[2]!, 5, 2));
  await vi.waitFor(() => expect(client.state).toBe('refused'));
  expect([...client.unstored.keys()]).toEqual(['a']);
  expect(client.unstored.get('a')!.why).toBe('This cannot be read.');
  await stored('bad words');
  // What is typed elsewhere goes on; what is written anew in the block itself is tried again, on the version the server has.
  client.changed(page(text('a', 'bad words'), text('b', 'good words, and more')));
  expect(sent[3]!.blocks.map((x) => x.id)).toEqual(['b']);
  answers[3]!(accepted(sent[3]!, 6, 3));
  await vi.waitFor(() => expect(client.state).toBe('refused'));
  client.changed(page(text('a', 'better words'), text('b', 'good words, and more')));
  await vi.waitFor(() => expect(sent[4]?.blocks[0]).toMatchObject({ id: 'a', basedOn: 1 }));
});

test('merged words come with what was sent, so that what was typed since is kept', async () => {
  const heard: unknown[] = [];
  const client = new DeskClient('m', 'd', { merged: (id, mine, body) => heard.push([id, JSON.stringify(mine), body]) > 0 });
  client.start(page(text('a', 'base')), new Map([['a', 1]]));
  client.changed(page(text('a', 'base mine')));
  const body = JSON.stringify(text('a', 'theirs base mine').toJSON());
  answers[0]!({ batch: sent[0]!.id, act: 2, accepted: [{ id: 'a', version: 3, merged: body, bothAt: true }], refused: [] });
  await vi.waitFor(() => expect(heard.length).toBe(1));
  expect(heard[0]).toEqual(['a', expect.stringContaining('base mine'), body]);
  expect([...client.both]).toEqual(['a']);
  client.sawBoth('a');
  expect(client.both.size).toBe(0);
});

test('merged words that cannot come in under what was typed since are not written over: it goes up on what it was based on', async () => {
  const client = new DeskClient('m', 'd', { merged: () => false });
  client.start(page(text('a', 'base')), new Map([['a', 1]]));
  client.changed(page(text('a', 'base mine')));
  client.changed(page(text('a', 'base mine, another kind since')));
  const body = JSON.stringify(text('a', 'theirs base mine').toJSON());
  answers[0]!({ batch: sent[0]!.id, act: 2, accepted: [{ id: 'a', version: 3, merged: body, bothAt: false }], refused: [] });
  await vi.waitFor(() => expect(sent.length).toBe(2));
  expect(sent[1]!.blocks[0]).toMatchObject({ id: 'a', basedOn: 1, body: expect.stringContaining('another kind since') as string });
});

test('another writer’s change is not sent back', () => {
  const client = opened(text('a', 'Old.'));
  client.took('a', 2, text('a', 'Theirs.'));
  client.sees(page(text('a', 'Theirs.')));
  expect(client.dirty('a')).toBe(false);
});

test('a title stands in the store until it is stored, and is sent again under one id', async () => {
  const asked: string[] = [];
  let fail = true;
  vi.spyOn(api, 'planAct').mockImplementation((_m, _w, order, act) => {
    asked.push(`${order.do} ${order.text} ${act}`);
    if (!fail) return Promise.resolve({ act: 9, words: '', refused: null });
    fail = false;
    return Promise.reject(new Offline());
  });
  const titled: unknown[] = [];
  const client = new DeskClient('m', 'd', { titled: (title, act) => titled.push([title, act]) });
  client.start(page(text('a', 'x')), new Map([['a', 1]]));
  client.rename('Anchors');
  await stored('Anchors');
  await vi.waitFor(() => expect(titled).toEqual([['Anchors', 9]]), { timeout: 3000 });
  expect(asked.length).toBe(2);
  expect(asked[0]).toBe(asked[1]);
  await vi.waitFor(async () => expect(await leftOver('m', 'd')).toEqual([]));
});
