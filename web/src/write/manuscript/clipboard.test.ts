// Both demo manuals, block by block, through the editor's document and through its clipboard.
import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { inflateRawSync } from 'node:zlib';
import { Fragment, Slice } from 'prosemirror-model';
import { expect, test } from 'vitest';
import { clipboardParser, clipboardSerializer, pasted, pictureFiles, plainWords } from './clipboard';
import type { JsonNode } from '../../live/merge';
import { schema } from './schema';
import { jsonOf, nodeOf } from './stored';

interface Json {
  type: string;
  attrs?: Record<string, unknown>;
  content?: Json[];
  marks?: { type: string; attrs?: Record<string, unknown> }[];
  text?: string;
}

/** The divisions of a package: a zip archive, read from its central directory. */
function divisions(name: string): { title: string; blocks: Json[] }[] {
  const zip = readFileSync(resolve('../demo', name));
  const found = [];
  let at = zip.readUInt32LE(zip.lastIndexOf('PK\x05\x06', undefined, 'latin1') + 16);
  for (
    ;
    zip.readUInt32LE(at) === 0x02014b50;
    at += 46 + zip.readUInt16LE(at + 28) + zip.readUInt16LE(at + 30) + zip.readUInt16LE(at + 32)
  ) {
    const entry = zip.toString('utf8', at + 46, at + 46 + zip.readUInt16LE(at + 28));
    if (!entry.startsWith('divisions/')) continue;
    const local = zip.readUInt32LE(at + 42);
    const from = local + 30 + zip.readUInt16LE(local + 26) + zip.readUInt16LE(local + 28);
    const bytes = zip.subarray(from, from + zip.readUInt32LE(at + 20));
    found.push(JSON.parse((zip.readUInt16LE(at + 10) === 0 ? bytes : inflateRawSync(bytes)).toString()));
  }
  return found;
}

/** What one holds that the other has not, as a path; what the schema fills in by itself is no difference. */
function difference(is: Json, was: Json, path = is.type): string | null {
  if (is.type !== was.type) return `${path}: ${was.type} became ${is.type}`;
  if (is.text !== was.text) return `${path}: “${was.text}” became “${is.text}”`;
  const defaults = schema.nodes[is.type]!.spec.attrs ?? {};
  for (const key of new Set([...Object.keys(is.attrs ?? {}), ...Object.keys(was.attrs ?? {})])) {
    const [a, b] = [is.attrs?.[key] ?? defaults[key]?.default ?? null, was.attrs?.[key] ?? defaults[key]?.default ?? null];
    if (JSON.stringify(a) !== JSON.stringify(b)) return `${path}.${key}: ${JSON.stringify(b)} became ${JSON.stringify(a)}`;
  }
  const marks = (of: Json) =>
    (of.marks ?? []).map((m) => m.type + JSON.stringify(Object.values(m.attrs ?? {}).filter((v) => v !== null))).sort();
  if (marks(is).join() !== marks(was).join()) return `${path}: marks ${marks(was)} became ${marks(is)}`;
  const [a, b] = [is.content ?? [], was.content ?? []];
  if (a.length !== b.length) return `${path}: ${b.length} parts became ${a.length}`;
  for (let n = 0; n < a.length; n++) {
    const inner = difference(a[n]!, b[n]!, `${path} › ${a[n]!.type}`);
    if (inner) return inner;
  }
  return null;
}

const demos = ['tarn6.kivren', 'cf2.kivren'].flatMap((name) =>
  divisions(name).flatMap((d) => d.blocks.map((block) => ({ where: `${name}, ${d.title}`, block }))),
);

test('the demos hold every kind of block', () => {
  const kinds = new Set(demos.map((d) => d.block.type));
  for (const kind of ['paragraph', 'head', 'steps', 'list', 'table', 'figure', 'admonition', 'listing', 'equation', 'aside', 'example'])
    expect(kinds).toContain(kind);
});

test('every block of the demos is stored as it was read', () => {
  const lost = demos.map(({ where, block }) => {
    const node = nodeOf(block as JsonNode);
    node.check();
    const found = difference(jsonOf(node) as Json, block);
    return found && `${where}: ${found}`;
  });
  expect(lost.filter(Boolean)).toEqual([]);
});

test('every block of the demos is pasted as it was copied', () => {
  const lost = demos.map(({ where, block }) => {
    const dom = document.createElement('div');
    dom.append(clipboardSerializer.serializeFragment(Fragment.from(nodeOf(block as JsonNode))));
    const slice = Slice.maxOpen(clipboardParser.parse(dom).content);
    const found =
      slice.content.childCount === 1
        ? difference(jsonOf(slice.content.firstChild!) as Json, block)
        : `${slice.content.childCount} blocks of one`;
    return found && `${where}: ${found}`;
  });
  expect(lost.filter(Boolean)).toEqual([]);
});

test('what is pasted has new ids, the same for both ends of a range', () => {
  const entry = (kind: string) => schema.nodes.indexEntry!.create({ id: 'r', headings: ['winch'], kind });
  const block = schema.nodes.paragraph!.create({ id: 'p' }, [entry('rangeStart'), schema.text('The winch'), entry('rangeEnd')]);
  const copy = pasted(new Slice(Fragment.from(block), 1, 1)).content.firstChild!;
  expect(copy.attrs.id).not.toBe('p');
  expect(copy.firstChild!.attrs.id).not.toBe('r');
  expect(copy.lastChild!.attrs.id).toBe(copy.firstChild!.attrs.id);
});

test('copied as plain words, a reference is what it prints', () => {
  const reference = schema.nodes.crossReference!.create({ id: 'x', target: 't', form: 'page' });
  const slice = new Slice(Fragment.from(schema.nodes.paragraph!.create(null, [schema.text('See '), reference, schema.text('.')])), 1, 1);
  expect(plainWords(slice, (leaf) => (leaf.attrs.id === 'x' ? 'page 31' : ''))).toBe('See page 31.');
});

test('a picture copied from a web page is a picture; a picture of words that come with it is not', () => {
  const picture = new File(['x'], 'a.png', { type: 'image/png' });
  const data = (html: string) => ({ files: [picture], getData: () => html }) as unknown as DataTransfer;
  expect(pictureFiles(data('<meta charset="utf-8"><img src="http://example.org/a.png">'))).toEqual([picture]);
  expect(pictureFiles(data(''))).toEqual([picture]);
  expect(pictureFiles(data('<p>The words</p>'))).toEqual([]);
  expect(pictureFiles(null)).toEqual([]);
});
