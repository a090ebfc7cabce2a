// Variables, conditions and passages of one manual, as the server has them, for every view that shows or changes them.
import { api, type KeptOnceView, type ShelfKept, type KeptPassage, type ReuseOrder } from '../shared/api';
import { notices } from '../shared/notices.svelte';
import type { ChangedElsewhere } from '../live/live-proof.svelte';
import { writer } from '../live/tab';

const nothing: KeptOnceView = { variables: [], conditions: [], passages: [], editions: [], acceptedWords: [] };

export class KeptOnce {
  now = $state.raw<KeptOnceView>(nothing);
  /** What the shelf keeps for all its manuals; read when somebody looks. */
  shelf = $state.raw<ShelfKept[]>([]);
  /** Passages that are typed in somewhere on the screen hear what others do. */
  private readonly listening = new Set<(change: ChangedElsewhere) => void>();
  private reading: Promise<void> | null = null;
  private again = false;

  constructor(
    private readonly manual: string,
    /** An act is stored under this number. */
    private readonly stored: (act: number) => void,
    /** What was typed is stored before something else is made of it. */
    private readonly before: () => Promise<void> = async () => undefined,
  ) {}

  passage(name: string): KeptPassage | null {
    return this.now.passages.find((p) => p.name === name) ?? null;
  }

  /** Reads it, one reading at a time; what changes meanwhile is read once more. */
  read(): Promise<void> {
    this.again = true;
    this.reading ??= (async () => {
      while (this.again) {
        this.again = false;
        try {
          this.now = await api.keptOnce(this.manual);
        } catch {
          // The server is away: the next change, or the next visit, reads it.
        }
      }
      this.reading = null;
    })();
    return this.reading;
  }

  async readShelf() {
    this.shelf = await api.shelfKept(this.manual).catch(() => this.shelf);
  }

  /** An act between this manual and the shelf; what was refused is told. */
  async shelfAct(act: 'give' | 'take' | 'everywhere' | 'takeOut', kind: string, name: string) {
    try {
      await this.before();
      const done = await api.shelfKeeps(this.manual, writer, act, kind, name);
      if (done.act) this.stored(done.act);
      await Promise.all([this.read(), this.readShelf()]);
      if (act === 'everywhere') notices.tell(done.manuals === 1 ? 'One manual took it.' : `${done.manuals} manuals took it.`);
      if (done.refused) throw new Error(done.refused);
    } catch (e) {
      notices.problem(e);
    }
  }

  changedElsewhere(change: ChangedElsewhere) {
    for (const hear of this.listening) hear(change);
    if (change.keptOnce) void this.read();
  }

  listen(hear: (change: ChangedElsewhere) => void): () => void {
    this.listening.add(hear);
    return () => this.listening.delete(hear);
  }

  /** @returns the act's words when it was done; what was refused is told */
  async act(order: ReuseOrder): Promise<string | null> {
    try {
      await this.before();
      const done = await api.reuse(this.manual, writer, order);
      if (done.refused) throw new Error(done.refused);
      this.stored(done.act);
      await Promise.all([this.read(), this.shelf.length > 0 && this.readShelf()]);
      return done.words;
    } catch (e) {
      notices.problem(e);
      return null;
    }
  }
}
