// How the server is called: every failure becomes a Problem with words for a person, or Offline, which is tried again.
import createClient from 'openapi-fetch';
import type { paths } from './api-schema';

/** The server answered that something cannot be done, and why. */
export class Problem extends Error {}
/** The server could not be reached, or cannot work just now: it is tried again. */
export class Offline extends Error {}

/** The addresses of the server, below wherever the application itself is. */
export const address = (path: string) => new URL(path.replace(/^\//, ''), document.baseURI).pathname + new URL(path, 'http://x').search;

const away = 'The server cannot be reached.';
let token: Promise<string> | null = null;

/** What every change says, so that no page of another site can make one. */
export function siteToken(): Promise<string> {
  token ??= fetch(address('/api/site'))
    .then(async (r) => ((await r.json()) as { token: string }).token)
    .catch(() => {
      token = null;
      throw new Offline(away);
    });
  return token;
}

async function sent(request: Request): Promise<Response> {
  if (request.method !== 'GET') request.headers.set('X-Kivren-Site', await siteToken());
  try {
    return await fetch(request);
  } catch {
    throw new Offline(away);
  }
}

async function reached(request: Request): Promise<Response> {
  const again = request.clone();
  let response = await sent(request);
  if (response.status === 403 && request.method !== 'GET') {
    // The cookie may be of an earlier visit: it is asked for anew, once.
    token = null;
    response = await sent(again);
  }
  if (response.status >= 502 && response.status <= 504) throw new Offline(wordsOf(await response.text()) ?? away);
  return response;
}

/** What the server says of a problem; null when the answer was not its own. */
function wordsOf(text: string): string | null {
  try {
    return (JSON.parse(text) as { what?: string }).what ?? null;
  } catch {
    return null;
  }
}

export const client = createClient<paths>({ baseUrl: new URL('.', document.baseURI).href.replace(/\/$/, ''), fetch: reached });

/** The value of an answer. */
export async function value<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got: { data?: T; error?: unknown; response: Response };
  try {
    got = await answer;
  } catch (e) {
    // Something between the browser and the server answered in its place, such as a page to sign in.
    throw e instanceof SyntaxError ? new Offline('Something else answers in the place of the server.') : e;
  }
  if (got.response.ok) return got.data as T;
  const said = (got.error as { what?: string } | undefined)?.what;
  throw new Problem(said ?? `The server answered ${got.response.status}.`);
}

/** Sends files as they are. */
export const asIs = (body: Blob | FormData) => ({
  body: body as never,
  bodySerializer: (given: unknown) => given as never,
  ...(body instanceof Blob ? { headers: { 'Content-Type': body.type || 'application/octet-stream' } } : {}),
});
