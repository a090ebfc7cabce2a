// The manuscript's document: node and mark names are the content model's, so that what the editor holds is what the
// desk stores (docs/package.md).
import { inWords } from '../../shared/applies-to';
import type { AppliesTo } from '../../shared/api';
import { Schema, type DOMOutputSpec, type Node, type NodeSpec } from 'prosemirror-model';

const id = { id: { default: null } };
const applies = { appliesTo: { default: null } };
/** Roles of the manual's own, and what a pattern fixed, go with their block. */
const block = { ...id, ...applies, ownRole: { default: null }, fixedBy: { default: null } };

const dataId = (node: Node) => ({ 'data-id': String(node.attrs.id ?? '') });
const withContent = (tag: string, cls: (node: Node) => string): ((node: Node) => DOMOutputSpec) => {
  return (node) => [
    tag,
    { class: cls(node), ...dataId(node), ...(node.attrs.ownRole ? { 'data-own-role': String(node.attrs.ownRole) } : {}) },
    0,
  ];
};

const nodes: Record<string, NodeSpec> = {
  doc: { content: 'block+' },
  text: { group: 'inline' },
  paragraph: {
    group: 'block',
    content: 'inline*',
    attrs: { ...block, role: { default: 'body' } },
    toDOM: withContent('p', (n) => 'role-' + n.attrs.role),
    parseDOM: [{ tag: 'p' }, { tag: 'div.role-body' }],
  },
  head: {
    group: 'block',
    content: 'inline*',
    defining: true,
    attrs: {
      ...block,
      level: { default: 'A' },
      shortTitle: { default: null },
      numbered: { default: true },
      listed: { default: null },
      printed: { default: true },
    },
    toDOM: (n) => ['h' + ('ABCD'.indexOf(n.attrs.level as string) + 2), { class: 'head', ...dataId(n) }, 0],
    parseDOM: [1, 2, 3, 4, 5, 6].map((l) => ({ tag: 'h' + l, attrs: { level: 'AABCDD'[l - 1] } })),
  },
  list: {
    group: 'block',
    content: 'item+',
    attrs: { ...block, kind: { default: 'unordered' }, start: { default: 1 }, continues: { default: false } },
    toDOM: (n) => [
      n.attrs.kind === 'unordered' ? 'ul' : 'ol',
      { class: 'list kind-' + n.attrs.kind, start: String(n.attrs.start), ...dataId(n) },
      0,
    ],
    parseDOM: [
      { tag: 'ul', attrs: { kind: 'unordered' } },
      { tag: 'ol', attrs: { kind: 'decimal' } },
    ],
  },
  item: { content: 'paragraph block*', defining: true, attrs: block, toDOM: withContent('li', () => ''), parseDOM: [{ tag: 'li' }] },
  steps: {
    group: 'block',
    content: 'step+',
    attrs: { ...block, continues: { default: false } },
    toDOM: withContent('ol', () => 'steps'),
    parseDOM: [{ tag: 'ol.steps', priority: 60 }],
  },
  step: {
    content: 'paragraph block*',
    defining: true,
    attrs: block,
    toDOM: withContent('li', () => 'step'),
    parseDOM: [{ tag: 'li.step', priority: 60 }],
  },
  admonition: {
    group: 'block',
    content: 'block+',
    attrs: { ...block, kind: { default: 'note' } },
    toDOM: (n) => [
      'div',
      { class: 'admonition', ...dataId(n) },
      ['b', { class: 'signal', contenteditable: 'false' }, String(n.attrs.kind).toUpperCase()],
      ['div', 0],
    ],
  },
  table: {
    group: 'block',
    content: 'caption grid',
    isolating: true,
    attrs: {
      ...block,
      headerRows: { default: 1 },
      columns: { default: null },
      widths: { default: null },
      headerColumn: { default: false },
      mayTurn: { default: true },
    },
    toDOM: withContent('div', () => 'table'),
  },
  caption: { content: 'inline*', toDOM: () => ['div', { class: 'caption' }, 0] },
  // The rows by themselves, as the editor's table commands want them; not stored (stored.ts).
  grid: { content: 'row+', tableRole: 'table', isolating: true, toDOM: () => ['table', ['tbody', 0]] },
  row: {
    content: 'cell*',
    tableRole: 'row',
    attrs: { ...block, group: { default: false } },
    toDOM: withContent('tr', (n) => (n.attrs.group ? 'group' : '')),
  },
  cell: {
    content: 'inline*',
    tableRole: 'cell',
    isolating: true,
    attrs: { ...id, colspan: { default: 1 }, rowspan: { default: 1 }, colwidth: { default: null }, alignment: { default: null } },
    toDOM: (n) => [
      'td',
      {
        ...dataId(n),
        ...(n.attrs.colspan > 1 ? { colspan: String(n.attrs.colspan) } : {}),
        ...(n.attrs.rowspan > 1 ? { rowspan: String(n.attrs.rowspan) } : {}),
      },
      0,
    ],
  },
  aside: {
    group: 'block',
    content: 'caption block+',
    attrs: { ...block, folds: { default: null } },
    toDOM: withContent('div', (n) => (n.attrs.folds ? 'aside folds' : 'aside')),
  },
  example: { group: 'block', content: 'caption block+', attrs: block, toDOM: withContent('div', () => 'example') },
  definitions: {
    group: 'block',
    content: 'definition+',
    attrs: { ...block, glossary: { default: false } },
    toDOM: withContent('div', () => 'definitions'),
  },
  definition: { content: 'definedTerm block*', defining: true, attrs: block, toDOM: withContent('div', () => 'definition') },
  definedTerm: { content: 'inline*', toDOM: () => ['div', { class: 'term' }, 0] },
  references: { group: 'block', content: 'document+', attrs: block, toDOM: withContent('div', () => 'references') },
  document: {
    content: 'inline*',
    defining: true,
    attrs: { ...block, designation: { default: '' } },
    toDOM: (n) => [
      'div',
      { class: 'document', ...dataId(n) },
      ['b', { contenteditable: 'false' }, String(n.attrs.designation)],
      ['span', 0],
    ],
  },
  equation: {
    group: 'block',
    atom: true,
    attrs: { ...block, source: { default: '' }, alternative: { default: '' }, numbered: { default: true } },
    toDOM: (n) => ['div', { class: 'equation', ...dataId(n) }, String(n.attrs.source)],
  },
  passageUse: {
    group: 'block',
    atom: true,
    attrs: { ...block, passage: { default: '' } },
    toDOM: (n) => ['div', { class: 'generated', ...dataId(n) }, `The passage “${n.attrs.passage}” stands here.`],
  },
  figure: {
    group: 'block',
    content: '(inline | figureArea)*',
    isolating: true,
    attrs: {
      ...block,
      asset: { default: '' },
      alternative: { default: '' },
      placement: { default: null },
      width: { default: 100 },
      plays: { default: null },
    },
    toDOM: withContent('figure', () => 'figure'),
  },
  listing: {
    group: 'block',
    content: 'caption lines',
    isolating: true,
    attrs: { ...block, language: { default: '' }, lineNumbers: { default: false }, marked: { default: null } },
    toDOM: withContent('div', () => 'listing'),
  },
  lines: { content: 'text*', marks: '', code: true, defining: true, toDOM: () => ['pre', ['code', 0]] },
  contentsList: {
    group: 'block',
    atom: true,
    attrs: { ...block, list: { default: 'contents' } },
    toDOM: (n) => [
      'div',
      { class: 'generated', ...dataId(n) },
      n.attrs.list === 'contents'
        ? 'The contents list stands here. It is made from the heads.'
        : `The list “${n.attrs.list}” stands here. It is made from the text.`,
    ],
  },
  indexList: {
    group: 'block',
    atom: true,
    attrs: block,
    toDOM: (n) => ['div', { class: 'generated', ...dataId(n) }, 'The index stands here. It is made from the entries in the text.'],
  },
  pageBreak: {
    group: 'block',
    atom: true,
    attrs: { ...block, to: { default: 'page' } },
    toDOM: (n) => [
      'div',
      { class: 'generated break', ...dataId(n) },
      `A new ${n.attrs.to === 'column' ? 'column' : n.attrs.to === 'page' ? 'page' : n.attrs.to + ' page'} begins here`,
    ],
  },
  crossReference: {
    group: 'inline',
    inline: true,
    atom: true,
    attrs: { ...id, target: { default: '' }, form: { default: 'page' }, other: { default: null } },
  },
  indexEntry: {
    group: 'inline',
    inline: true,
    atom: true,
    attrs: {
      ...id,
      headings: { default: [] },
      kind: { default: null },
      principal: { default: false },
      filesUnder: { default: null },
      see: { default: null },
      seeAlso: { default: null },
    },
    toDOM: (n) => [
      'span',
      { class: 'entry', title: 'Index: ' + (n.attrs.headings as string[]).join(' › '), ...dataId(n) },
      n.attrs.kind === 'rangeStart' ? '◆…' : n.attrs.kind === 'rangeEnd' ? '…◆' : '◆',
    ],
  },
  variable: { group: 'inline', inline: true, atom: true, attrs: { name: { default: '' } } },
  anchor: {
    group: 'inline',
    inline: true,
    atom: true,
    attrs: { ...id, name: { default: '' } },
    toDOM: (n) => ['span', { class: 'anchor', title: 'Anchor: ' + n.attrs.name, ...dataId(n) }, '⊸'],
  },
  inlineEquation: {
    group: 'inline',
    inline: true,
    atom: true,
    attrs: { ...id, source: { default: '' }, alternative: { default: '' } },
    toDOM: (n) => ['span', { class: 'equation', ...dataId(n) }, String(n.attrs.source)],
  },
  inlinePicture: {
    group: 'inline',
    inline: true,
    atom: true,
    attrs: { ...id, asset: { default: '' }, alternative: { default: '' } },
    toDOM: (n) => ['span', { class: 'picture', ...dataId(n) }, String(n.attrs.alternative || n.attrs.asset)],
  },
  footnote: {
    group: 'inline',
    inline: true,
    content: '(text | crossReference | variable | lineBreak | indexEntry | anchor | inlineEquation | inlinePicture | writerNote)*',
    // Typed in a bubble of its own (NoteBubble.svelte).
    atom: true,
    attrs: { ...id, shown: { default: null } },
    toDOM: (n) => ['span', { class: 'footnote', ...dataId(n) }, 0],
  },
  // A part of the figure's picture that leads somewhere; its words are typed in the bubble of a note.
  figureArea: {
    inline: true,
    content: '(text | crossReference | variable | lineBreak | indexEntry | anchor | inlineEquation | inlinePicture | writerNote)*',
    atom: true,
    attrs: { ...id, left: { default: 0 }, top: { default: 0 }, width: { default: 1000 }, height: { default: 1000 } },
    toDOM: (n) => ['span', { class: 'figure-area', ...dataId(n) }, 0],
  },
  writerNote: {
    group: 'inline',
    inline: true,
    atom: true,
    attrs: {
      ...id,
      by: { default: '' },
      text: { default: '' },
      words: { default: '' },
      done: { default: false },
      answers: { default: null },
    },
    toDOM: (n) => [
      'span',
      {
        class: n.attrs.done ? 'writer-note done' : 'writer-note',
        title: `${n.attrs.by ? n.attrs.by + ': ' : 'Note: '}${n.attrs.text}`,
        ...dataId(n),
      },
      n.attrs.done ? '✓' : '✎',
    ],
  },
  lineBreak: { group: 'inline', inline: true, selectable: false, toDOM: () => ['br'], parseDOM: [{ tag: 'br' }] },
};

