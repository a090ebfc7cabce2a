// The live proof of one manual: what the last settled composition says, kept up to date by messages from the server.
import { HubConnectionBuilder, HubConnectionState, LogLevel, type HubConnection } from '@microsoft/signalr';
import {
  address,
  api,
  siteToken,
  type Effect,
  type LooseEnd,
  type Output,
  type ProofDivision,
  type ProofMessage,
  type ProofPage,
} from '../shared/api';
import { writer } from './tab';

export interface ChangedElsewhere {
  writer: string;
  blocks: { id: string; division: string; version: number; body: string | null; after: string | null }[];
  divisions: boolean;
  /** Variables, conditions, passages or roles changed. */
  keptOnce?: boolean;
}

/** Where a writer is. */
export interface Presence {
  writer: string;
  division: string;
  block: string;
}

/** Heard from at least this often, a manual stays open on the server. */
const beatMilliseconds = 30_000;
/** Pages that are not told after so long are asked for. */
const patienceMilliseconds = 3_000;

export class LiveProof {
  number = $state(0);
  milliseconds = $state(0);
  passes = $state(0);
  pages = $state.raw<ProofPage[]>([]);
  divisions = $state.raw<ProofDivision[]>([]);
  private composed = $state.raw<LooseEnd[]>([]);
  private grownOld = $state.raw<LooseEnd[]>([]);
  /** What would print wrong here, and what other manuals no longer bear out. */
  looseEnds = $derived([...this.composed, ...this.grownOld]);
  /** Of these, what no writer let be. */
  told = $derived(this.looseEnds.filter((l) => !l.aside));
  effect = $state.raw<Effect | null>(null);
  problem = $state<string | null>(null);
  /** The edition that the pages are of. */
  edition = $state('');
  /** The last act in these pages, and the last one this browser knows was stored. */
  act = $state(0);
  expected = $state(0);
  composing = $derived(this.expected > this.act);
  output = $state.raw<Output | null>(null);
  connected = $state(false);

  onchanged: ((change: ChangedElsewhere) => void) | null = null;
  onreconnected: (() => void) | null = null;
  /** Told of every stage of every output. */
  onoutput: ((output: Output) => void) | null = null;

  /** Writers who have the manual open, and where; this tab is not among them. */
  others = $state.raw<Presence[]>([]);
  /** Why pages come late, when the server says so. */
  late = $state<string | null>(null);

  private hub!: HubConnection;
  private place: Presence = { writer, division: '', block: '' };
  private telling: ReturnType<typeof setTimeout> | undefined;
  private beat: ReturnType<typeof setInterval> | undefined;
  private stopped = false;
  private svgs = new Map<string, Promise<string>>();

  constructor(private readonly manual: string) {}

  private build(token: string) {
    this.hub = new HubConnectionBuilder()
      .withUrl(`${address('/live')}?site=${token}`)
      .withAutomaticReconnect({ nextRetryDelayInMilliseconds: (c) => Math.min(4000, 300 * 2 ** c.previousRetryCount) })
      .configureLogging(LogLevel.None)
      .build();
    this.hub.on('proof', (message: ProofMessage) => void this.take(message).catch(() => undefined));
    this.hub.on('changed', (changes: ChangedElsewhere[]) => changes.forEach((change) => this.onchanged?.(change)));
    this.hub.on('output', (output: Output) => {
      this.output = output;
      this.onoutput?.(output);
    });
    this.hub.on('here', (here: Presence[]) => (this.others = here.filter((h) => h.writer !== writer)));
    this.hub.onreconnecting(() => (this.connected = false));
    this.hub.onreconnected(() => void this.join(true).catch(() => this.hub.stop()));
    this.hub.onclose(() => this.retry());
  }

  /** Connects, however long the server is away; the manuscript does not wait for it. */
  async start(again = false): Promise<void> {
    if (this.stopped) return;
    try {
      this.build(await siteToken());
      await this.hub.start();
      await this.join(again);
    } catch {
      if (!this.hub || this.hub.state === HubConnectionState.Disconnected) this.retry();
      else await this.hub.stop(); // which tries again
    }
  }

  /** Where this writer is now, told to the others a little later, as the caret moves on. */
  here(division: string, block: string) {
    if (this.place.division === division && this.place.block === block) return;
    this.place = { writer, division, block };
    clearTimeout(this.telling);
    this.telling = setTimeout(() => this.tellPlace(), 1500);
  }

  private tellPlace() {
    if (this.connected) void this.hub.invoke('Here', this.manual, this.place).catch(() => undefined);
  }

  private retry() {
    this.connected = false;
    if (!this.stopped) setTimeout(() => void this.start(true), 700);
  }

  private async join(again: boolean) {
    await this.hub.invoke('Join', this.manual);
    this.connected = true;
    this.tellPlace();
    clearInterval(this.beat);
    this.beat = setInterval(() => this.tellPlace(), beatMilliseconds);
    this.show(await api.proof(this.manual));
    void this.askOthers();
    window.addEventListener('focus', this.askOthers);
    if (again) this.onreconnected?.();
  }

