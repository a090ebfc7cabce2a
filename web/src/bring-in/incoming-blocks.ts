// Blocks as they would come in, set like the manuscript but not to be typed in.
import type { JsonNode } from '../live/merge';
import { DOMSerializer, type DOMOutputSpec, type Node } from 'prosemirror-model';
import { schema } from '../write/manuscript/schema';
import { nodeOf } from '../write/manuscript/stored';

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
