// Saving as the writer types (architecture.md, Flow 1). Changed blocks go up with the versions they were based on. What
// is not yet answered is kept in the browser's own store, so it survives a closed tab and a restart of the server.
import type { Node } from 'prosemirror-model';
import { api, newId, Offline, Problem, type Answer, type Batch, type BlockChange, type Refused } from '../../shared/api';

export type SaveState = 'saved' | 'saving' | 'offline' | 'conflict';

interface Kept {
  inflight: Batch | null;
  draft: BlockChange[];
  joined: Record<string, string>;
}

interface SentBlock {
  id: string;
  node: Node;
}

const retryMilliseconds = [300, 1000, 2000, 4000];

export const writer: string = (() => {
  let own = sessionStorage.getItem('kivren.writer');
  if (!own) sessionStorage.setItem('kivren.writer', (own = newId()));
  return own;
})();

export class DeskClient {
  state = $state<SaveState>('saved');
  conflicts = $state.raw<ReadonlyMap<string, Refused>>(new Map());

  private versions = new Map<string, number>();
  private sent: SentBlock[] = [];
  private doc: Node | null = null;
  private inflight: Batch | null = null;
  private joined: Record<string, string> = {};
  private tries = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private closed = false;

  constructor(
    private readonly manual: string,
    readonly division: string,
    /** Blocks that another writer's change was merged into: their new bodies. */
    private readonly onMerged: (id: string, body: string) => void = () => undefined,
    /** The number of an act that is stored. */
    private readonly onStored: (act: number) => void = () => undefined,
    /** The block that stands before the first one here; "" for the beginning of the division. */
    private readonly after: string = '',
  ) {}

  private get storeKey() {
    return `kivren.unsent.${this.manual}.${this.division}${this.after ? '.' + this.after : ''}`;
  }

  /** What an earlier tab left unsent in this division goes up first; what is refused is shown when the text is open. */
  async sendLeftOver(): Promise<void> {
    const text = localStorage.getItem(this.storeKey);
    if (!text) return;
    const kept = JSON.parse(text) as Kept;
    const bump = new Map<string, number>();
    if (kept.inflight) this.note(await api.send(this.manual, kept.inflight), bump);
    if (kept.draft.length > 0) {
      const draft: Batch = {
        id: newId(),
        writer,
        label: 'Typing',
        divisions: null,
        joined: kept.joined,
        blocks: kept.draft.map((c) => ({ ...c, basedOn: bump.get(c.id) ?? c.basedOn })),
      };
      // From here on it is a batch like any other: sent again under its own id it is done once.
      localStorage.setItem(this.storeKey, JSON.stringify({ inflight: draft, draft: [], joined: {} } satisfies Kept));
      this.note(await api.send(this.manual, draft), bump, draft);
    }
    localStorage.removeItem(this.storeKey);
  }

  private leftOver: { refused: Refused; mine: string }[] = [];

  private note(answer: Answer, bump: Map<string, number>, batch?: Batch) {
    for (const a of answer.accepted) bump.set(a.id, a.version);
    for (const refused of answer.refused) {
      const mine = batch?.blocks.find((b) => b.id === refused.id)?.body;
      if (mine) this.leftOver.push({ refused, mine });
    }
  }

  /** Texts of an earlier tab that were refused, with the writer's own words: to be shown where they belong. */
  takeLeftOver() {
    const found = this.leftOver;
    this.leftOver = [];
    return found;
  }

  start(doc: Node, versions: Map<string, number>) {
    this.doc = doc;
    this.versions = versions;
    this.sent = children(doc);
  }

  /** The ids of two blocks that became one: the second is another name of the first from now on. */
  join(from: string, to: string) {
    this.joined[from] = to;
  }

  /** The text as it stands after a change that was not the writer's: nothing of it goes up. */
  sees(doc: Node) {
    this.doc = doc;
  }

  /** Something was typed and will be handed over at once. */
  expects() {
    if (this.state === 'saved') this.state = 'saving';
  }

  changed(doc: Node) {
    this.doc = doc;
    if (this.state === 'saved') this.state = 'saving';
    this.keep();
    if (!this.inflight) this.send();
  }

  /** A block changed by another writer: what we hold of it is now what the server holds. */
  took(id: string, version: number, node: Node | null) {
    if (node) {
      this.versions.set(id, version);
      const known = this.sent.find((s) => s.id === id);
      if (known) known.node = node;
    } else {
      this.versions.delete(id);
      this.sent = this.sent.filter((s) => s.id !== id);
    }
  }

  /** The version of a block that the server holds; 0 when it has none. */
  versionOf(id: string): number {
    return this.versions.get(id) ?? 0;
  }

  /** Whether this writer has changes of the block that the server has not answered. */
  dirty(id: string): boolean {
    if (this.inflight?.blocks.some((b) => b.id === id)) return true;
    return this.difference().some((c) => c.id === id);
  }

  insertedElsewhere(id: string, version: number, node: Node, after: string) {
    this.versions.set(id, version);
    const at = after ? this.sent.findIndex((s) => s.id === after) + 1 : 0;
    this.sent.splice(at, 0, { id, node });
  }

