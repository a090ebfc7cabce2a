// Words of the open division that no dictionary has: underlined where they stand, a moment after they were typed.
import type { Node } from 'prosemirror-model';
import { Plugin, PluginKey, type EditorState, type Transaction } from 'prosemirror-state';
import { Decoration, DecorationSet } from 'prosemirror-view';
import { schema } from '../manuscript/schema';
import { drawnBlocks, stretchesKey } from '../manuscript/stretches';

interface Spelling {
  wrong: ReadonlySet<string>;
  set: DecorationSet;
}
export const spellingKey = new PluginKey<Spelling>('spelling');

export interface WordPlace {
  word: string;
  from: number;
  to: number;
}

const words = /\p{L}[\p{L}\p{M}\p{N}]*(?:['’-]?[\p{L}\p{M}\p{N}]+)*/gu;
/** Of each text block, by its node: an edit leaves all others as they are. */
const known = new WeakMap<Node, { word: string; from: number; to: number }[]>();

/** The words of a text block as prose, by their places in it. Program text, part numbers and foreign words are none. */
function wordsIn(block: Node): { word: string; from: number; to: number }[] {
  const before = known.get(block);
  if (before) return before;
  const found: { word: string; from: number; to: number }[] = [];
  let text = '';
  block.forEach((child) => {
    const strange = !child.isText || child.marks.some((m) => ['code', 'partNumber', 'foreign', 'web', 'key'].includes(m.type.name));
    // An entry or an anchor in a word does not divide it for the reader, but its place counts.
    text += child.isText && !strange ? child.text! : '\ufffc'.repeat(child.nodeSize);
  });
  for (const match of text.matchAll(words))
    for (const part of match[0].split('-')) {
      const from = match.index + match[0].indexOf(part);
      if (part.length > 1) found.push({ word: part, from, to: from + part.length });
    }
  known.set(block, found);
  return found;
}

/** The words of one block and all that stand in it. */
export function* wordsOfBlock(own: Node, ownPos: number): Generator<WordPlace> {
  const places: { node: Node; pos: number }[] = [];
  const look = (node: Node, pos: number): boolean => {
    if (node.type === schema.nodes.lines) return false;
    if (!node.inlineContent) return true;
    places.push({ node, pos });
    node.forEach((child, offset) => child.type === schema.nodes.footnote && places.push({ node: child, pos: pos + 1 + offset }));
    return false;
  };
  if (look(own, ownPos)) own.descendants((inner, offset) => look(inner, ownPos + 1 + offset));
  for (const { node, pos } of places)
    for (const { word, from, to } of wordsIn(node)) yield { word, from: pos + 1 + from, to: pos + 1 + to };
}

/** All words of a division, with where they stand. */
export function* wordsOf(doc: Node): Generator<WordPlace> {
  let pos = 0;
  for (let n = 0; n < doc.childCount; n++) {
    yield* wordsOfBlock(doc.child(n), pos);
    pos += doc.child(n).nodeSize;
  }
}

const none: Spelling = { wrong: new Set(), set: DecorationSet.empty };

/** The words that are wrong, told from outside after each check; while a letter is typed they only move. */
export const spelling = new Plugin<Spelling>({
  key: spellingKey,
  state: {
    init: () => none,
    apply(tr, now, _, state) {
      const wrong = tr.getMeta(spellingKey) as ReadonlySet<string> | undefined;
      if (wrong || tr.getMeta(stretchesKey)) return { wrong: wrong ?? now.wrong, set: drawn(state, wrong ?? now.wrong) };
      return tr.docChanged ? { wrong: now.wrong, set: now.set.map(tr.mapping, tr.doc) } : now;
    },
  },
  props: { decorations: (state) => spellingKey.getState(state)?.set },
});

function drawn(state: EditorState, wrong: ReadonlySet<string>): DecorationSet {
  if (wrong.size === 0) return DecorationSet.empty;
  const set: Decoration[] = [];
  for (const { node, pos } of drawnBlocks(state))
    for (const { word, from, to } of wordsOfBlock(node, pos))
      if (wrong.has(word)) set.push(Decoration.inline(from, to, { class: 'misspelt' }));
  return DecorationSet.create(state.doc, set);
}

/** The wrong word that the caret stands in or beside; null when it does not. */
export function wrongAt(state: EditorState): WordPlace | null {
  const { from, to, empty } = state.selection;
  const found = spellingKey.getState(state)?.set.find(from, to)[0];
  if (!found || (!empty && (found.from > from || found.to < to))) return null;
  return { word: state.doc.textBetween(found.from, found.to), from: found.from, to: found.to };
}

/** Writes another word in these places, with what stood there marked as it was. */
export function respelled(state: EditorState, places: readonly WordPlace[], word: string): Transaction {
  const tr = state.tr;
  for (const { from, to } of [...places].sort((a, b) => b.from - a.from)) {
    const marks = state.doc.resolve(from).marksAcross(state.doc.resolve(to)) ?? [];
    tr.replaceWith(from, to, state.schema.text(word, marks));
  }
  return tr;
}
