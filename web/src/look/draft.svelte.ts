// A look that is being changed: what is worn, what is tried, the pages in sight and what all of it comes to. Every change is seen on the
// pages and can be taken back; the manual wears nothing of it before it is kept.
import type { LiveProof } from '../live/live-proof.svelte';
import { address, api, type PutOn, type SeenPage, type TriedLook } from '../shared/api';
import { notices } from '../shared/notices.svelte';
import { writer } from '../live/tab';
import { renamedLayout, withValue, type Json } from './tree';

/** Which pages are in sight. */
export interface Sight {
  /** By its id; then the page counts from its first. */
  division: string | null;
  page: number;
}

interface Step {
  look: Json;
  /** Changes of one kind that follow one another are one step. */
  kind: string;
}

/** A value that is not turned on for so long has come to rest. */
const restMilliseconds = 100;

export class LookDraft {
  /** The look that the manual wears, as its file, and the one that the changes were begun on. */
  worn = $state.raw('');
  base = $state.raw('');
  look = $state.raw<Json | null>(null);
  pages = $state.raw<SeenPage[]>([]);
  faults = $state.raw<PutOn['faults']>([]);
  /** What can be worn and yet comes out badly in this manual. */
  doubts = $state.raw<PutOn['faults']>([]);
  /** What the manual comes to in this look; null while that is not known. */
  outcome = $state.raw<TriedLook | null>(null);
  sight = $state.raw<Sight | null>(null);
  working = $state(false);
  canUndo = $state(false);
  canRedo = $state(false);

  private past: Step[] = [];
  private future: Step[] = [];
  private wanted = 0;
  private running = false;
  /** Pages are on their way; and what is to be changed when they have come. */
  private drawing = false;
  private later: (() => void) | null = null;
  /** Tells who waits that something newer is wanted. */
  private overtake: () => void = () => undefined;

  constructor(
    private readonly manual: string,
    private readonly proof: LiveProof,
  ) {}

  readonly text = $derived(this.look === null ? '' : JSON.stringify(this.look));
  readonly before = $derived(this.base === '' ? null : (JSON.parse(this.base) as Json));
  readonly changed = $derived(this.look !== null && this.before !== null && this.text !== JSON.stringify(this.before));
  /** Somebody else changed the look that the changes were begun on. */
  readonly overtaken = $derived(this.changed && this.base !== this.worn);

  /** Reads what is worn. What was begun on another look stays as it is. */
  async read(name: string) {
    const text = await fileOf(this.manual, name);
    if (text === this.worn) return;
    const begun = this.look === null ? kept(this.manual) : null;
    this.worn = text;
    if (begun) {
      this.base = begun.base;
      this.look = begun.look;
    } else if (!this.changed) {
      this.base = text;
      this.look = JSON.parse(text) as Json;
    }
    this.turned();
  }

  see(sight: Sight) {
    this.sight = sight;
    this.turned();
  }

  set(place: string, value: Json | undefined, kind = '') {
    if (this.look === null) return;
    const layout = /^masters\[(\d+)\]\.name$/.exec(place);
    this.become(
      layout && typeof value === 'string' ? renamedLayout(this.look, Number(layout[1]), value) : withValue(this.look, place, value),
      kind && `${kind} ${place}`,
    );
  }

  /** Another look altogether, or one with more than one change. */
  become(look: Json, kind = '') {
    if (this.look === null) return;
    const last = this.past.at(-1);
    if (!kind || !last || last.kind !== kind) this.past.push({ look: this.look, kind });
    this.future = [];
    this.look = look;
    this.stepped();
  }

  undo(again: boolean): boolean {
    const [from, to] = again ? [this.future, this.past] : [this.past, this.future];
    const step = from.pop();
    if (!step || this.look === null) return false;
    to.push({ look: this.look, kind: '' });
    this.look = step.look;
    this.stepped();
    return true;
  }

  back() {
    if (!this.worn) return;
    this.base = this.worn;
    this.become(JSON.parse(this.worn) as Json);
  }

