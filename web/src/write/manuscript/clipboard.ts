// What is copied keeps all that it is: each node and mark carries its kind and attributes, so that a block pasted in
// another division is the block that was copied. Other programs find plain paragraphs, lists and tables in it.
import { DOMParser, DOMSerializer, Fragment, Slice, type DOMOutputSpec, type Mark, type Node, type TagParseRule } from 'prosemirror-model';
import { newId } from '../../shared/api';
import { carriesId, schema } from './schema';
import { webTable } from './web-table';

interface Rendered {
  dom: globalThis.Node;
  contentDOM?: HTMLElement;
}

function carrying(spec: DOMOutputSpec, kind: string, attrs: Record<string, unknown>): Rendered {
  const { dom, contentDOM } = DOMSerializer.renderSpec(document, spec);
  const element = dom as HTMLElement;
  element.dataset.kind = kind;
  element.dataset.attrs = JSON.stringify(attrs);
  // The first such element within a node is its own.
  if (contentDOM && contentDOM !== element) {
    element.dataset.wraps = '';
    contentDOM.dataset.inside = '';
  }
  return { dom: element, contentDOM };
}

function bare(node: Node): DOMOutputSpec {
  const tag = node.isInline ? 'span' : 'div';
  return node.isLeaf ? [tag] : [tag, 0];
}

export const clipboardSerializer = new DOMSerializer(
  {
    ...Object.fromEntries(
      Object.values(schema.nodes).map((type) => [
        type.name,
        (node: Node) => carrying(type.spec.toDOM?.(node) ?? bare(node), type.name, node.attrs) as DOMOutputSpec,
      ]),
    ),
    text: (node: Node) => (node.text ?? '') as unknown as DOMOutputSpec,
  },
  Object.fromEntries(
    Object.values(schema.marks).map((type) => [
      type.name,
      (mark: Mark, inline: boolean) => carrying(type.spec.toDOM?.(mark, inline) ?? ['span', 0], type.name, mark.attrs) as DOMOutputSpec,
    ]),
  ),
);

const attrsOf = (dom: HTMLElement) => {
  try {
    return JSON.parse(dom.dataset.attrs ?? '{}') as Record<string, unknown>;
  } catch {
    return false; // not of our making
  }
};

const carried = (kind: string): TagParseRule => ({
  tag: `[data-kind="${kind}"]`,
  priority: 100,
  getAttrs: attrsOf,
});

export const clipboardParser: DOMParser = new DOMParser(schema, [
  ...Object.keys(schema.nodes)
    .filter((name) => name !== 'text' && name !== 'doc')
    .map((name) => ({
      ...carried(name),
      node: name,
      preserveWhitespace: 'full' as const,
      contentElement: (dom: globalThis.Node) => {
        const element = dom as HTMLElement;
        return (element.dataset.wraps === undefined ? null : element.querySelector<HTMLElement>('[data-inside]')) ?? element;
      },
    })),
  ...Object.keys(schema.marks).map((name) => ({ ...carried(name), mark: name })),
  // A table of a web page or a spreadsheet: its caption and its rows as they are, whatever wraps them.
  {
    tag: 'table:not([data-kind])',
    node: 'table',
    getAttrs: (dom) => webTable(dom as HTMLTableElement, clipboardParser)?.attrs ?? false,
    getContent: (dom) => webTable(dom as HTMLTableElement, clipboardParser)!.content,
  },
  // Lines that were set as they were typed.
  {
    tag: 'pre:not([data-kind])',
    node: 'listing',
    getContent: (dom) => {
      const lines = (dom.textContent ?? '').replace(/^\n|\n+$/g, '');
      return Fragment.from([schema.nodes.caption!.create(), schema.nodes.lines!.create(null, lines ? schema.text(lines) : null)]);
    },
  },
  ...DOMParser.fromSchema(schema).rules,
]);

/** What is pasted is new, whatever it was copied from: new ids, the same for both ends of an index range. */
export function pasted(slice: Slice): Slice {
  const ids = new Map<unknown, string>();
  const fresh = (id: unknown) => {
    if (!ids.has(id)) ids.set(id, newId());
    return ids.get(id)!;
  };
  const renewed = (node: Node): Node => {
    if (node.isText) return node;
    const attrs = carriesId(node) ? { ...node.attrs, id: node.attrs.id ? fresh(node.attrs.id) : null } : node.attrs;
    return node.type.create(attrs, all(node.content), node.marks);
  };
  const all = (content: Fragment) => {
    const nodes: Node[] = [];
    content.forEach((node) => nodes.push(renewed(node)));
    return Fragment.from(nodes);
  };
  return new Slice(all(slice.content), slice.openStart, slice.openEnd);
}

/** The words of what is copied, for programs that take no more: with what each reference and variable prints. */
export const plainWords = (slice: Slice, printed: (node: Node) => string) =>
  slice.content.textBetween(0, slice.content.size, '\n\n', (leaf) => (leaf.type.name === 'lineBreak' ? '\n' : printed(leaf)));

/** The pictures among what is dropped or pasted; none where words come with them: a word processor gives a picture of the words
 * beside them, and the words are wanted. A picture copied from a web page comes with markup that holds no words. */
export function pictureFiles(data: DataTransfer | null): File[] {
  const pictures = [...(data?.files ?? [])].filter((file) => file.type.startsWith('image/'));
  const markup = pictures.length > 0 ? (data?.getData('text/html') ?? '') : '';
  const words = markup && new globalThis.DOMParser().parseFromString(markup, 'text/html').body.textContent.trim();
  return words ? [] : pictures;
}
