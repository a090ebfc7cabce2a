// What two versions of a block say, word by word.
import { nodeOfBody } from './stored';

/** All words of a block, for a difference that is shown as text. */
export function wordsOf(body: string | null): string {
  if (body === null) return '';
  const node = nodeOfBody(body);
  return node.textBetween(0, node.content.size, ' · ', (leaf) => (leaf.type.name === 'lineBreak' ? ' ' : ''));
}

export interface Stretch {
  text: string;
  kind: 'same' | 'gone' | 'new';
}

/** Longer texts than these are shown one behind the other: comparing takes the product of their words. */
const mostCompared = 4_000_000;

/** What of two texts is the same, gone and new, word by word (longest common subsequence). */
export function wordDifference(before: string, after: string): Stretch[] {
  const a = before.match(/\s+|[\p{L}\p{N}]+(?:[.,]\p{N}+)*|[^\s\p{L}\p{N}]/gu) ?? [];
  const b = after.match(/\s+|[\p{L}\p{N}]+(?:[.,]\p{N}+)*|[^\s\p{L}\p{N}]/gu) ?? [];
  if (a.length * b.length > mostCompared)
    return [
      { text: before, kind: 'gone' },
      { text: after, kind: 'new' },
    ];
  const length = Array.from({ length: a.length + 1 }, () => new Uint16Array(b.length + 1));
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--)
      length[i]![j] = a[i] === b[j] ? length[i + 1]![j + 1]! + 1 : Math.max(length[i + 1]![j]!, length[i]![j + 1]!);
  const found: Stretch[] = [];
  const add = (text: string, kind: Stretch['kind']) => {
    const last = found.at(-1);
    if (last?.kind === kind) last.text += text;
    else found.push({ text, kind });
  };
  let i = 0;
  let j = 0;
  while (i < a.length || j < b.length)
    if (i < a.length && j < b.length && a[i] === b[j]) {
      add(a[i]!, 'same');
      i++;
      j++;
    } else if (j >= b.length || (i < a.length && length[i + 1]![j]! >= length[i]![j + 1]!)) add(a[i++]!, 'gone');
    else add(b[j++]!, 'new');
  return found;
}
