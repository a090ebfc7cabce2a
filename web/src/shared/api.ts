// The server's API as the interface uses it. Every failure becomes a Problem with words for a person.

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
}
export interface DeskManual {
  id: string;
  title: string;
  look: string;
  divisions: DeskDivision[];
  assets: string[];
  variables: string[];
}
export interface BlockChange {
  id: string;
  division: string;
  basedOn: number;
  body: string | null;
  after: string | null;
  deleted: boolean;
}
export interface DivisionChange {
  id: string;
  basedOn: number;
  kind: string | null;
  title: string | null;
  shortTitle: string | null;
  after: string | null;
  deleted: boolean;
}
export interface Batch {
  id: string;
  writer: string;
  label: string;
  blocks: BlockChange[];
  divisions: DivisionChange[] | null;
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
  accepted: { id: string; version: number; merged: string | null }[];
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
  divisions: ProofDivision[];
  looseEnds: LooseEnd[];
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
  kind: string;
  name: string;
  number: string;
  title: string;
  folio: string;
  readings: { form: string; label: string; text: string }[];
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
/** The server could not be reached at all. */
export class Offline extends Error {}

async function call<T>(method: string, path: string, body?: unknown, raw?: BodyInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch('/api' + path, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: raw ?? (body === undefined ? null : JSON.stringify(body)),
    });
  } catch {
    throw new Offline('The server cannot be reached.');
  }
  if (response.status >= 502 && response.status <= 504) throw new Offline('The server cannot be reached.');
  const text = await response.text();
  if (!response.ok) {
    let what = `The server answered ${response.status}.`;
    try {
      what = (JSON.parse(text) as { what?: string }).what ?? what;
    } catch {
      // The answer was not ours; its status says enough.
    }
    throw new Problem(what);
  }
  return (text ? JSON.parse(text) : undefined) as T;
}

const seg = encodeURIComponent;

export const api = {
  manuals: () => call<ShelfManual[]>('GET', '/manuals'),
  newManual: (title: string) => call<BroughtIn>('POST', '/manuals', { title }),
  sample: () => call<BroughtIn>('POST', '/manuals/sample'),
  bringIn: (file: File) => call<BroughtIn>('POST', `/manuals/bring-in?name=${seg(file.name)}`, undefined, file),
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
  targets: (id: string, words: string) => call<TargetChoice[]>('GET', `/manuals/${id}/targets?words=${seg(words)}`),
  headings: (id: string, words: string) => call<HeadingChoice[]>('GET', `/manuals/${id}/headings?words=${seg(words)}`),
  produce: (id: string) => call<Output>('POST', `/manuals/${id}/outputs`),
  outputs: (id: string) => call<Output[]>('GET', `/manuals/${id}/outputs`),
  cancelOutput: (id: string, output: string) => call<void>('POST', `/manuals/${id}/outputs/${output}/cancel`),
};

export const newId = () => crypto.randomUUID().replaceAll('-', '');