  private stepped() {
    this.canUndo = this.past.length > 0;
    this.canRedo = this.future.length > 0;
    try {
      if (this.changed) localStorage.setItem(keyOf(this.manual), JSON.stringify({ base: this.base, look: this.look } satisfies Begun));
      else localStorage.removeItem(keyOf(this.manual));
    } catch {
      // A full store keeps no draft; the look on the screen is there all the same.
    }
    this.turned();
  }

  /** @param over put on even if somebody else changed the look meanwhile */
  async keep(over = false): Promise<{ act: number; words: string; refused: string | null } | null> {
    const file = this.text;
    const done = await api.putOn(this.manual, writer, { file, from: over ? null : this.base });
    if (done.faults.length > 0) {
      this.faults = done.faults;
      return null;
    }
    if (!done.refused) {
      // What was kept is what is worn from now on.
      this.base = file;
      this.past = [];
      this.future = [];
      this.canUndo = this.canRedo = false;
      localStorage.removeItem(keyOf(this.manual));
    }
    return done;
  }

  /** Changes something as soon as the pages of the change before are in sight: while a margin is dragged more would be drawn than is seen. */
  soon(change: () => void) {
    this.later = change;
    if (!this.drawing) this.changeNow();
  }

  private changeNow() {
    const change = this.later;
    this.later = null;
    change?.();
  }

  /** Something is otherwise: the pages in sight are drawn anew, and then all is settled. */
  turned() {
    this.wanted++;
    this.overtake();
    if (!this.running && this.sight) void this.run();
  }

  private async run() {
    this.running = true;
    this.working = true;
    try {
      for (let done = 0; done !== this.wanted;) {
        done = this.wanted;
        await this.once(done);
      }
    } catch (e) {
      notices.problem(e);
    } finally {
      this.running = false;
      this.working = false;
    }
  }

  private async once(number: number) {
    if (!this.sight) return;
    const order = { file: this.changed ? this.text : null, ...this.sight };
    this.drawing = true;
    const seen = await answered(api.glimpse(this.manual, order)).finally(() => (this.drawing = false));
    if (seen) {
      this.faults = seen.faults;
      if (seen.faults.length === 0) this.pages = seen.pages;
    }
    this.changeNow();
    if (this.faults.length > 0) return;
    if (number !== this.wanted) return;
    if (!this.changed) this.outcome = null;
    // While a value is turned on its pages come first: all of the manual is composed once it rests.
    const newer = new Promise<null>((then) => (this.overtake = () => then(null)));
    const rested = new Promise<true>((then) => setTimeout(() => then(true), restMilliseconds));
    if (!(await Promise.race([rested, newer]))) return;
    const tried = await Promise.race([answered(api.tried(this.manual, order)), newer]);
    if (tried && number === this.wanted) {
      this.doubts = tried.doubts;
      if (!this.changed) return;
      this.outcome = tried;
      if (tried.pages.length > 0) this.pages = tried.pages;
    }
  }

  /** Pages of the manual as it is. */
  get sheets() {
    return this.outcome?.pageCount ?? this.proof.pages.length;
  }
}

const keyOf = (manual: string) => `kivren.look.${manual}`;

/** What was begun in an earlier visit of this browser and not kept. */
interface Begun {
  base: string;
  look: Json;
}

function kept(manual: string): Begun | null {
  try {
    const text = localStorage.getItem(keyOf(manual));
    return text ? (JSON.parse(text) as Begun) : null;
  } catch {
    return null;
  }
}

/** Null where another look was asked for meanwhile. */
async function answered<T>(answer: Promise<T>): Promise<T | null> {
  try {
    return await answer;
  } catch (e) {
    if (e instanceof Error && e.message === 'Another look is tried.') return null;
    throw e;
  }
}

export const fileAddress = (manual: string, look: string) => address(`/api/manuals/${manual}/look/file?name=${encodeURIComponent(look)}`);

async function fileOf(manual: string, look: string): Promise<string> {
  const answer = await fetch(fileAddress(manual, look));
  if (!answer.ok) throw new Error(`The look “${look}” cannot be read.`);
  return answer.text();
}
