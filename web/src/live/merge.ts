// Merges two changes of one block over the text both began with, as the server's desk does (BlockMerge.cs): items, rows and
// inner blocks by their ids, words by where they stand. What either typed is in the result. tests/merges.json holds both to
// the same answers.

export interface JsonNode {
  type: string;
  attrs?: Record<string, unknown>;
  content?: JsonNode[];
  text?: string;
  marks?: unknown[];
}

interface Hunk {
  from: number;
  to: number;
  start: number;
  end: number;
}

/** Set when both replaced the same words: both texts stand, theirs first. */
export interface Both {
  both: boolean;
}

/** @returns null when both made different kinds of block of it */
export function merge(based: JsonNode, mine: JsonNode, theirs: JsonNode, flag: Both): JsonNode | null {
  if (equal(based, mine)) return theirs;
  if (equal(based, theirs) || equal(mine, theirs)) return mine;
  if (mine.type !== theirs.type && mine.type !== based.type && theirs.type !== based.type) return null;
  const type = mine.type === based.type ? theirs.type : mine.type;
  const nodes = [based, mine, theirs];
  const text = nodes.some(holdsText);
  // Between a paragraph and a head the words stay; every other kind holds them otherwise, or holds none.
  if (mine.type !== theirs.type && !(isLine(mine) && isLine(theirs) && nodes.every(allText))) return null;
  const attrs = mergeAttrs(based.attrs, mine.attrs, theirs.attrs);
  const content = (text ? mergeSpans : mergeParts)(based.content ?? [], mine.content ?? [], theirs.content ?? [], flag);
  if (!content) return null;
  return { type, ...(attrs ? { attrs } : {}), ...(content.length > 0 ? { content } : {}) };
}

/** Whether two JSON values say the same, whatever the order of their names. */
export function equal(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const keys = Object.keys(x).filter((k) => x[k] !== undefined);
  return keys.length === Object.keys(y).filter((k) => y[k] !== undefined).length && keys.every((k) => equal(x[k], y[k]));
}

const spanTypes = new Set([
  'text',
  'crossReference',
  'indexEntry',
  'variable',
  'anchor',
  'inlineEquation',
  'inlinePicture',
  'writerNote',
  'lineBreak',
  'footnote',
  'figureArea',
]);
const holdsText = (node: JsonNode) => (node.content ?? []).some((c) => spanTypes.has(c.type));
const allText = (node: JsonNode) => (node.content ?? []).every((c) => spanTypes.has(c.type));
const isLine = (node: JsonNode) => node.type === 'paragraph' || node.type === 'head';
const idOf = (node: JsonNode) => (typeof node.attrs?.id === 'string' ? node.attrs.id : null);

type Attrs = Record<string, unknown> | undefined;

function mergeAttrs(based: Attrs, mine: Attrs, theirs: Attrs): Attrs {
  if (!mine && !theirs) return undefined;
  const merged: Record<string, unknown> = {};
  for (const name of new Set([...Object.keys(mine ?? {}), ...Object.keys(theirs ?? {})])) {
    const [b, m, t] = [based?.[name], mine?.[name], theirs?.[name]];
    const stands = equal(b, m) ? t : m;
    if (stands !== undefined && (stands !== null || (mine && name in mine))) merged[name] = stands;
  }
  return merged;
}

// ---- what was changed ----

const mostSteps = 600;

/** Runs in order, none touching another (Myers' O(ND) difference). */
export function difference<T>(before: T[], now: T[], same: (a: T, b: T) => boolean): Hunk[] {
  let head = 0;
  let tail = 0;
  while (head < before.length && head < now.length && same(before[head]!, now[head]!)) head++;
  while (tail < before.length - head && tail < now.length - head && same(before[before.length - 1 - tail]!, now[now.length - 1 - tail]!))
    tail++;
  const n = before.length - head - tail;
  const m = now.length - head - tail;
  if (n === 0 && m === 0) return [];
  const whole = [{ from: head, to: head + n, start: head, end: head + m }];
  if (n === 0 || m === 0) return whole;
  const most = Math.min(n + m, mostSteps);
  const middle = most + 1;
  const ends = new Int32Array(2 * most + 3);
  const trace: Int32Array[] = [];
  for (let d = 0; d <= most; d++) {
    trace.push(ends.slice(middle - d, middle + d + 1));
    for (let k = -d; k <= d; k += 2) {
      let x = k === -d || (k !== d && ends[middle + k - 1]! < ends[middle + k + 1]!) ? ends[middle + k + 1]! : ends[middle + k - 1]! + 1;
      let y = x - k;
      while (x < n && y < m && same(before[head + x]!, now[head + y]!)) {
        x++;
        y++;
      }
      ends[middle + k] = x;
      if (x >= n && y >= m) return back(trace, d, n, m, head);
    }
  }
  return whole;
}

