// The manuscript's keys. Two chords that browsers keep none of for themselves: Ctrl . "what this is", Ctrl ; "put in".
import {
  baseKeymap,
  chainCommands,
  exitCode,
  joinBackward,
  joinForward,
  lift,
  newlineInCode,
  selectNodeBackward,
} from 'prosemirror-commands';
import { closeHistory, redo, undo, undoDepth, redoDepth } from 'prosemirror-history';
import { keymap } from 'prosemirror-keymap';
import { liftListItem, sinkListItem, splitListItem } from 'prosemirror-schema-list';
import { Selection, TextSelection, type Command } from 'prosemirror-state';
import { newDefinition, newDocument } from './makings';
import { paragraphBehind } from './put';
import { schema } from './schema';
import { takeSignBack } from './signs';
import { belowTable, cellBefore, cellKeys, nextCell } from './tables';

const n = schema.nodes;

const headDeeper =
  (by: 1 | -1): Command =>
  (state, dispatch) => {
    const node = state.selection.$from.parent;
    if (node.type !== n.head) return false;
    const level = 'ABCD'['ABCD'.indexOf(node.attrs.level as string) + by];
    if (!level) return true;
    dispatch?.(state.tr.setNodeAttribute(state.selection.$from.before(), 'level', level));
    return true;
  };

/** Enter at the end of a head goes on with body text, not with another head. */
const afterHead: Command = (state, dispatch) => {
  const { $from, empty } = state.selection;
  if (!empty || $from.parent.type !== n.head || $from.parentOffset !== $from.parent.content.size) return false;
  if (dispatch) {
    const pos = $from.after();
    const tr = state.tr.insert(pos, n.paragraph!.create());
    dispatch(
      tr
        .setSelection((state.selection.constructor as unknown as { near: (p: unknown) => never }).near(tr.doc.resolve(pos + 1)))
        .scrollIntoView(),
    );
  }
  return true;
};

/** Enter does not divide a cell or a caption. */
const inCell: Command = (state) => ['cell', 'caption'].includes(state.selection.$from.parent.type.name);

/** Enter walks through a list of terms: from the term to what it means, and from an empty last line there to the next term. */
const inDefinitions: Command = (state, dispatch) => {
  const { $from, empty } = state.selection;
  if (!empty) return false;
  const { parent } = $from;
  if (parent.type === n.definedTerm) {
    const list = $from.node(-2);
    if (parent.content.size === 0 && $from.node(-1).textContent === '' && list.childCount > 1) {
      // An empty last term is given back, and what follows goes on behind the list.
      const tr = state.tr.delete($from.before(-1), $from.after(-1));
      dispatch?.(tr.setSelection(Selection.near(tr.doc.resolve(tr.mapping.map($from.after(-2))), 1)));
      return true;
    }
    const after = $from.after();
    if (state.doc.resolve(after).nodeAfter?.isTextblock) dispatch?.(state.tr.setSelection(TextSelection.create(state.doc, after + 1)));
    else {
      const tr = state.tr.insert(after, n.paragraph!.create());
      dispatch?.(tr.setSelection(TextSelection.create(tr.doc, after + 1)).scrollIntoView());
    }
    return true;
  }
  if (parent.type !== n.paragraph || parent.content.size > 0 || $from.depth < 2 || $from.node(-1).type !== n.definition) return false;
  const definition = $from.node(-1);
  if ($from.index(-1) !== definition.childCount - 1) return false;
  const tr = definition.childCount > 2 ? state.tr.delete($from.before(), $from.after()) : state.tr;
  const at = tr.mapping.map($from.after(-1));
  tr.insert(at, newDefinition());
  dispatch?.(tr.setSelection(TextSelection.create(tr.doc, at + 2)).scrollIntoView());
  return true;
};

/** Enter at the end of a document goes on with the next one; in an empty one it leaves the list. */
const inDocuments: Command = (state, dispatch, view) => {
  const { $from, empty } = state.selection;
  if (!empty || $from.parent.type !== n.document) return false;
  if ($from.parent.content.size === 0) return paragraphBehind(state, dispatch, view);
  const at = $from.after();
  const tr = state.tr.insert(at, newDocument());
  dispatch?.(tr.setSelection(TextSelection.create(tr.doc, at + 1)).scrollIntoView());
  return true;
};

