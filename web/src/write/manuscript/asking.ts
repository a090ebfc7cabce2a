// What is asked in one line of words before something is made, and what is done with the answer.
import type { Node } from 'prosemirror-model';
import type { EditorView } from 'prosemirror-view';
import { newId } from '../../shared/api';
import { notices } from '../../shared/notices.svelte';
import { linkAt, linked, webAddress } from './links';
import { schema } from './schema';
import { selectedWords } from './selected';
import { mostColumns, mostRows, newTable } from './tables';

export interface Asked {
  label: string;
  text: string;
  /** What the answer does, on its button. */
  does: string;
  then: (text: string) => void;
}

/** References point at the first of the selected words. */
export const askAnchor = (view: EditorView, insert: (node: Node, at: number) => void): Asked => ({
  label: 'Name of the anchor',
  text: selectedWords(view.state),
  does: 'put in',
  then: (name) => name && insert(schema.nodes.anchor!.create({ id: newId(), name }), view.state.selection.from),
});

export const askTable = (put: (node: Node) => void): Asked => ({
  label: 'Columns × rows',
  text: '3 × 4',
  does: 'put in',
  then: (size) => {
    const [columns, rows] = (size.match(/\d+/g) ?? []).map(Number);
    const table = newTable(columns ?? 0, rows ?? columns ?? 0);
    if (table) put(table);
    else notices.tell(`A table has up to ${mostColumns} columns and ${mostRows} rows.`);
  },
});

/** The words that are selected, or the link the caret is in, lead to a web address; null where neither is. */
export function askAddress(view: EditorView): Asked | null {
  const range = linkAt(view.state);
  return (
    range && {
      label: 'Web address of these words (empty: none)',
      text: range.address,
      does: 'keep',
      then: (typed) => {
        const address = webAddress(typed);
        if (typed && !address) notices.tell('A web address begins with https://, http:// or mailto:.');
        else view.dispatch(linked(view.state.tr, range, address));
      },
    }
  );
}

/** These blocks become a passage, used where they stood. */
export const askPassage = (rows: string[], add: (name: string) => void): Asked => ({
  label: rows.length === 1 ? 'Name of the passage made of this block' : `Name of the passage made of these ${rows.length} blocks`,
  text: '',
  does: 'make it',
  then: (name) => name && add(name),
});
