// What is no letter: chosen by click or caret, it is followed, changed or taken out where it stands.
import type { Node } from 'prosemirror-model';
import { NodeSelection, type EditorState } from 'prosemirror-state';
import { listTitle } from '../../contents/list-titles';
import type { NewEntry } from '../panels/EntryPanel.svelte';

const names: Record<string, string> = {
  crossReference: 'Cross-reference',
  indexEntry: 'Index entry',
  anchor: 'Anchor',
  variable: 'Variable',
  figure: 'Figure',
  passageUse: 'Passage',
  contentsList: 'Contents list',
  equation: 'Equation',
  inlineEquation: 'Equation',
  inlinePicture: 'Picture',
  pageBreak: 'Page break',
  writerNote: 'Note to a colleague',
  figureArea: 'Area of the picture',
};

export interface ChosenAtom {
  node: Node;
  pos: number;
  label: string;
  says: string;
}

/** The atom that is chosen; null when it is something else, or a footnote, which opens by itself. */
export function chosenAtom(state: EditorState): ChosenAtom | null {
  const { selection } = state;
  if (!(selection instanceof NodeSelection)) return null;
  const { node, from } = selection;
  const label = names[node.type.name];
  return label ? { node, pos: from, label, says: sayingOf(node) } : null;
}

function sayingOf(node: Node): string {
  if (node.type.name === 'writerNote') return `${node.attrs.by ? `${node.attrs.by}: ` : ''}${node.attrs.text}`;
  if (node.type.name === 'passageUse') return String(node.attrs.passage);
  if (node.type.name === 'contentsList') return listTitle(String(node.attrs.list));
  if (node.type.name === 'anchor') return String(node.attrs.name);
  if (node.type.name !== 'indexEntry') return '';
  const { headings, see, seeAlso } = node.attrs as NewEntry;
  return headings.join(' › ') + (see ? `, see ${see}` : '') + (seeAlso ? `, see also ${seeAlso}` : '');
}

/** An index entry as its panel has it. */
export const entryOf = (node: Node): NewEntry => ({
  headings: node.attrs.headings as string[],
  principal: node.attrs.principal as boolean,
  see: node.attrs.see as string | null,
  seeAlso: node.attrs.seeAlso as string | null,
  filesUnder: node.attrs.filesUnder as string | null,
  range: node.attrs.kind !== null,
});
