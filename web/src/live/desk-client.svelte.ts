// Saving as the writer types. Changed blocks go up with the versions they were based on. What is not yet answered stands in
// the browser's own database, under this tab's name, before it goes up; so it survives a closed tab and a restart of the
// server. Nothing the server answers can make a word vanish: what it does not take stays in the text, and is told.
import type { Node } from 'prosemirror-model';
import { api, newId, Offline, Problem, type Answer, type Batch, type BlockChange, type Refused } from '../shared/api';
import { bodyOf, nodeOfBody } from '../write/manuscript/stored';
import type { JsonNode } from './merge';
import { writer } from './tab';
import { dropUnsent, keepAtOnce, keepUnsent, type DraftChange, type Unsent } from './unsent';

/** `refused`: the server took all but some words, which are shown where they stand. */
export type SaveState = 'saved' | 'saving' | 'offline' | 'refused';

/** Words that the server did not take. */
export interface Unstored extends Refused {
  /** Both changed it (then theirs can be taken), or the server could not store it. */
  conflict: boolean;
}

interface SentBlock {
  id: string;
  node: Node;
}

const retryMilliseconds = [300, 1000, 2000, 4000];

export interface Hooks {
  /** Another writer's change was merged with what was sent: what was sent, and what stands now. False when that could not come
   * in under what was typed since. */
  merged?: (id: string, sent: JsonNode, body: string) => boolean;
  /** The server has answered: nothing is under way, nothing new is sent yet. */
  answered?: () => void;
  /** The number of an act that is stored. */
  stored?: (act: number) => void;
  /** The title is stored, under this act. */
  titled?: (title: string, act: number) => void;
}

export class DeskClient {
  state = $state<SaveState>('saved');
  /** What the server did not take, by block. */
  unstored = $state.raw<ReadonlyMap<string, Unstored>>(new Map());
  /** Blocks in which two writers replaced the same words, so that both texts stand. */
  both = $state.raw<ReadonlySet<string>>(new Set());
  /** The browser's own store does not take what is typed; it goes up all the same. */
  unkept = $state(false);

  private versions = new Map<string, number>();
  private sent: SentBlock[] = [];
  private doc: Node | null = null;
  private inflight: Batch | null = null;
  private bases: Record<string, string | null> = {};
  private joined: Record<string, string> = {};
  private title: { id: string; text: string } | null = null;
  private titling = false;
  private tries = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private closed = false;