/** A further paragraph of the same item, step or definition. */
const furtherParagraph: Command = (state, dispatch) => {
  const { $from } = state.selection;
  for (let depth = $from.depth; depth > 0; depth--)
    if ([n.item, n.step, n.definition].includes($from.node(depth - 1).type)) {
      const at = $from.after(depth);
      const tr = state.tr.insert(at, n.paragraph!.create());
      dispatch?.(tr.setSelection(TextSelection.create(tr.doc, at + 1)).scrollIntoView());
      return true;
    }
  return false;
};

export interface KeyActs {
  joined: (from: string, to: string) => void;
  takeBack: (again: boolean) => void;
  leave: () => void;
}

/** Joining two blocks: the id that goes becomes another name of the one that stays. An empty block is taken out instead. */
function joining(command: Command, acts: KeyActs): Command {
  return (state, dispatch, view) => {
    if (!dispatch) return command(state, dispatch, view);
    const before = new Set<string>();
    state.doc.forEach((node) => node.content.size > 0 && before.add(node.attrs.id as string));
    const done = command(state, dispatch, view);
    if (done && view) {
      view.state.doc.forEach((node) => before.delete(node.attrs.id as string));
      const here = view.state.selection.$from;
      const stays = here.depth > 0 ? (here.node(1).attrs.id as string) : '';
      for (const gone of before) if (stays) acts.joined(gone, stays);
    }
    return done;
  };
}

/** A change of structure is taken back by itself, not with the words typed around it. */
const ownAct =
  (command: Command): Command =>
  (state, dispatch, view) =>
    command(state, dispatch && ((tr) => dispatch(closeHistory(tr))), view);

/** Typing that has not left yet is the editor's to take back, all else the server's. */
export const takingBack =
  (acts: KeyActs): Command =>
  (state, dispatch, view) => {
    if (undoDepth(state) > 0) return undo(state, dispatch, view);
    acts.takeBack(false);
    return true;
  };

export const doingAgain =
  (acts: KeyActs): Command =>
  (state, dispatch, view) => {
    if (redoDepth(state) > 0) return redo(state, dispatch, view);
    acts.takeBack(true);
    return true;
  };

/** To the first or the last place of the text, choosing what lies between when so asked. */
const toEnd =
  (end: 'start' | 'end', choosing: boolean): Command =>
  ({ tr, doc, selection }, dispatch) => {
    const there = end === 'start' ? Selection.atStart(doc) : Selection.atEnd(doc);
    dispatch?.(tr.setSelection(choosing ? TextSelection.between(selection.$anchor, there.$head) : there).scrollIntoView());
    return true;
  };

export function keys(acts: KeyActs) {
  const enter = chainCommands(
    newlineInCode,
    inCell,
    inDefinitions,
    inDocuments,
    splitListItem(n.step!),
    splitListItem(n.item!),
    afterHead,
    baseKeymap.Enter!,
  );
  return [
    keymap({
      'Mod-z': takingBack(acts),
      'Mod-y': doingAgain(acts),
      'Shift-Mod-z': doingAgain(acts),
      Enter: ownAct(enter),
      'Alt-Enter': ownAct(furtherParagraph),
      'Mod-Enter': ownAct(chainCommands(paragraphBehind, exitCode)),
      ...cellKeys,
      ArrowDown: belowTable,
      // The browser knows only the blocks that are laid out.
      'Mod-Home': toEnd('start', false),
      'Mod-End': toEnd('end', false),
      'Shift-Mod-Home': toEnd('start', true),
      'Shift-Mod-End': toEnd('end', true),
      'Shift-Enter': (state, dispatch) => {
        if (!state.selection.$from.parent.inlineContent || state.selection.$from.parent.type.spec.code) return false;
        dispatch?.(state.tr.replaceSelectionWith(n.lineBreak!.create()).scrollIntoView());
        return true;
      },
      Tab: ownAct(chainCommands(nextCell, sinkListItem(n.step!), sinkListItem(n.item!), headDeeper(1), () => true)),
      'Shift-Tab': ownAct(chainCommands(cellBefore, liftListItem(n.step!), liftListItem(n.item!), headDeeper(-1), lift, () => true)),
      Backspace: joining(ownAct(chainCommands(takeSignBack, baseKeymap.Backspace!, joinBackward, selectNodeBackward)), acts),
      Delete: joining(ownAct(chainCommands(baseKeymap.Delete!, joinForward)), acts),
      Escape: () => {
        acts.leave();
        return true;
      },
    }),
    keymap(baseKeymap),
  ];
}
