// What earlier visits left unsent in a division, made ready to come back into the text.
import { api, Offline, type BlockChange } from '../shared/api';
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
    } catch (e) {
      if (e instanceof Offline) throw e;
      backToDraft(unsent, inflight.blocks);
    }
    unsent.inflight = null;
  }
  return found;
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