  constructor(
    private readonly manual: string,
    readonly division: string,
    private readonly hooks: Hooks = {},
    /** Only some blocks of the division are here: those after this one, "" for its beginning. Null for all. */
    private readonly part: string | null = null,
  ) {}

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
    // Words that were not taken and are written anew are tried again.
    for (const [id, unstored] of this.unstored) if (!unstored.conflict && this.differs(id)) this.forget(id);
    if (this.state === 'saved') this.state = 'saving';
    this.keep();
    if (!this.inflight) this.send();
  }

  /** A new title of the division. It is kept like everything typed, and goes up by itself. */
  rename(text: string) {
    this.title = { id: newId(), text };
    if (this.state === 'saved') this.state = 'saving';
    this.keep();
    void this.sendTitle();
  }

  /** A block changed by another writer: what we hold of it is now what the server holds. */
  took(id: string, version: number, node: Node | null) {
    if (node) {
      this.versions.set(id, version);
      const known = this.sent.find((s) => s.id === id);
      if (known) known.node = node;
      else this.sent.push({ id, node });
    } else {
      this.versions.delete(id);
      this.sent = this.sent.filter((s) => s.id !== id);
    }
  }

  /** The version of a block that the server holds; 0 when it has none. */
  versionOf(id: string): number {
    return this.versions.get(id) ?? 0;
  }

  /** The block as the server holds it, as far as this browser knows. */
  sentOf(id: string): Node | null {
    return this.sent.find((s) => s.id === id)?.node ?? null;
  }

  /** Whether the block is on its way to the server. */
  underWay(id: string): boolean {
    return this.inflight?.blocks.some((b) => b.id === id) ?? false;
  }

  /** Whether this writer has changes of the block that the server has not answered. */
  dirty(id: string): boolean {
    return this.underWay(id) || this.difference().some((d) => d.change.id === id);
  }

  insertedElsewhere(id: string, version: number, node: Node, after: string) {
    this.versions.set(id, version);
    const at = after ? this.sent.findIndex((s) => s.id === after) + 1 : 0;
    this.sent.splice(at, 0, { id, node });
  }

  /** The writer keeps words that were not taken: they go up again, over what stands there. */
  keepMine(id: string) {
    const unstored = this.unstored.get(id);
    if (!unstored) return;
    if (!unstored.conflict) {
      // The server holds what it held; the words go up as they are.
    } else if (unstored.theirs === null) {
      this.versions.delete(id);
      this.sent = this.sent.filter((s) => s.id !== id);
    } else {
      this.versions.set(id, unstored.version);
      const known = this.sent.find((s) => s.id === id);
      if (known && this.doc) known.node = known.node.type.create(known.node.attrs); // differs from any text: goes up
    }
    this.forget(id);
    if (this.doc) this.changed(this.doc);
  }

  /** Ends it with their text, which the manuscript shows already. */
  tookTheirs(id: string, node: Node | null) {
    const unstored = this.unstored.get(id);
    if (!unstored) return;
    this.took(id, unstored.version, node);
    this.forget(id);
    if (this.doc) this.changed(this.doc);
  }

  /** Words that stand in the text and that the server does not have: shown where they stand. */
  setAside(unstored: Unstored) {
    this.unstored = new Map(this.unstored).set(unstored.id, unstored);
    this.state = 'refused';
  }

  private forget(id: string) {
    const left = new Map(this.unstored);
    left.delete(id);
    this.unstored = left;
    this.settle();
  }

  /** The writer has seen that both texts stand. */
  sawBoth(id: string) {
    const left = new Set(this.both);
    left.delete(id);
    this.both = left;
  }

  close() {
    this.closed = true;
    clearTimeout(this.timer);
  }

  /** Sends at once what is not yet sent, as when the server is back. */
  hurry() {
    clearTimeout(this.timer);
    if (this.title) void this.sendTitle();
    if (this.inflight) void this.post();
    else this.send();
  }

  private settle() {
    if (this.inflight || this.title) return;
    this.state = this.unstored.size > 0 ? 'refused' : 'saved';
  }

  /** Whether the text of a block is another than the one that was not taken. */
  private differs(id: string): boolean {
    const now = this.doc && children(this.doc).find((c) => c.id === id)?.node;
    const aside = this.asideNodes.get(id);
    return now !== undefined && now !== null && aside !== undefined && aside !== now && !aside.eq(now);
  }
  private asideNodes = new Map<string, Node>();
  private asideBases = new Map<string, string | null>();

  private difference(): DraftChange[] {
    if (!this.doc) return [];
    const now = children(this.doc);
    const changes: DraftChange[] = [];
    const before = new Map(this.sent.map((s) => [s.id, s]));
    const nowIds = new Set(now.map((n) => n.id));
    // Blocks that kept their order among themselves need no new place; others say what they stand after.
    const kept = this.sent.filter((s) => nowIds.has(s.id)).map((s) => s.id);
    let k = 0;
    let previous = this.part ?? '';
    const add = (change: BlockChange, base: Node | null) => changes.push({ change, base: base ? bodyOf(base) : null });
    for (const { id, node } of now) {
      const old = before.get(id);
      const aside = this.unstored.has(id);
      if (!old) {
        if (!aside) add({ id, division: this.division, basedOn: 0, body: bodyOf(node), after: previous, deleted: false }, null);
      } else {
        const same = old.node === node || old.node.eq(node);
        const moved = kept[k] !== id;
        if (moved) kept.splice(kept.indexOf(id), 1);
        else k++;
        if (!aside && (moved || !same))
          add(
            {
              id,
              division: this.division,
              basedOn: this.versions.get(id) ?? 0,
              body: same ? null : bodyOf(node),
              after: moved ? previous : null,
              deleted: false,
            },
            old.node,
          );
      }
      previous = id;
    }
    for (const { id, node } of this.sent)
      if (!nowIds.has(id) && !this.unstored.has(id))
        add({ id, division: this.division, basedOn: this.versions.get(id) ?? 0, body: null, after: null, deleted: true }, node);
    return changes;
  }

  // ---- the browser's own store ----

  private keeping = false;
  private keepAgain = false;

  /** Writes what is not stored into the browser's own database; one writing at a time, always the latest. It never holds up
   * what goes to the server. */
  private keep() {
    if (this.keeping) {
      this.keepAgain = true;
      return;
    }
    this.keeping = true;
    void this.write().finally(() => {
      this.keeping = false;
      if (!this.keepAgain) return;
      this.keepAgain = false;
      this.keep();
    });
  }

  private async write(): Promise<void> {
    const unsent = this.unsent();
    try {
      if (unsent) await keepUnsent(unsent);
      else await dropUnsent({ tab: writer, manual: this.manual, division: this.division, part: this.part });
      this.unkept = false;
    } catch {
      // The store is full, or switched off: the words go to the server all the same, and the writer is told.
      this.unkept = true;
    }
  }

  /** Keeps what is not stored now, as the page goes. */
  keepNow() {
    const unsent = this.unsent();
    if (unsent) keepAtOnce(unsent);
  }

  /** All that the server has not acknowledged; null when there is nothing. */
  private unsent(): Unsent | null {
    // Words that were set aside are kept too: the server does not have them.
    const aside = [...this.unstored.keys()].flatMap((id) => {
      const node = this.doc && children(this.doc).find((c) => c.id === id)?.node;
      const base = this.asideBases.get(id) ?? null;
      if (!node) return [];
      const basedOn = base === null ? 0 : this.versionOf(id);
      const change = { id, division: this.division, basedOn, body: bodyOf(node), after: null, deleted: false };
      return [{ change, base }];
    });
    const draft = [...this.difference(), ...aside];
    if (!this.inflight && !this.title && draft.length === 0) return null;
    return {
      tab: writer,
      manual: this.manual,
      division: this.division,
      part: this.part,
      inflight: this.inflight,
      bases: this.bases,
      draft,
      joined: this.joined,
      title: this.title?.text ?? null,
      at: Date.now(),
    };
  }

  // ---- sending ----

  private send() {
    const changes = this.difference();
    if (changes.length === 0) {
      this.settle();
      this.keep();
      return;
    }
    const blocks = changes.map((c) => c.change);
    this.inflight = { id: newId(), writer, label: label(blocks), blocks, joined: this.joined };
    this.bases = Object.fromEntries(changes.map((c) => [c.change.id, c.base]));
    this.joined = {};
    const aside = new Map(this.sent.filter((s) => this.unstored.has(s.id)).map((s) => [s.id, s.node]));
    this.sent = children(this.doc!)
      .filter((c) => !this.unstored.has(c.id) || aside.has(c.id))
      .map((c) => ({ id: c.id, node: aside.get(c.id) ?? c.node }));
    this.keep();
    void this.post();
  }

  private async post(): Promise<void> {
    const batch = this.inflight;
    if (!batch || this.closed) return;
    try {
      const answer = await api.send(this.manual, batch);
      if (this.inflight !== batch) return;
      this.take(batch, answer);
      this.next();
    } catch (e) {
      if (this.inflight !== batch) return;
      if (e instanceof Offline) this.wait(() => void this.post());
      else await this.apart(batch, e);
    }
  }

  private next() {
    this.inflight = null;
    this.bases = {};
    this.tries = 0;
    this.hooks.answered?.();
    if (!this.inflight) this.send();
  }

  private wait(then: () => void) {
    this.state = 'offline';
    if (!this.closed) this.timer = setTimeout(then, retryMilliseconds[Math.min(this.tries++, retryMilliseconds.length - 1)]);
  }

  private take(batch: Batch, answer: Answer) {
    for (const a of answer.accepted) {
      const change = batch.blocks.find((b) => b.id === a.id);
      if (change?.deleted) this.versions.delete(a.id);
      else this.versions.set(a.id, a.version);
      if (a.bothAt) this.both = new Set(this.both).add(a.id);
      if (a.merged && change?.body && this.hooks.merged?.(a.id, JSON.parse(change.body) as JsonNode, a.merged) === false) {
        // It goes up on what it was based on, so that the server says what both made of it.
        this.versions.set(a.id, change.basedOn);
        this.rollBack(change);
      }
    }
    for (const r of answer.refused) this.aside({ ...r, conflict: true });
    if (answer.act > 0) this.hooks.stored?.(answer.act);
  }

  private aside(unstored: Unstored) {
    const node = this.doc && children(this.doc).find((c) => c.id === unstored.id)?.node;
    this.asideBases.set(unstored.id, this.bases[unstored.id] ?? null);
    if (node) this.asideNodes.set(unstored.id, node);
    else if (unstored.theirs === null) {
      // Taken out here and not there to be taken out: the same.
      this.took(unstored.id, 0, null);
      return;
    }
    this.setAside(unstored);
  }

  /** The server can do nothing with a batch as it is. Its blocks go up one by one, so that one bad one does not hold up the
   * others; what is not taken even so stays in the text, and is told. */
  private async apart(batch: Batch, why: unknown): Promise<void> {
    const words = why instanceof Error ? why.message : String(why);
    if (batch.blocks.length === 1) {
      const change = batch.blocks[0]!;
      this.rollBack(change);
      this.aside({ id: change.id, why: words, theirs: this.bases[change.id] ?? null, version: change.basedOn, conflict: false });
      this.next();
      return;
    }
    for (const change of batch.blocks) {
      if (this.closed) return;
      const single: Batch = { ...batch, id: newId(), blocks: [change] };
      for (;;) {
        try {
          this.take(single, await api.send(this.manual, single));
          break;
        } catch (e) {
          if (e instanceof Offline) {
            await new Promise((then) => this.wait(() => then(undefined)));
            if (this.closed) return;
            continue;
          }
          this.rollBack(change);
          this.aside({
            id: change.id,
            why: e instanceof Error ? e.message : String(e),
            theirs: this.bases[change.id] ?? null,
            version: change.basedOn,
            conflict: false,
          });
          break;
        }
      }
    }
    this.next();
  }

  /** What was thought to be sent was not: the server holds what it held before. */
  private rollBack(change: BlockChange) {
    const base = this.bases[change.id];
    if (!base) {
      this.sent = this.sent.filter((s) => s.id !== change.id);
      return;
    }
    const node = nodeOfBody(base);
    const known = this.sent.find((s) => s.id === change.id);
    if (known) known.node = node;
    else this.sent.push({ id: change.id, node });
  }

  private async sendTitle(): Promise<void> {
    const title = this.title;
    if (!title || this.titling) return;
    this.titling = true;
    try {
      const done = await api.planAct(this.manual, writer, { do: 'rename', rows: [this.division], text: title.text }, title.id);
      if (done.refused && done.refused !== 'Nothing changes.') throw new Problem(done.refused);
      if (this.title === title) this.title = null;
      this.hooks.titled?.(title.text, done.act);
      if (done.act > 0) this.hooks.stored?.(done.act);
    } catch (e) {
      if (e instanceof Offline) this.wait(() => void this.sendTitle());
      else if (this.title === title) {
        this.title = null;
        this.hooks.titled?.('', 0);
        throw e;
      }
    } finally {
      this.titling = false;
      this.settle();
      this.keep();
    }
    if (this.title) void this.sendTitle();
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
