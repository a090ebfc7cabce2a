// What applies to some readers only: said where it stands, and folded away when the manuscript is seen as others will see it.
import type { Node } from 'prosemirror-model';
import { NodeSelection, Plugin, PluginKey, TextSelection, type EditorState, type Transaction } from 'prosemirror-state';
import { Decoration, DecorationSet } from 'prosemirror-view';
import { CellSelection } from 'prosemirror-tables';
import type { AppliesTo } from '../../shared/api';
import { admits, inWords } from '../../shared/applies-to';
import { onlyLetters } from './margins';
import { schema } from './schema';

/** Who sees it so: null shows all there is. */
export interface SeenBy {
  name: string;
  chosen: AppliesTo;
}

export const seenByKey = new PluginKey<{ seenBy: SeenBy | null; set: DecorationSet }>('seen by');

const of = (node: Node): AppliesTo | null => (node.attrs.appliesTo as AppliesTo | null) ?? null;
const isSome = (applies: AppliesTo | null): applies is AppliesTo => applies !== null && Object.keys(applies).length > 0;

export const applies = new Plugin<{ seenBy: SeenBy | null; set: DecorationSet }>({
  key: seenByKey,
  state: {
    init: (_, state) => ({ seenBy: null, set: draw(state.doc, null) }),
    apply(tr, { seenBy, set }) {
      const told = tr.getMeta(seenByKey) as { seenBy: SeenBy | null } | undefined;
      if (told) return { seenBy: told.seenBy, set: draw(tr.doc, told.seenBy) };
      if (!tr.docChanged) return { seenBy, set };
      return { seenBy, set: onlyLetters(tr) ? set.map(tr.mapping, tr.doc) : draw(tr.doc, seenBy) };
    },
  },
  props: { decorations: (state) => seenByKey.getState(state)?.set },
});

function draw(doc: Node, seenBy: SeenBy | null): DecorationSet {
  const drawn: Decoration[] = [];
  let folded: { from: number; blocks: number; words: Set<string> } | null = null;
  const fold = () => {
    if (!folded || !seenBy) return;
    const { blocks, words } = folded;
    const said = `${blocks === 1 ? 'One block' : `${blocks} blocks`} for ${[...words].join(', ')}: not for ${seenBy.name}`;
    drawn.push(Decoration.widget(folded.from, () => hairline(said), { side: -1, key: said, ignoreSelection: true }));
    folded = null;
  };
  /** The level of the head whose section is left out. */
  let section: string | null = null;
  let why = '';
  doc.forEach((node, pos) => {
    if (node.type === schema.nodes.head) {
      if (section !== null && String(node.attrs.level) <= section) section = null;
      if (seenBy && section === null && !admits(of(node), seenBy.chosen)) {
        section = String(node.attrs.level);
        why = inWords(of(node));
      }
    }
    if (seenBy && (section !== null || !admits(of(node), seenBy.chosen))) {
      folded ??= { from: pos, blocks: 0, words: new Set() };
      folded.blocks++;
      folded.words.add(section !== null ? why : inWords(of(node)));
      drawn.push(Decoration.node(pos, pos + node.nodeSize, { class: 'left-out' }));
      return;
    }
    fold();
    within(node, pos, seenBy, drawn);
  });
  fold();
  return DecorationSet.create(doc, drawn);
}

/** A block with its words, and all blocks in it. */
function within(node: Node, pos: number, seenBy: SeenBy | null, drawn: Decoration[]) {
  const look = (inner: Node, at: number): boolean => {
    if (inner.isInline) {
      for (const mark of inner.marks)
        if (mark.type === schema.marks.applies && seenBy && !admits(mark.attrs.appliesTo as AppliesTo, seenBy.chosen))
          drawn.push(Decoration.inline(at, at + inner.nodeSize, { class: 'left-out-words' }));
      return false;
    }
    const own = of(inner);
    if (!isSome(own)) return true;
    const out = seenBy !== null && !admits(own, seenBy.chosen);
    drawn.push(
      Decoration.node(at, at + inner.nodeSize, {
        class: out ? 'conditional left-out-part' : 'conditional',
        style: `--applies: ${JSON.stringify(out ? `for ${inWords(own)}` : inWords(own))}`,
      }),
    );
    return !out;
  };
  if (look(node, pos)) node.descendants((inner, offset) => look(inner, pos + 1 + offset));
}

