// Words that lead to a web address.
import type { EditorState, Transaction } from 'prosemirror-state';
import { schema } from './schema';

export interface LinkRange {
  from: number;
  to: number;
  address: string;
}

/** The selected words, or the link that the caret is in; null for neither. */
export function linkAt({ doc, selection }: EditorState): LinkRange | null {
  const mark = schema.marks.web!;
  const { $from, from, to, empty } = selection;
  if (!$from.parent.inlineContent || !$from.sameParent(selection.$to)) return null;
  const addressOf = (at: number) => doc.nodeAt(at)?.marks.find((m) => m.type === mark)?.attrs.address as string | undefined;
  if (!empty) return { from, to, address: addressOf(from) ?? '' };
  let found: LinkRange | null = null;
  const start = $from.start();
  $from.parent.forEach((child, offset) => {
    const [begin, end] = [start + offset, start + offset + child.nodeSize];
    const address = addressOf(begin);
    if (!address) return;
    if (found?.to === begin && found.address === address && found.to >= from) found = { ...found, to: end };
    else if (found?.to === begin && found.address === address) found = { ...found, to: end };
    else if (!found || found.to < from) found = { from: begin, to: end, address };
  });
  const link = found as LinkRange | null;
  return link && link.from <= from && link.to >= from ? link : null;
}

/** An address that may stand in a manual, with its scheme; null for any other. */
export function webAddress(typed: string): string | null {
  const address = /^[a-z][a-z0-9+.-]*:/i.test(typed) ? typed : /^[\w-]+(\.[\w-]+)+(\/|$)/.test(typed) ? `https://${typed}` : '';
  return /^(https?:\/\/[^\s]+|mailto:[^\s@]+@[^\s]+)$/i.test(address) ? address : null;
}

export function linked(tr: Transaction, { from, to }: LinkRange, address: string | null): Transaction {
  const mark = schema.marks.web!;
  tr.removeMark(from, to, mark);
  return address ? tr.addMark(from, to, mark.create({ address })) : tr;
}
