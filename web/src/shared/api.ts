// The server's API as the interface uses it. Every failure becomes a Problem with words for a person.

/** Values by the name of their axis; of each axis named one value must be chosen. Empty: for all readers. */
export type AppliesTo = Record<string, string[]>;

export interface UsePlace {
  division: string;
  title: string;
  block: string;
  words: string;
}
export interface KeptVariable {
  name: string;
  text: string;
  uses: UsePlace[];
}
export interface KeptCondition {
  axis: string;
  values: { name: string; uses: UsePlace[] }[];
}
export interface KeptPassage {
  id: string;
  name: string;
  blocks: string[];
  uses: UsePlace[];
}
export interface KeptOnceView {
  variables: KeptVariable[];
  conditions: KeptCondition[];
  passages: KeptPassage[];
  editions: { name: string; chosen: AppliesTo }[];
  /** Spelt right in this manual, whatever the dictionary has. */
  acceptedWords: string[];
}
export type ReuseOrder =
  | { do: 'setVariable' | 'renameVariable' | 'replacePicture'; name: string; to: string }
  | { do: 'takeOutVariable' | 'takeOutCondition' | 'acceptWord' | 'refuseWord'; name: string }
  | { do: 'setCondition'; name: string; values: string[] }
  | { do: 'renameCondition'; name: string; value: string | null; to: string }
  | { do: 'apply'; rows: string[]; appliesTo: AppliesTo }
  | { do: 'addPassage'; name: string; rows: string[] }
  | { do: 'renamePassage'; rows: [string]; to: string }
  | { do: 'takeOutPassage' | 'makePlain'; rows: [string] };