  /** Asks what other manuals say now: as this one is opened, and as the writer comes back from another window. The answer to what
   * was asked last stands; without one it is asked again. */
  readonly askOthers = async (): Promise<void> => {
    clearTimeout(this.asking);
    const asked = ++this.asked;
    const old = await api.grownOld(this.manual).catch(() => null);
    if (this.stopped || asked !== this.asked) return;
    if (!old) {
      this.asking = setTimeout(() => void this.askOthers(), patienceMilliseconds);
      return;
    }
    this.grownOld = old.map(({ id, division, block, words, message, now }) => ({
      kind: 'ReferenceGrownOld',
      division,
      block,
      words,
      message,
      sheet: -1,
      subject: id,
      aside: null,
      ...(now ? { reference: id } : {}),
    }));
  };

  private asked = 0;
  private asking: ReturnType<typeof setTimeout> | undefined;

  /** Takes what another manual says now into a reference, or into all. */
  async takeNewer(references: string[]) {
    const { act } = await api.takeNewer(this.manual, writer, references);
    this.expects(act);
    await this.askOthers();
  }

  stop() {
    this.stopped = true;
    window.removeEventListener('focus', this.askOthers);
    clearInterval(this.beat);
    clearTimeout(this.telling);
    clearTimeout(this.waiting);
    clearTimeout(this.asking);
    void this.hub?.stop();
  }

  private async take(message: ProofMessage) {
    if (message.problem) {
      this.problem = message.problem;
      this.act = message.act;
      return;
    }
    for (const [key, svg] of Object.entries(message.drawn ?? {})) this.keep(key, Promise.resolve(svg));
    if (message.before !== this.number) this.show(await api.proof(this.manual), message.effect);
    else this.show(message);
  }

  private show(message: ProofMessage, effect?: Effect) {
    if (message.act < this.act) return; // a newer one came while this one was fetched
    const before = message.before === 0 ? [] : this.pages;
    const pages: ProofPage[] = [];
    let at = 0;
    for (const run of message.runs) {
      pages.push(...before.slice(at, run.from), ...run.inserted);
      at = run.from + run.removed;
    }
    this.pages = message.runs.length > 0 ? [...pages, ...before.slice(at)] : before;
    const first = this.number === 0;
    this.number = message.number;
    this.milliseconds = message.milliseconds;
    this.passes = message.passes;
    this.edition = message.edition ?? '';
    if (message.divisions) this.divisions = message.divisions;
    if (message.looseEnds) this.composed = message.looseEnds;
    this.effect = first ? null : (effect ?? message.effect);
    this.problem = null;
    this.act = message.act;
  }

  expects(act: number) {
    this.expected = Math.max(this.expected, act);
    clearTimeout(this.waiting);
    if (this.composing) this.waiting = setTimeout(() => void this.ask(), patienceMilliseconds);
  }
  private waiting: ReturnType<typeof setTimeout> | undefined;

  /** Pages that nobody told of: asked for, with the reason why. */
  private async ask(): Promise<void> {
    if (this.stopped || !this.composing) return;
    try {
      this.show(await api.proof(this.manual));
      await api.ready();
      this.late = null;
    } catch (e) {
      this.late = e instanceof Error ? e.message : null;
    }
    if (this.composing) this.waiting = setTimeout(() => void this.ask(), patienceMilliseconds);
  }

  /** The drawing of a page by its key, fetched once. */
  svg(key: string): Promise<string> {
    let found = this.svgs.get(key);
    if (!found) {
      found = fetch(address(`/api/manuals/${this.manual}/pages/${key}.svg`)).then((r) => {
        if (!r.ok) throw new Error('This page is not of the present composition.');
        return r.text();
      });
      found.catch(() => this.svgs.delete(key));
      this.keep(key, found);
    }
    return found;
  }

  private keep(key: string, svg: Promise<string>) {
    if (this.svgs.size > 120) this.svgs.delete(this.svgs.keys().next().value!);
    this.svgs.set(key, svg);
  }

  /** What the last change did to the pages, in words. */
  get effectWords(): string {
    const e = this.effect;
    if (!e) return '';
    const parts: string[] = [];
    if (e.pages !== 0) parts.push(`${e.pages > 0 ? '+' : '−'}${Math.abs(e.pages)} ${Math.abs(e.pages) === 1 ? 'page' : 'pages'}`);
    if (e.headsMoved > 0) parts.push(`moved ${e.headsMoved} ${e.headsMoved === 1 ? 'head' : 'heads'}`);
    if (e.referencesRenumbered > 0)
      parts.push(`${e.referencesRenumbered} ${e.referencesRenumbered === 1 ? 'reference' : 'references'} renumbered`);
    const changed = e.textPages + e.reflowedPages + e.numberPages;
    if (parts.length === 0)
      return changed === 0 ? 'no page changed' : `${changed} ${changed === 1 ? 'page' : 'pages'} changed, nothing moved`;
    return parts.join(' · ');
  }
}