function hairline(said: string): HTMLElement {
  const dom = document.createElement('div');
  dom.className = 'folded-away';
  dom.contentEditable = 'false';
  dom.textContent = said;
  return dom;
}

// ---- what can apply, where the caret is ----

export interface AppliesCarrier {
  name: string;
  applies: AppliesTo;
  set: (tr: Transaction, applies: AppliesTo) => Transaction;
}

const names: Record<string, string> = {
  paragraph: 'This paragraph',
  head: 'This section',
  list: 'The list',
  item: 'This item',
  steps: 'The steps',
  step: 'This step',
  admonition: 'The admonition',
  table: 'The table',
  row: 'This row',
  aside: 'The aside',
  example: 'The example',
  definitions: 'The definitions',
  definition: 'This definition',
  references: 'The reference list',
  document: 'This document',
  equation: 'The equation',
  passageUse: 'This use of the passage',
  figure: 'The figure',
  listing: 'The listing',
  pageBreak: 'The page break',
};

const setOn =
  (places: number[]) =>
  (tr: Transaction, chosen: AppliesTo): Transaction => {
    for (const pos of places) tr.setNodeAttribute(pos, 'appliesTo', Object.keys(chosen).length > 0 ? chosen : null);
    return tr;
  };

const carrier = (name: string, node: Node, places: number[]): AppliesCarrier => ({ name, applies: of(node) ?? {}, set: setOn(places) });

/** From the innermost outwards. */
export function carriersAt(state: EditorState): AppliesCarrier[] {
  const { selection, doc } = state;
  const found: AppliesCarrier[] = [];
  const { $from, $to, from, to } = selection;
  if (selection instanceof CellSelection) {
    const rows = new Map<number, Node>();
    selection.forEachCell((_, pos) => {
      const $cell = doc.resolve(pos);
      rows.set($cell.before(), $cell.parent);
    });
    const [first] = rows.values();
    if (first) found.push(carrier(rows.size === 1 ? 'This row' : `These ${rows.size} rows`, first, [...rows.keys()]));
  } else if (selection instanceof NodeSelection) {
    if (names[selection.node.type.name]) found.push(carrier(names[selection.node.type.name]!, selection.node, [from]));
  } else if (selection instanceof TextSelection && !selection.empty && $from.sameParent($to)) {
    const mark = schema.marks.applies!;
    const now = $from.nodeAfter?.marks.find((m) => m.type === mark)?.attrs.appliesTo as AppliesTo | undefined;
    found.push({
      name: 'These words',
      applies: now ?? {},
      set: (tr, chosen) =>
        Object.keys(chosen).length > 0 ? tr.addMark(from, to, mark.create({ appliesTo: chosen })) : tr.removeMark(from, to, mark),
    });
  } else if (!selection.empty) {
    const places: { node: Node; pos: number }[] = [];
    doc.forEach((node, pos) => {
      if (pos < to && pos + node.nodeSize > from) places.push({ node, pos });
    });
    if (places.length > 1)
      found.push(
        carrier(
          `These ${places.length} blocks`,
          places[0]!.node,
          places.map((p) => p.pos),
        ),
      );
  }
  for (let depth = $from.depth; depth > 0; depth--) {
    const node = $from.node(depth);
    // The first paragraph of an item is the item.
    const inItem = node.type === schema.nodes.paragraph && depth > 1 && ['item', 'step'].includes($from.node(depth - 1).type.name);
    const name = names[node.type.name];
    if (name && !(inItem && $from.index(depth - 1) === 0)) found.push(carrier(name, node, [$from.before(depth)]));
  }
  return found;
}