export interface ShelfManual {
  id: string;
  title: string;
  look: string;
  pages: number;
  looseEnds: number;
  workedOn: string;
}
export interface ReadProblem {
  where: string;
  what: string;
}
export interface BroughtIn {
  id: string;
  problems: ReadProblem[];
}
export interface DeskBlock {
  id: string;
  version: number;
  body: string;
}
export interface DeskDivision {
  id: string;
  kind: string;
  title: string;
  shortTitle: string | null;
  version: number;
  blocks: DeskBlock[] | null;
  language: string;
  appliesTo: AppliesTo;
}
export interface DeskManual {
  id: string;
  title: string;
  look: string;
  divisions: DeskDivision[];
  assets: string[];
  variables: string[];
  roles: OwnRole[];
  hasConditions: boolean;
}
export interface OwnRole {
  name: string;
  foundation: string;
}
export interface PlanRow {
  id: string;
  kind: string;
  division: string;
  depth: number;
  number: string;
  title: string;
  sheet: number;
  folio: string;
  pages: number;
  words: number;
  state: string;
  appliesTo: AppliesTo;
  looseEnds: number;
  generated: boolean;
}
export interface PlanView {
  composition: number;
  pageCount: number;
  rows: PlanRow[];
  axis: { sheet: number; folio: string }[];
}
export interface PlanOrder {
  do: string;
  rows: string[];
  by?: string;
  at?: string;
  text?: string;
}
export interface Reworked {
  act: number;
  words: string;
  refused: string | null;
}
export interface Foreseen {
  number: string | null;
  under: string;
  refused: string | null;
}
export interface BringInFile {
  name: string;
  becomes: string;
  divisions: number;
  words: number;
  problem: string | null;
}
export interface MappingLine {
  key: string;
  label: string;
  count: number;
  sample: string;
  role: string;
  roleLabel: string;
  why: string;
  certain: boolean;
  span: boolean;
  chosen: boolean;
}
export interface CleaningLine {
  name: string;
  label: string;
  does: string;
  count: number;
  on: boolean;
}
export interface ReportGroup {
  kind: string;
  what: string;
  count: number;
  places: { where: string; words: string }[];
}
export interface BringInBlock {
  id: string;
  division: string;
  body: string;
  line: string;
  file: number;
  place: number;
  sheet: number;
}
export interface SourceDifference {
  id: string;
  kind: 'Changed' | 'Added' | 'TakenOut';
  division: string;
  before: string | null;
  becomes: string | null;
  editedHere: boolean;
}
export interface BringInView {
  id: string;
  state: 'Reading' | 'Ready' | 'Failed' | 'Cancelled' | 'Taken';
  progress: number;
  doing: string;
  milliseconds: number;
  problem: string | null;
  manual: string | null;
  manualTitle: string;
  after: string;
  version: number;
  files: BringInFile[];
  lines: MappingLine[];
  cleaning: CleaningLine[];
  report: ReportGroup[];
  roles: { name: string; label: string; span: boolean }[];
  mapping: string;
  mappings: { name: string; fits: number }[];
  pages: { key: string; folio: string; division: number }[];
  counts: {
    pages: number;
    divisions: number;
    heads: number;
    figures: number;
    tables: number;
    notes: number;
    blocks: number;
    toChoose: number;
    noAlternative: number;
    toNothing: number;
  } | null;
  differences: SourceDifference[] | null;
}
export interface BringInChoices {
  roles?: Record<string, string>;
  exceptions?: { file: number; place: number; role: string }[];
  off?: string[];
  becomes?: string[];
  order?: number[];
  mapping?: string;
}
export interface KeptSource {
  id: string;
  name: string;
  broughtInAt: string;
  bytes: number;
}
export interface Mapping {
  name: string;
  roles: number;
}
export interface PatternField {
  name: string;
  label: string;
}
export interface Pattern {
  name: string;
  says: string;
  look: string;
  ships: boolean;
  asks: PatternField[];
  divisions: string[];
}
export interface BlockChange {
  id: string;
  division: string;
  basedOn: number;
  body: string | null;
  after: string | null;
  deleted: boolean;
}
export interface Batch {
  id: string;
  writer: string;
  label: string;
  blocks: BlockChange[];
  joined: Record<string, string> | null;
}
export interface Refused {
  id: string;
  why: string;
  theirs: string | null;
  version: number;
}
export interface Answer {
  batch: string;
  act: number;
  accepted: { id: string; version: number; merged: string | null; bothAt?: boolean }[];
  refused: Refused[];
}
export interface TakenBack {
  act: number;
  label: string;
  divisions: string[];
  refused: Refused[];
}
export interface ProofPage {
  key: string;
  folio: string;
  division: number;
}
export interface ProofHead {
  id: string;
  level: string;
  number: string;
  title: string;
  sheet: number;
  folio: string;
}
export interface ProofDivision {
  id: string;
  kind: string;
  title: string;
  number: string;
  firstSheet: number;
  pages: number;
  heads: ProofHead[];
}
export interface LooseEnd {
  kind: string;
  division: string;
  block: string;
  words: string;
  message: string;
  sheet: number;
}
export interface Effect {
  pages: number;
  headsMoved: number;
  referencesRenumbered: number;
  textPages: number;
  reflowedPages: number;
  numberPages: number;
}
export interface ProofMessage {
  number: number;
  before: number;
  act: number;
  milliseconds: number;
  passes: number;
  pageCount: number;
  from: number;
  removed: number;
  inserted: ProofPage[];
  /** Drawings of inserted pages by their key, where they go along. */
  drawn: Record<string, string> | null;
  /** Null when they are as in the composition before. */
  divisions: ProofDivision[] | null;
  looseEnds: LooseEnd[] | null;
  effect: Effect;
  problem: string | null;
}
export interface PageTurn {
  sheet: number;
  folio: string;
  block: string;
  at: number;
  reason: string;
}
export interface DivisionMarks {
  composition: number;
  turns: PageTurn[];
  numbers: Record<string, string>;
  printed: Record<string, string>;
  pointedAt: Record<string, number>;
}
export interface TargetChoice {
  id: string;
  division: string;
  /** What a reference that is changed points at already. */
  pointed: boolean;
  kind: string;
  name: string;
  number: string;
  title: string;
  folio: string;
  readings: { form: string; label: string; text: string }[];
}
export interface Looking {
  words: string;
  wholeWords: boolean;
  sameCase: boolean;
  pattern: boolean;
  /** The only one; null for the whole manual. */
  division: string | null;
  /** The only places that are looked at: heads, note, indexEntry, listing, variable, a role of words, own: and a role's name; null for all. */
  where: string | null;
}
export interface FoundPlace {
  division: string;
  block: string;
  version: number;
  inner: string;
  ordinal: number;
  in: string;
  before: string;
  match: string;
  after: string;
  folio: string;
}
export interface FoundAll {
  places: FoundPlace[];
  total: number;
  refused: string | null;
}
export interface FoundInAll {
  manuals: { id: string; title: string; found: FoundAll }[];
  /** Manuals that were not reached in time. */
  unseen: number;
  refused: string | null;
}
export interface ReplaceOrder {
  id: string;
  writer: string;
  looking: Looking;
  with: string;
  chosen: { block: string; version: number; ordinals: number[] }[] | null;
}
export interface BroughtPicture {
  name: string;
  width: number;
  height: number;
  act: number;
}
/** An equation as the page will have it; measures in points from its baseline. */
export interface DrawnEquation {
  svg: string;
  width: number;
  height: number;
  depth: number;
  problem: string | null;
}
export interface HistoryEntry {
  /** The act before which all is as it was before this entry. */
  first: number;
  last: number;
  from: string;
  to: string;
  writer: string;
  label: string;
  takenBack: boolean;
  blocks: { id: string; division: string; before: string | null; after: string | null }[];
  more: number;
}
/** A block, a division; neither: the manual. */
export interface HistoryScope {
  division?: string;
  block?: string;
}
export interface StandingNote {
  id: string;
  division: string;
  block: string;
  folio: string;
  by: string;
  text: string;
  words: string;
  done: boolean;
  answers: number;
}
export interface UsedPicture {
  name: string;
  mediaType: string;
  width: number;
  height: number;
  /** Pixels to the inch where it is printed widest; 0 for a drawing, and for one that stands nowhere. */
  perInch: number;
  uses: UsePlace[];
}
export interface HeadingChoice {
  headings: string[];
  locators: string;
}
export interface Output {
  id: string;
  edition: string;
  state: 'Waiting' | 'Running' | 'Done' | 'Failed' | 'Cancelled';
  stage: string;
  done: number;
  total: number;
  pages: number;
  looseEnds: number;
  problem: string | null;
  askedAt: string;
}

