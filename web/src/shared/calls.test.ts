// The client against a server that answers, refuses, dies, and a page that answers in its place.
import { afterEach, expect, test, vi } from 'vitest';

interface Answer {
  status: number;
  body: string;
}

/** The calls anew, before a server that gives these answers in turn; null is a connection that breaks. */
async function before(answers: (Answer | null)[], tokens = ['one', 'two']) {
  vi.resetModules();
  const asked: Request[] = [];
  vi.stubGlobal('fetch', async (input: Request | string) => {
    if (typeof input === 'string') return new Response(JSON.stringify({ token: tokens.shift() }));
    asked.push(input);
    const answer = answers.shift();
    if (!answer) throw new TypeError('Failed to fetch');
    return new Response(answer.status === 204 ? null : answer.body, { status: answer.status });
  });
  const { api, Offline, Problem } = await import('./api');
  return { api, Offline, Problem, asked };
}
const ok = (body: unknown): Answer => ({ status: 200, body: JSON.stringify(body) });

afterEach(() => vi.unstubAllGlobals());

test('an answer is its value, and nothing is nothing', async () => {
  const { api, asked } = await before([ok([{ id: 'a' }]), { status: 204, body: '' }]);
  expect(await api.manuals()).toEqual([{ id: 'a' }]);
  expect(await api.deleteManual('a/b')).toBeUndefined();
  expect(asked[0]!.headers.get('X-Kivren-Site')).toBeNull();
  expect(asked[1]!.headers.get('X-Kivren-Site')).toBe('one');
  expect(new URL(asked[1]!.url).pathname).toBe('/api/manuals/a%2Fb');
});

test('what is refused says why; an answer without words says its number', async () => {
  const { api, Problem } = await before([
    { status: 404, body: '{"what":"There is no such manual."}' },
    { status: 500, body: '<html>' },
  ]);
  await expect(api.open('x')).rejects.toEqual(new Problem('There is no such manual.'));
  await expect(api.open('x')).rejects.toThrow('The server answered 500.');
});

test('a server that is away, or cannot work just now, is offline', async () => {
  const { api, Offline } = await before([null, { status: 503, body: '{"what":"The database is away."}' }, { status: 502, body: 'x' }]);
  await expect(api.manuals()).rejects.toBeInstanceOf(Offline);
  await expect(api.manuals()).rejects.toEqual(new Offline('The database is away.'));
  await expect(api.manuals()).rejects.toEqual(new Offline('The server cannot be reached.'));
});

test('a page that answers in the place of the server is offline too', async () => {
  const { api, Offline } = await before([{ status: 200, body: '<!doctype html><title>Sign in</title>' }]);
  await expect(api.manuals()).rejects.toBeInstanceOf(Offline);
});

test('a token of an earlier visit is asked for anew, once, and what was sent goes again whole', async () => {
  const refused = { status: 403, body: '{"what":"No."}' };
  const { api, asked } = await before([refused, ok({ id: 'm', problems: [] }), refused, refused]);
  expect((await api.newManual('Ferries')).id).toBe('m');
  expect(asked.map((r) => r.headers.get('X-Kivren-Site'))).toEqual(['one', 'two']);
  expect(await asked[1]!.json()).toEqual({ title: 'Ferries', pattern: null, variables: {} });
  await expect(api.newManual('Other')).rejects.toThrow('No.');
  expect(asked).toHaveLength(4);
});

test('a file goes with its own type and name', async () => {
  const { api, asked } = await before([ok({ name: 'a.png', width: 1, height: 1, act: 1 })]);
  await api.bringPicture('m', 'w', new File(['bytes'], 'a b.png', { type: 'image/png' }));
  expect(asked[0]!.headers.get('Content-Type')).toBe('image/png');
  expect(new URL(asked[0]!.url).search).toBe('?name=a%20b.png&writer=w');
});
