// What earlier visits left unsent in a division, made ready to come back into the text.
import { api, Offline, type Answer, type Batch, type BlockChange } from '../shared/api';
import { leftOver, type Unsent } from './unsent';

/** A batch that was under way goes up under its own id, so that it is done once. Whatever becomes of it, the division can be
 * opened and the words are in the drafts.
 * @throws Offline when the server is away: then the division cannot be read either */
export async function sendLeftOver(manual: string, division: string, part: string | null = null): Promise<Unsent[]> {
  const found = await leftOver(manual, division, part).catch(() => []);
  for (const unsent of found) {
    const { inflight } = unsent;
    if (!inflight) continue;
    try {
      const answer = await api.send(manual, inflight);
      const taken = new Set(answer.accepted.map((a) => a.id));
      backToDraft(
        unsent,
        inflight.blocks.filter((b) => !taken.has(b.id)),
      );
      await sendSince(manual, unsent, inflight, answer).catch((e) => {
        // What is not taken stays in the drafts.
        if (e instanceof Offline) throw e;
      });
    } catch (e) {
      if (e instanceof Offline) throw e;
      backToDraft(unsent, inflight.blocks);
    }
    unsent.inflight = null;
  }
  return found;
}

/** What was typed on after a batch goes up before anything of another tab does, or the words of both would stand in one another.
 * Only where the server holds exactly what was sent: else it is merged in the text. */
async function sendSince(manual: string, unsent: Unsent, inflight: Batch, answer: Answer): Promise<void> {
  const blocks = answer.accepted.flatMap((a) => {
    const since = unsent.draft.find((d) => d.change.id === a.id && d.change.body !== null && d.change.after === null);
    return since && !a.merged ? [{ ...since.change, basedOn: a.version }] : [];
  });
  if (blocks.length === 0) return;
  // The same id whenever it is tried again: it is done once.
  const done = await api.send(manual, { ...inflight, id: `${inflight.id}-since`, blocks, joined: {} });
  const stored = new Set(done.accepted.map((a) => a.id));
  unsent.draft = unsent.draft.filter((d) => !stored.has(d.change.id));
}

/** Changes that were under way and are not stored: what was typed since was made on them, and stands on what they stood on. */
function backToDraft(unsent: Unsent, changes: BlockChange[]) {
  for (const change of changes) {
    const base = unsent.bases[change.id] ?? null;
    const since = unsent.draft.find((d) => d.change.id === change.id);
    if (since) since.base = base;
    else unsent.draft.push({ change, base });
  }
}