  /** Ends a conflict: the writer's text goes up again on top of theirs. */
  keepMine(id: string) {
    const conflict = this.conflicts.get(id);
    if (!conflict) return;
    if (conflict.theirs === null) {
      this.versions.delete(id);
      this.sent = this.sent.filter((s) => s.id !== id);
    } else {
      this.versions.set(id, conflict.version);
      const known = this.sent.find((s) => s.id === id);
      if (known && this.doc) known.node = known.node.type.create(known.node.attrs); // differs from any text: goes up
    }
    this.resolve(id);
  }

  /** Ends a conflict with their text, which the manuscript shows already. */
  tookTheirs(id: string, node: Node | null) {
    const conflict = this.conflicts.get(id);
    if (!conflict) return;
    this.took(id, conflict.version, node);
    this.resolve(id);
  }

  private resolve(id: string) {
    const left = new Map(this.conflicts);
    left.delete(id);
    this.conflicts = left;
    this.state = left.size > 0 ? 'conflict' : 'saving';
    if (this.doc) this.changed(this.doc);
  }

  addConflict(refused: Refused) {
    this.conflicts = new Map(this.conflicts).set(refused.id, refused);
    this.state = 'conflict';
  }

  close() {
    this.closed = true;
    clearTimeout(this.timer);
  }

  /** Sends at once what is not yet sent, as when the server is back. */
  hurry() {
    clearTimeout(this.timer);
    if (this.inflight) this.post();
    else this.send();
  }

  private difference(): BlockChange[] {
    if (!this.doc) return [];
    const now = children(this.doc);
    const changes: BlockChange[] = [];
    const before = new Map(this.sent.map((s) => [s.id, s]));
    const nowIds = new Set(now.map((n) => n.id));
    // Blocks that kept their order among themselves need no new place; others say what they stand after.
    const kept = this.sent.filter((s) => nowIds.has(s.id)).map((s) => s.id);
    let k = 0;
    let previous = this.after;
    for (const { id, node } of now) {
      const old = before.get(id);
      const conflict = this.conflicts.has(id);
      if (!old) {
        if (!conflict)
          changes.push({ id, division: this.division, basedOn: 0, body: JSON.stringify(node.toJSON()), after: previous, deleted: false });
      } else {
        const same = old.node === node || old.node.eq(node);
        const moved = kept[k] !== id;
        if (moved) kept.splice(kept.indexOf(id), 1);
        else k++;
        if (!conflict && (moved || !same))
          changes.push({
            id,
            division: this.division,
            basedOn: this.versions.get(id) ?? 0,
            body: same ? null : JSON.stringify(node.toJSON()),
            after: moved ? previous : null,
            deleted: false,
          });
      }
      previous = id;
    }
    for (const { id } of this.sent)
      if (!nowIds.has(id) && !this.conflicts.has(id))
        changes.push({ id, division: this.division, basedOn: this.versions.get(id) ?? 0, body: null, after: null, deleted: true });
    return changes;
  }

  private keep() {
    const draft = this.difference();
    if (!this.inflight && draft.length === 0) localStorage.removeItem(this.storeKey);
    else localStorage.setItem(this.storeKey, JSON.stringify({ inflight: this.inflight, draft, joined: this.joined } satisfies Kept));
  }

  private send() {
    const blocks = this.difference();
    if (blocks.length === 0) {
      this.state = this.conflicts.size > 0 ? 'conflict' : 'saved';
      this.keep();
      return;
    }
    this.inflight = { id: newId(), writer, label: label(blocks), blocks, divisions: null, joined: this.joined };
    this.joined = {};
    const conflicted = new Map(this.sent.filter((s) => this.conflicts.has(s.id)).map((s) => [s.id, s.node]));
    this.sent = children(this.doc!)
      .filter((c) => !this.conflicts.has(c.id) || conflicted.has(c.id))
      .map((c) => ({ id: c.id, node: conflicted.get(c.id) ?? c.node }));
    this.keep();
    void this.post();
  }

  private async post(): Promise<void> {
    const batch = this.inflight;
    if (!batch || this.closed) return;
    try {
      const answer = await api.send(this.manual, batch);
      if (this.inflight !== batch) return;
      this.inflight = null;
      this.tries = 0;
      for (const a of answer.accepted) {
        const deleted = batch.blocks.find((b) => b.id === a.id)?.deleted;
        if (deleted) this.versions.delete(a.id);
        else this.versions.set(a.id, a.version);
        if (a.merged) this.onMerged(a.id, a.merged);
      }
      for (const r of answer.refused) this.addConflict(r);
      this.onStored(answer.act);
      this.send();
    } catch (e) {
      if (this.inflight !== batch) return;
      if (e instanceof Offline || e instanceof Problem) {
        this.state = 'offline';
        this.timer = setTimeout(() => void this.post(), retryMilliseconds[Math.min(this.tries++, retryMilliseconds.length - 1)]);
      } else throw e;
    }
  }
}

function children(doc: Node): SentBlock[] {
  const found: SentBlock[] = [];
  doc.forEach((node) => found.push({ id: node.attrs.id as string, node }));
  return found;
}

/** What the act is called when it is taken back. */
function label(blocks: BlockChange[]): string {
  if (blocks.every((b) => b.deleted)) return blocks.length === 1 ? 'Taking out a block' : `Taking out ${blocks.length} blocks`;
  if (blocks.every((b) => b.basedOn === 0)) return blocks.length === 1 ? 'Adding a block' : `Adding ${blocks.length} blocks`;
  if (blocks.some((b) => b.after !== null && b.body === null)) return 'Moving';
  return 'Typing';
}
