// What one key does to the block that a loose end is about: on the block's own JSON, as typing would do it.
import type { LooseEnd } from '../shared/api';

export interface Body {
  type: string;
  attrs?: Record<string, unknown>;
  marks?: { type: string }[];
  text?: string;
  content?: Body[];
}

/** Changes a block; false where it does not hold what the loose end is about. */
export type BlockMend = (body: Body, end: LooseEnd) => boolean;

function found(body: Body, holds: (body: Body) => boolean): Body | null {
  return holds(body) ? body : (body.content?.map((c) => found(c, holds)).find(Boolean) ?? null);
}

/** Sets what a figure or a table says of itself. */
export const setting =
  (type: string, attrs: Record<string, unknown>): BlockMend =>
  (body, end) => {
    const own =
      found(body, (b) => b.type === type && (b.attrs?.id === end.block || !end.block)) ??
      (body.attrs?.id === end.block ? found(body, (b) => b.type === type) : null);
    if (own) own.attrs = { ...own.attrs, ...attrs };
    return own !== null;
  };

/** The place where a line may end though nothing shows there (U+200B). */
const place = '\u200b';
/** Behind these a long name may be divided, and between a small and a capital letter. */
const behind = /(?<=[^\s\u200b][/\\._\-=&?:,;@#+|)\]}])(?=[^\s\u200b/\\])|(?<=[a-z0-9])(?=[A-Z])/gu;

/** Gives the long word of a line places to break, and takes what keeps it on one line. */
export const allowBreak: BlockMend = (body, end) => {
  const words = end.words.replaceAll(place, '').trim();
  let done = false;
  const visit = (holder: Body) => {
    const runs = (holder.content ?? []).filter((c) => c.text !== undefined);
    const text = runs.map((r) => r.text).join('');
    const from = words ? text.replaceAll('\u00a0', ' ').indexOf(words.replaceAll('\u00a0', ' ')) : -1;
    if (runs.length > 0 && from >= 0) {
      // A word that was divided goes on behind the words of its line.
      const rest = /\s/u.exec(text.slice(from + words.length));
      const to = rest ? from + words.length + rest.index : text.length;
      const places = [...text.matchAll(behind)].map((m) => m.index).filter((p) => p > from && p < to);
      let at = 0;
      for (const run of runs) {
        const [begin, own] = [at, run.text!];
        at += own.length;
        if (begin >= to || at <= from) continue;
        // From the last on, so that those before stay where they are.
        for (const p of places.filter((p) => p > begin && p <= at).toReversed())
          run.text = run.text!.slice(0, p - begin) + place + run.text!.slice(p - begin);
        const marks = run.marks?.filter((m) => m.type !== 'noBreak');
        done ||= run.text !== own || marks?.length !== run.marks?.length;
        if (marks?.length) run.marks = marks;
        else delete run.marks;
      }
    }
    holder.content?.forEach(visit);
  };
  visit(body);
  return done;
};
