// The words that are selected, as what is put in takes them over.
import { TextSelection, type EditorState } from 'prosemirror-state';

/** More is no name of anything. */
const mostWords = 80;

export const selectedWords = ({ doc, selection }: EditorState) => doc.textBetween(selection.from, selection.to, ' ').slice(0, mostWords);

/** As far as they are words, and nothing chosen in the line. */
export const chosenWords = (state: EditorState) => (state.selection instanceof TextSelection ? selectedWords(state) : '');

const ofOneBlock = ({ selection }: EditorState) => selection.$from.sameParent(selection.$to);

/** The selected words of one block: a note stands behind them. */
export const notedWords = (state: EditorState) => (state.selection.empty || !ofOneBlock(state) ? '' : selectedWords(state));

/** A few words of one line of thought are a heading as they are; '' where they are none. */
export function headingOf(state: EditorState): string {
  const words = selectedWords(state);
  return words.trim().length > 1 && words.length < mostWords && ofOneBlock(state) ? words.trim() : '';
}