function back(trace: Int32Array[], steps: number, n: number, m: number, head: number): Hunk[] {
  const hunks: Hunk[] = [];
  let x = n;
  let y = m;
  for (let d = steps; d > 0; d--) {
    const ends = trace[d]!;
    const reached = (k: number) => (k + d >= 0 && k + d < ends.length ? ends[k + d]! : -1);
    const k = x - y;
    const down = k === -d || (k !== d && reached(k - 1) < reached(k + 1));
    const from = down ? k + 1 : k - 1;
    const px = reached(from);
    const py = px - from;
    const sx = down ? px : px + 1;
    const sy = down ? py + 1 : py;
    const last = hunks[hunks.length - 1];
    if (last && last.from === head + sx && last.start === head + sy) {
      last.from = head + px;
      last.start = head + py;
    } else hunks.push({ from: head + px, to: head + sx, start: head + py, end: head + sy });
    x = px;
    y = py;
  }
  return hunks.reverse();
}

// ---- merging sequences ----

const inserts = (hunks: Hunk[]) => hunks.every((h) => h.from === h.to);
const deletes = (hunks: Hunk[]) => hunks.every((h) => h.start === h.end);

function mergeSequences<T>(
  based: T[],
  mine: T[],
  theirs: T[],
  myHunks: Hunk[],
  theirHunks: Hunk[],
  same: (a: T, b: T) => boolean,
  between: T | null,
  flag: Both,
): T[] {
  const merged: T[] = [];
  let at = 0;
  let m = 0;
  let t = 0;
  while (m < myHunks.length || t < theirHunks.length) {
    const from = Math.min(myHunks[m]?.from ?? Infinity, theirHunks[t]?.from ?? Infinity);
    let to = from;
    const [firstMine, firstTheirs] = [m, t];
    const touches = (h: Hunk | undefined) => h !== undefined && (h.from < to || h.from === from);
    for (;;) {
      if (touches(myHunks[m])) to = Math.max(to, myHunks[m++]!.to);
      else if (touches(theirHunks[t])) to = Math.max(to, theirHunks[t++]!.to);
      else break;
    }
    for (; at < from; at++) merged.push(based[at]!);
    const [my, their] = [myHunks.slice(firstMine, m), theirHunks.slice(firstTheirs, t)];
    const own = textOf(based, mine, my, from, to);
    const other = textOf(based, theirs, their, from, to);
    if (their.length === 0) merged.push(...own);
    else if (my.length === 0) merged.push(...other);
    else if (!(inserts(my) && inserts(their)) && own.length === other.length && own.every((o, i) => same(o, other[i]!)))
      merged.push(...own);
    else if (deletes(my) || deletes(their) || inserts(my) || inserts(their))
      merged.push(...interleaved(based, mine, theirs, my, their, from, to));
    else {
      flag.both = true;
      merged.push(...other, ...(between === null ? [] : [between]), ...own);
    }
    at = to;
  }
  for (; at < based.length; at++) merged.push(based[at]!);
  return merged;
}

function textOf<T>(based: T[], changed: T[], hunks: Hunk[], from: number, to: number): T[] {
  const text: T[] = [];
  let at = from;
  for (const hunk of hunks) {
    for (; at < hunk.from; at++) text.push(based[at]!);
    text.push(...changed.slice(hunk.start, hunk.end));
    at = hunk.to;
  }
  for (; at < to; at++) text.push(based[at]!);
  return text;
}