/** The server answered that something cannot be done, and why. */
export class Problem extends Error {}
/** The server could not be reached, or cannot work just now: it is tried again. */
export class Offline extends Error {}

/** The addresses of the server, below wherever the application itself is. */
export const address = (path: string) => new URL(path.replace(/^\//, ''), document.baseURI).pathname + new URL(path, 'http://x').search;

let token: Promise<string> | null = null;

/** What every change says, so that no page of another site can make one. */
export function siteToken(): Promise<string> {
  token ??= fetch(address('/api/site'))
    .then(async (r) => ((await r.json()) as { token: string }).token)
    .catch(() => {
      token = null;
      throw new Offline('The server cannot be reached.');
    });
  return token;
}

const away = 'The server cannot be reached.';

async function call<T>(method: string, path: string, body?: unknown, raw?: BodyInit, again = true): Promise<T> {
  const headers: Record<string, string> = body === undefined ? {} : { 'Content-Type': 'application/json' };
  if (method !== 'GET') headers['X-Kivren-Site'] = await siteToken();
  let response: Response;
  let text: string;
  try {
    response = await fetch(address('/api' + path), { method, headers, body: raw ?? (body === undefined ? null : JSON.stringify(body)) });
    text = await response.text();
  } catch {
    throw new Offline(away);
  }
  if (response.status >= 502 && response.status <= 504) throw new Offline(wordsOf(text) ?? away);
  if (response.status === 403 && method !== 'GET' && again) {
    // The cookie may be of an earlier visit: it is asked for anew, once.
    token = null;
    return call<T>(method, path, body, raw, false);
  }
  if (!response.ok) throw new Problem(wordsOf(text) ?? `The server answered ${response.status}.`);
  if (!text) return undefined as T;
  try {
    return JSON.parse(text) as T;
  } catch {
    // Something between the browser and the server answered in its place, such as a page to sign in.
    throw new Offline('Something else answers in the place of the server.');
  }
}

/** What the server says of a problem; null when the answer was not its own. */
function wordsOf(text: string): string | null {
  try {
    return (JSON.parse(text) as { what?: string }).what ?? null;
  } catch {
    return null;
  }
}

const seg = encodeURIComponent;

export const api = {
  manuals: () => call<ShelfManual[]>('GET', '/manuals'),
  newManual: (title: string, pattern: string | null = null, variables: Record<string, string> = {}) =>
    call<BroughtIn>('POST', '/manuals', { title, pattern, variables }),
  patterns: () => call<Pattern[]>('GET', '/patterns'),
  keepPattern: (manual: string, name: string, fixed: boolean) => call<void>('POST', `/manuals/${manual}/keep-pattern`, { name, fixed }),
  deletePattern: (name: string) => call<void>('DELETE', `/patterns/${seg(name)}`),
  addRole: (manual: string, name: string, foundation: string) => call<void>('POST', `/manuals/${manual}/roles`, { name, foundation }),
  plan: (id: string, text = false) => call<PlanView>('GET', `/manuals/${id}/plan?text=${text}`),
  planAct: (id: string, writer: string, order: PlanOrder, act = newId()) =>
    call<Reworked>('POST', `/manuals/${id}/plan/acts`, { id: act, writer, by: null, at: null, text: null, ...order }),
  foresee: (id: string, order: PlanOrder) =>
    call<Foreseen>('POST', `/manuals/${id}/plan/foresee`, { id: newId(), writer: '', by: null, at: null, text: null, ...order }),
  startBringIn: (files: File[], into: { manual?: string; after?: string; newer?: string } = {}) => {
    const form = new FormData();
    for (const file of files) form.append('files', file, file.webkitRelativePath || file.name);
    const query = Object.entries(into)
      .filter(([, v]) => v)
      .map(([k, v]) => `${k}=${seg(v)}`)
      .join('&');
    return call<{ id: string }>('POST', `/bring-in${query ? '?' + query : ''}`, undefined, form);
  },
  bringInView: (id: string) => call<BringInView>('GET', `/bring-in/${id}`),
  bringInBlocks: (id: string, from: number, count: number) =>
    call<{ blocks: BringInBlock[]; total: number }>('GET', `/bring-in/${id}/blocks?from=${from}&count=${count}`),
  blocksOfLine: (id: string, key: string) => call<string[]>('GET', `/bring-in/${id}/of-line?key=${seg(key)}`),
  choose: (id: string, choices: BringInChoices) => call<BringInView>('PUT', `/bring-in/${id}/choices`, choices),
  keepMapping: (id: string, name: string) => call<BringInView>('POST', `/bring-in/${id}/keep-mapping?name=${seg(name)}`),
  cancelBringIn: (id: string) => call<void>('POST', `/bring-in/${id}/cancel`),
  take: (id: string, writer: string, differences: string[] | null) =>
    call<{ manual: string; division: string | null; act: number; blocks: number }>('POST', `/bring-in/${id}/take`, { writer, differences }),
  sources: (manual: string) => call<KeptSource[]>('GET', `/manuals/${manual}/sources`),
  mappings: () => call<Mapping[]>('GET', '/mappings'),
  addMapping: (file: File) => call<Mapping>('POST', '/mappings', undefined, file),
  deleteMapping: (name: string) => call<void>('DELETE', `/mappings/${seg(name)}`),
  sample: () => call<BroughtIn>('POST', '/manuals/sample'),
  openPackage: (file: File) => call<BroughtIn>('POST', '/manuals/package', undefined, file),
  deleteManual: (id: string) => call<void>('DELETE', `/manuals/${id}`),
  restoreManual: (id: string) => call<void>('POST', `/manuals/${id}/restore`),
  open: (id: string) => call<DeskManual>('GET', `/manuals/${id}`),
  division: (id: string, division: string) => call<DeskDivision>('GET', `/manuals/${id}/divisions/${division}`),
  send: (id: string, batch: Batch) => call<Answer>('POST', `/manuals/${id}/batches`, batch),
  takeBack: (id: string, writer: string, again: boolean) =>
    call<TakenBack>('POST', `/manuals/${id}/take-back?writer=${seg(writer)}&again=${again}`),
  proof: (id: string) => call<ProofMessage>('GET', `/manuals/${id}/proof`),
  marks: (id: string, division: string) => call<DivisionMarks>('GET', `/manuals/${id}/divisions/${division}/marks`),
  sheet: (id: string, sheet: number) => call<{ folio: string; reason: string }>('GET', `/manuals/${id}/sheets/${sheet}`),
  /** What fits words; first of all what a reference points at already. */
  targets: (id: string, words: string, pointed = '') =>
    call<TargetChoice[]>('GET', `/manuals/${id}/targets?words=${seg(words)}&pointed=${seg(pointed)}`),
  /** Keeps a picture file with the manual; the same picture twice is one. */
  bringPicture: (id: string, writer: string, file: File) =>
    call<BroughtPicture>('POST', `/manuals/${id}/pictures?name=${seg(file.name)}&writer=${seg(writer)}`, undefined, file),
  keptOnce: (id: string) => call<KeptOnceView>('GET', `/manuals/${id}/kept-once`),
  reuse: (id: string, writer: string, order: ReuseOrder) =>
    call<Reworked>('POST', `/manuals/${id}/kept-once`, { id: newId(), writer, ...order }),
  find: (id: string, looking: Looking) => call<FoundAll>('POST', `/manuals/${id}/find`, looking),
  findInAll: (looking: Looking) => call<FoundInAll>('POST', '/find', looking),
  replace: (id: string, order: ReplaceOrder) => call<Reworked>('POST', `/manuals/${id}/replace`, order),
  equation: (source: string, display: boolean) => call<DrawnEquation>('GET', `/equation?source=${seg(source)}&display=${display}`),
  /** The latest that was done in a scope; only before an act, where one is named. */
  history: (id: string, scope: HistoryScope, before?: number) =>
    call<HistoryEntry[]>(
      'GET',
      `/manuals/${id}/history?${new URLSearchParams({ ...scope, ...(before ? { before: String(before) } : {}) })}`,
    ),
  restore: (id: string, writer: string, before: number, scope: HistoryScope) =>
    call<Reworked>('POST', `/manuals/${id}/history`, { id: newId(), writer, before, ...scope }),
  pictures: (id: string) => call<UsedPicture[]>('GET', `/manuals/${id}/pictures`),
  pointing: (id: string, target: string) => call<UsePlace[]>('GET', `/manuals/${id}/pointing?target=${seg(target)}`),
  notes: (id: string) => call<StandingNote[]>('GET', `/manuals/${id}/notes`),
  headings: (id: string, words: string) => call<HeadingChoice[]>('GET', `/manuals/${id}/headings?words=${seg(words)}`),
  ready: () => call<void>('GET', '/ready'),
  produce: (id: string) => call<Output>('POST', `/manuals/${id}/outputs`),
  outputs: (id: string) => call<Output[]>('GET', `/manuals/${id}/outputs`),
  cancelOutput: (id: string, output: string) => call<void>('POST', `/manuals/${id}/outputs/${output}/cancel`),
};

export const newId = () => crypto.randomUUID().replaceAll('-', '');