export const schema = new Schema({
  nodes,
  marks: {
    emphasis: { toDOM: () => ['em', 0], parseDOM: [{ tag: 'em' }, { tag: 'i' }] },
    strong: { toDOM: () => ['strong', 0], parseDOM: [{ tag: 'strong' }, { tag: 'b' }] },
    control: { toDOM: () => ['span', { class: 'control' }, 0], parseDOM: [{ tag: 'span.control' }] },
    code: { code: true, toDOM: () => ['code', 0], parseDOM: [{ tag: 'code' }] },
    term: { toDOM: () => ['dfn', 0], parseDOM: [{ tag: 'dfn' }] },
    key: { toDOM: () => ['kbd', 0], parseDOM: [{ tag: 'kbd' }] },
    partNumber: { toDOM: () => ['span', { class: 'part-number' }, 0] },
    product: { toDOM: () => ['span', { class: 'product' }, 0] },
    foreign: { toDOM: () => ['i', { class: 'foreign' }, 0] },
    sub: { toDOM: () => ['sub', 0], parseDOM: [{ tag: 'sub' }], excludes: 'sup' },
    sup: { toDOM: () => ['sup', 0], parseDOM: [{ tag: 'sup' }], excludes: 'sub' },
    smallCaps: { toDOM: () => ['span', { class: 'small-caps' }, 0] },
    noBreak: { toDOM: () => ['span', { class: 'no-break' }, 0] },
    ownRole: {
      attrs: { name: {} },
      toDOM: (m) => ['span', { class: 'own-role', title: String(m.attrs.name) }, 0],
    },
    applies: {
      attrs: { appliesTo: {} },
      toDOM: (m) => ['span', { class: 'applies', 'data-applies': inWords(m.attrs.appliesTo as AppliesTo) }, 0],
    },
    web: {
      attrs: { address: {} },
      inclusive: false,
      toDOM: (m) => ['span', { class: 'web', title: String(m.attrs.address) }, 0],
      parseDOM: [{ tag: 'a[href^="http"]', getAttrs: (dom) => ({ address: (dom as HTMLAnchorElement).href }) }],
    },
  },
});

/** Nodes whose identity must be unique over the shelf. */
export const carriesId = (node: Node) => 'id' in node.attrs;