/** All that either put in, at its place; of the base what neither took out. */
function interleaved<T>(based: T[], mine: T[], theirs: T[], my: Hunk[], their: Hunk[], from: number, to: number): T[] {
  const text: T[] = [];
  const takes = (hunks: Hunk[], at: number) => hunks.some((h) => h.from <= at && at < h.to);
  const putIn = (side: T[], hunks: Hunk[], at: number) => {
    for (const h of hunks) if (h.from === at) text.push(...side.slice(h.start, h.end));
  };
  for (let at = from; at <= to; at++) {
    putIn(theirs, their, at);
    putIn(mine, my, at);
    if (at < to && !takes(my, at) && !takes(their, at)) text.push(based[at]!);
  }
  return text;
}

// ---- parts with identities ----

interface Part {
  key: string;
  node: JsonNode;
}

const partsOf = (content: JsonNode[]): Part[] => content.map((node) => ({ key: idOf(node) ?? 'kind ' + node.type, node }));
const samePart = (a: Part, b: Part) => a.key === b.key;

function byKey<T>(items: T[], key: (item: T) => string): Map<string, T> {
  const found = new Map<string, T>();
  for (const item of items) if (!found.has(key(item))) found.set(key(item), item);
  return found;
}

function mergeParts(based: JsonNode[], mine: JsonNode[], theirs: JsonNode[], flag: Both): JsonNode[] | null {
  const [b, m, t] = [partsOf(based), partsOf(mine), partsOf(theirs)];
  const [inBase, inMine, inTheirs] = [b, m, t].map((parts) => byKey(parts, (p) => p.key)) as [
    Map<string, Part>,
    Map<string, Part>,
    Map<string, Part>,
  ];
  const order = mergeSequences(b, m, t, difference(b, m, samePart), difference(b, t, samePart), samePart, null, { both: false });
  b.forEach((part, i) => {
    if (order.some((p) => p.key === part.key)) return;
    const left = inMine.get(part.key) ?? inTheirs.get(part.key);
    if (!left || equal(left.node, part.node)) return;
    const before = i === 0 ? -1 : order.findIndex((p) => p.key === b[i - 1]!.key);
    order.splice(before + 1, 0, left);
  });
  const merged: JsonNode[] = [];
  const seen = new Set<string>();
  for (const { key } of order) {
    if (seen.has(key)) continue;
    seen.add(key);
    const [was, own, other] = [inBase.get(key), inMine.get(key), inTheirs.get(key)];
    const node = was && own && other ? merge(was.node, own.node, other.node, flag) : (own ?? other ?? was)!.node;
    if (!node) return null;
    merged.push(node);
  }
  return merged;
}

// ---- words ----

interface Token {
  text: string;
  marks: string;
  atom: string | null;
  node: JsonNode | null;
}

const sameToken = (a: Token, b: Token) =>
  a.atom === null ? b.atom === null && a.text === b.text && a.marks === b.marks : a.atom === b.atom;

function tokensOf(content: JsonNode[]): Token[] {
  const tokens: Token[] = [];
  for (const span of content) {
    if (span.type === 'text' && typeof span.text === 'string') {
      const marks = span.marks ? JSON.stringify(span.marks) : '';
      for (const letter of span.text) tokens.push({ text: letter, marks, atom: null, node: null });
    } else tokens.push({ text: '', marks: '', atom: idOf(span) ?? JSON.stringify(span), node: span });
  }
  return tokens;
}

const isWord = (token: Token) => token.atom === null && /^[\p{L}\p{Nd}]/u.test(token.text);

function wordsOf(tokens: Token[]): { key: string; at: number }[] {
  const words: { key: string; at: number }[] = [];
  for (let i = 0; i < tokens.length;) {
    const start = i;
    let key = '';
    do {
      const token = tokens[i]!;
      key += (token.atom !== null ? '\u0001' + token.atom : token.text) + '\u0002' + token.marks;
      i++;
    } while (isWord(tokens[start]!) && i < tokens.length && isWord(tokens[i]!));
    words.push({ key, at: start });
  }
  return words;
}

/** Where letters only came, or only went, it is told letter by letter. Else word by word, so that two words which share
 * letters are not mixed; then each run is cut to the letters that really changed. */
