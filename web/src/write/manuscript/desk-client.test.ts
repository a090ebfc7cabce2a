import { beforeEach, expect, test, vi } from 'vitest';
import { api, Offline, type Answer, type Batch } from '../../shared/api';
import { DeskClient } from './desk-client.svelte';
import { schema } from './schema';

const { doc, paragraph } = schema.nodes;
const text = (id: string, words: string) => paragraph!.create({ id }, words ? schema.text(words) : null);
const page = (...blocks: ReturnType<typeof text>[]) => doc!.create(null, blocks);

let sent: Batch[];
let answers: ((answer: Answer | Error) => void)[];

beforeEach(() => {
  localStorage.clear();
  sent = [];
  answers = [];
  vi.spyOn(api, 'send').mockImplementation((_, batch) => {
    sent.push(batch);
    return new Promise((resolve, reject) => answers.push((a) => (a instanceof Error ? reject(a) : resolve(a))));
  });
});

const accepted = (batch: Batch, act: number, version: number): Answer => ({
  batch: batch.id,
  act,
  accepted: batch.blocks.map((b) => ({ id: b.id, version, merged: null })),
  refused: [],
});

function opened(...blocks: ReturnType<typeof text>[]) {
  const client = new DeskClient('m', 'd');
  client.start(page(...blocks), new Map(blocks.map((b) => [b.attrs.id as string, 1])));
  return client;
}

test('one changed block goes up alone, with the version it was based on', () => {
  const [a, b] = [text('a', 'One.'), text('b', 'Two.')];
  const client = opened(a, b);
  client.changed(page(a, text('b', 'Two, longer.')));
  expect(sent[0]!.blocks.map((x) => [x.id, x.basedOn, x.after])).toEqual([['b', 1, null]]);
  expect(client.state).toBe('saving');
});

test('what is typed while a batch is under way goes up with the next, on the new version', async () => {
  const client = opened(text('a', 'O'));
  client.changed(page(text('a', 'On')));
  client.changed(page(text('a', 'One')));
  expect(sent.length).toBe(1);
  answers[0]!(accepted(sent[0]!, 1, 2));
  await vi.waitFor(() => expect(sent.length).toBe(2));
  expect(sent[1]!.blocks[0]!.basedOn).toBe(2);
  answers[1]!(accepted(sent[1]!, 2, 3));
  await vi.waitFor(() => expect(client.state).toBe('saved'));
  expect(localStorage.length).toBe(0);
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
  vi.useFakeTimers();
  const client = opened(text('a', ''));
  client.changed(page(text('a', 'Kept.')));
  answers[0]!(new Offline());
  await vi.advanceTimersByTimeAsync(10);
  expect(client.state).toBe('offline');
  expect(localStorage.getItem('kivren.unsent.m.d')).toContain('Kept.');
  await vi.advanceTimersByTimeAsync(400);
  expect(sent.length).toBe(2);
  expect(sent[1]!.id).toBe(sent[0]!.id);
  vi.useRealTimers();
});

test('a refused block is a conflict, and keeping mine sends it on top of theirs', async () => {
  const client = opened(text('a', 'Old.'));
  client.changed(page(text('a', 'Mine.')));
  answers[0]!({
    batch: sent[0]!.id,
    act: 0,
    accepted: [],
    refused: [{ id: 'a', why: 'Changed.', theirs: JSON.stringify(text('a', 'Theirs.')), version: 7 }],
  });
  await vi.waitFor(() => expect(client.state).toBe('conflict'));
  client.keepMine('a');
  expect(sent[1]!.blocks[0]).toMatchObject({ id: 'a', basedOn: 7 });
  expect(sent[1]!.blocks[0]!.body).toContain('Mine.');
});

test('another writer’s change is not sent back', () => {
  const client = opened(text('a', 'Old.'));
  client.took('a', 2, text('a', 'Theirs.'));
  client.sees(page(text('a', 'Theirs.')));
  expect(client.dirty('a')).toBe(false);
});
