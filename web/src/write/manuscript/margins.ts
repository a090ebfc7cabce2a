// What stands beside the text: page turns, numbers of heads and captions, index entries and anchors, references that
// point here, loose ends, texts in conflict. Decorations, drawn anew only when a composition says something new.
import type { Node, Slice } from 'prosemirror-model';
import { Plugin, PluginKey, type EditorState, type Transaction } from 'prosemirror-state';
import { Decoration, DecorationSet } from 'prosemirror-view';
import type { DivisionMarks, LooseEnd } from '../../shared/api';
import { drawnBlocks, stretchesKey } from './stretches';

export const marginsKey = new PluginKey<Margins>('margins');

interface Margins {
  set: DecorationSet;
  /** What a composition said when they were drawn last. */
  said: string;
  input: MarginsInput;
  /** More than letters changed since: an entry came or went, a block was split. */
  stale: boolean;
}

export interface MarginsInput {
  marks: DivisionMarks | null;
  looseEnds: LooseEnd[];
}

export const margins = new Plugin<Margins>({
  key: marginsKey,
  state: {
    init: () => ({ set: DecorationSet.empty, said: '', input: { marks: null, looseEnds: [] }, stale: true }),
    apply: (tr, now, _, state) => {
      const told = tr.getMeta(marginsKey) as MarginsInput | undefined;
      if (!told && !tr.getMeta(stretchesKey))
        return tr.docChanged ? { ...now, set: now.set.map(tr.mapping, tr.doc), stale: now.stale || !onlyLetters(tr) } : now;
      const input = told ?? now.input;
      // Which composition says it is no news.
      const said = told ? JSON.stringify({ ...input, marks: input.marks && { ...input.marks, composition: 0 } }) : now.said;
      if (told && said === now.said && !now.stale && !tr.docChanged) return now;
      return { set: DecorationSet.create(tr.doc, draw(state, input)), said, input, stale: told ? false : now.stale };
    },
  },
  props: { decorations: (state) => marginsKey.getState(state)?.set },
});

/** Whether a change only puts letters into one block of text, or takes some out. */
export function onlyLetters(tr: Transaction): boolean {
  return tr.steps.every((step, n) => {
    const { slice, from, to } = step as unknown as { slice?: Slice; from: number; to: number };
    if (!slice || slice.openStart > 0 || slice.openEnd > 0) return false;
    let letters = true;
    const look = (node: Node) => (letters &&= node.isText);
    slice.content.forEach(look);
    if (to > from) tr.docs[n]!.slice(from, to).content.forEach(look);
    return letters;
  });
}

/** The document position after a number of typed characters in a block; atoms between them count nothing. */
export function positionOf(block: Node, pos: number, typed: number): number {
  let left = typed;
  let found = pos + 1;
  let done = false;
  block.forEach((child, offset) => {
    if (done) return;
    if (child.isText) {
      const length = child.text!.length;
      if (left <= length) {
        found = pos + 1 + offset + left;
        done = true;
      } else left -= length;
    }
    if (!done) found = pos + 1 + offset + child.nodeSize;
  });
  return found;
}

/** How many typed characters stand before a position inside a block. */
export function typedBefore(block: Node, inside: number): number {
  let typed = 0;
  block.forEach((child, offset) => {
    if (child.isText && offset < inside) typed += Math.min(child.text!.length, inside - offset);
  });
  return typed;
}

function draw(state: EditorState, { marks, looseEnds }: MarginsInput): Decoration[] {
  const { doc } = state;
  const drawn: Decoration[] = [];
  const own = [...drawnBlocks(state)];
  const blocks = new Map<string, { node: Node; pos: number }>();
  const know = (node: Node, pos: number): boolean => {
    if (node.isInline) return false;
    const id = node.attrs.id as string | undefined;
    if (id) blocks.set(id, { node, pos });
    return !node.inlineContent;
  };
  for (const { node, pos } of own) if (know(node, pos)) node.descendants((inner, offset) => know(inner, pos + 1 + offset));
  if (marks) {
    for (const turn of marks.turns.slice(1)) {
      const at = blocks.get(turn.block);
      if (!at || !at.node.inlineContent) continue;
      const inText = turn.at > 0;
      // Before a block of the division itself, for a number may stand at its beginning.
      const pos = inText ? positionOf(at.node, at.pos, turn.at) : doc.resolve(at.pos).depth === 0 ? at.pos : at.pos + 1;
      drawn.push(
        Decoration.widget(pos, () => pageTurn(turn.folio, inText), {
          side: -2,
          key: `turn-${turn.folio}-${inText}`,
          ignoreSelection: true,
        }),
      );
    }
    for (const [id, number] of Object.entries(marks.numbers)) {
      const at = blocks.get(id);
      if (at && ['head', 'figure', 'table', 'listing'].includes(at.node.type.name))
        drawn.push(
          Decoration.node(at.pos, at.pos + at.node.nodeSize, { 'data-number': number, style: `--number: ${JSON.stringify(number)}` }),
        );
    }
  }
  const loose = new Map<string, string[]>();
  for (const l of looseEnds) loose.set(l.block, [...(loose.get(l.block) ?? []), l.message]);
  for (const { node, pos } of own) {
    const lines: Line[] = [];
    const id = node.attrs.id as string;
    const pointed = marks?.pointedAt[id];
    if (pointed) lines.push({ cls: 'w', text: `← ${pointed} ${pointed === 1 ? 'reference' : 'references'}`, pointed: id });
    node.descendants((inner) => {
      if (inner.type.name === 'writerNote')
        lines.push({ cls: 'n', text: `${inner.attrs.done ? '✓' : '✎'} ${inner.attrs.by ? `${inner.attrs.by}: ` : ''}${inner.attrs.text}` });
      else if (inner.type.name === 'anchor') lines.push({ cls: 'w', text: '⊸ ' + inner.attrs.name });
      else if (inner.type.name === 'indexEntry' && inner.attrs.kind !== 'rangeEnd')
        lines.push({ cls: 'p', text: '◆ ' + (inner.attrs.headings as string[]).join(', ') });
      return true;
    });
    for (const message of loose.get(id) ?? []) lines.push({ cls: 'm', text: '○ ' + message });
    if (lines.length > 0)
      drawn.push(
        Decoration.widget(pos, () => beside(lines), {
          side: -1,
          key: 'beside-' + lines.map((l) => l.text).join('|'),
          ignoreSelection: true,
        }),
      );
  }
  return drawn;
}

function pageTurn(folio: string, inText: boolean): HTMLElement {
  const dom = document.createElement('span');
  dom.className = inText ? 'turn in-text' : 'turn';
  dom.contentEditable = 'false';
  dom.dataset.folio = folio;
  dom.setAttribute('role', 'img');
  dom.setAttribute('aria-label', `page ${folio} begins`);
  return dom;
}

interface Line {
  cls: string;
  text: string;
  /** What is pointed at: a press tells who points there. */
  pointed?: string;
}

function beside(lines: Line[]): HTMLElement {
  const dom = document.createElement('div');
  dom.className = 'beside';
  dom.contentEditable = 'false';
  for (const line of lines.slice(0, 5)) {
    const row = document.createElement(line.pointed ? 'button' : 'div');
    row.className = line.cls;
    if (row instanceof HTMLButtonElement) {
      row.type = 'button';
      row.tabIndex = -1;
      row.dataset.pointed = line.pointed;
    }
    row.textContent = line.text;
    dom.append(row);
  }
  if (lines.length > 5) {
    const more = document.createElement('div');
    more.textContent = `and ${lines.length - 5} more`;
    dom.append(more);
  }
  return dom;
}