function hunksOf(before: Token[], now: Token[]): Hunk[] {
  const all = difference(before, now, sameToken);
  if (inserts(all) || deletes(all)) return atWords(before, now, all);
  const [b, n] = [wordsOf(before), wordsOf(now)];
  const hunks = difference(b, n, (x, y) => x.key === y.key).flatMap((hunk) => {
    const from = b[hunk.from]?.at ?? before.length;
    const to = b[hunk.to]?.at ?? before.length;
    const start = n[hunk.start]?.at ?? now.length;
    const end = n[hunk.end]?.at ?? now.length;
    const letters = difference(before.slice(from, to), now.slice(start, end), sameToken);
    const gone = letters.reduce((sum, h) => sum + h.to - h.from, 0);
    // Where less than half of a run still stands it is another word.
    if (gone * 2 > to - from) return [{ from, to, start, end }];
    return letters.map((h) => ({ from: h.from + from, to: h.to + from, start: h.start + start, end: h.end + start }));
  });
  return atWords(before, now, hunks);
}

/** Where the same letters stand before and behind, it cannot be told which of them came: then it was whole words. Each run of
 * letters that only came, or only went, is moved to where it begins or ends with a word. */
function atWords(before: Token[], now: Token[], hunks: Hunk[]): Hunk[] {
  hunks.forEach((hunk, h) => {
    const came = hunk.from === hunk.to;
    if (came === (hunk.start === hunk.end)) return;
    const text = came ? now : before;
    const from = came ? hunk.start : hunk.from;
    const length = came ? hunk.end - hunk.start : hunk.to - hunk.from;
    const [previous, following] = [hunks[h - 1], hunks[h + 1]];
    const least = previous ? (came ? previous.end : previous.to) : 0;
    const most = following ? (came ? following.start : following.from) : text.length;
    let right = 0;
    while (from + right + length < most && sameToken(text[from + right]!, text[from + right + length]!)) right++;
    let best = 0;
    let score = -1;
    for (let move = right; from + move >= least; move--) {
      const ends = (edge(text, from + move) ? 1 : 0) + (edge(text, from + move + length) ? 1 : 0);
      if (ends > score) [best, score] = [move, ends];
      if (from + move <= least || !sameToken(text[from + move - 1]!, text[from + move + length - 1]!)) break;
    }
    hunks[h] = { from: hunk.from + best, to: hunk.to + best, start: hunk.start + best, end: hunk.end + best };
  });
  return hunks;
}

/** Whether a word begins at a place, or the text begins or ends there. */
const edge = (text: Token[], at: number) => at === 0 || at === text.length || (!isWord(text[at - 1]!) && isWord(text[at]!));

function mergeSpans(based: JsonNode[], mine: JsonNode[], theirs: JsonNode[], flag: Both): JsonNode[] | null {
  const [b, m, t] = [tokensOf(based), tokensOf(mine), tokensOf(theirs)];
  const space = { text: ' ', marks: '', atom: null, node: null };
  const merged = mergeSequences(b, m, t, hunksOf(b, m), hunksOf(b, t), sameToken, space, flag);
  const atoms = (tokens: Token[]) =>
    byKey(
      tokens.filter((x) => x.atom !== null),
      (x) => x.atom!,
    );
  const [inBase, inMine, inTheirs] = [atoms(b), atoms(m), atoms(t)];
  const spans: JsonNode[] = [];
  let run = '';
  let marks = '';
  const end = () => {
    if (run) spans.push({ type: 'text', text: run, ...(marks ? { marks: JSON.parse(marks) as unknown[] } : {}) });
    run = '';
  };
  const seen = new Set<string>();
  for (const token of merged) {
    if (token.atom !== null) {
      end();
      if (idOf(token.node!) !== null) {
        if (seen.has(token.atom)) continue;
        seen.add(token.atom);
      }
      const [was, own, other] = [inBase.get(token.atom), inMine.get(token.atom), inTheirs.get(token.atom)];
      const node = was && own && other ? merge(was.node!, own.node!, other.node!, flag) : (own ?? other ?? was)!.node!;
      if (!node) return null;
      spans.push(node);
      continue;
    }
    if (token.marks !== marks) end();
    marks = token.marks;
    run += token.text;
  }
  end();
  return spans;
}
