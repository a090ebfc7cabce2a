// Blocks as they would come in, set like the manuscript but not to be typed in.
import type { JsonNode } from '../live/merge';
import { DOMSerializer, type DOMOutputSpec, type Node } from 'prosemirror-model';
import { schema } from '../write/manuscript/schema';
import { nodeOf, nodeOfBody } from '../write/manuscript/stored';

/** Makes the DOM of a block in the editor's document form. Pictures are asked for at an address of their own. */
export function incomingBlock(body: string, picture: (name: string) => string): HTMLElement {
  const json = JSON.parse(body) as JsonNode;
  if (json.type === 'title') {
    const title = document.createElement('h1');
    title.className = 'division-title';
    title.textContent = json.text ?? '';
    return title;
  }
  const nodes = DOMSerializer.nodesFromSchema(schema);
  const serializer = new DOMSerializer(
    {
      ...nodes,
      crossReference: (): DOMOutputSpec => ['span', { class: 'reference' }, '⟶'],
      variable: (n: Node): DOMOutputSpec => ['span', { class: 'variable' }, String(n.attrs.name)],
      figure: (n: Node): DOMOutputSpec => [
        'figure',
        { class: 'figure' },
        ['img', { src: picture(n.attrs.asset as string), alt: String(n.attrs.alternative) }],
        ['figcaption', 0],
        [
          'span',
          { class: n.attrs.alternative ? 'alternative' : 'alternative loose' },
          n.attrs.alternative ? `In words: ${n.attrs.alternative}` : '○ no alternative text',
        ],
      ],
      listing: nodes.listing ?? ((): DOMOutputSpec => ['div', { class: 'listing' }, 0]),
    },
    DOMSerializer.marksFromSchema(schema),
  );
  return serializer.serializeNode(nodeOf(json)) as HTMLElement;
}

/** All words of a block, for a difference that is shown as text. */
export function wordsOf(body: string | null): string {
  if (body === null) return '';
  const node = nodeOfBody(body);
  return node.textBetween(0, node.content.size, ' · ', (leaf) => (leaf.type.name === 'lineBreak' ? ' ' : ''));
}

export interface Stretch {
  text: string;
  kind: 'same' | 'gone' | 'new';
}

/** What of two texts is the same, gone and new, word by word (longest common subsequence). */
export function wordDifference(before: string, after: string): Stretch[] {
  const a = before.match(/\s+|[\p{L}\p{N}]+(?:[.,]\p{N}+)*|[^\s\p{L}\p{N}]/gu) ?? [];
  const b = after.match(/\s+|[\p{L}\p{N}]+(?:[.,]\p{N}+)*|[^\s\p{L}\p{N}]/gu) ?? [];
  const length = Array.from({ length: a.length + 1 }, () => new Uint16Array(b.length + 1));
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--)
      length[i]![j] = a[i] === b[j] ? length[i + 1]![j + 1]! + 1 : Math.max(length[i + 1]![j]!, length[i]![j + 1]!);
  const found: Stretch[] = [];
  const add = (text: string, kind: Stretch['kind']) => {
    const last = found.at(-1);
    if (last?.kind === kind) last.text += text;
    else found.push({ text, kind });
  };
  let i = 0;
  let j = 0;
  while (i < a.length || j < b.length)
    if (i < a.length && j < b.length && a[i] === b[j]) {
      add(a[i]!, 'same');
      i++;
      j++;
    } else if (j >= b.length || (i < a.length && length[i + 1]![j]! >= length[i]![j + 1]!)) add(a[i++]!, 'gone');
    else add(b[j++]!, 'new');
  return found;
}
