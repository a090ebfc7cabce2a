// The server's API as the interface uses it. Its types are made from the server's own document (npm run api).
import type { components } from './api-schema';
import { asIs, client, value } from './calls';

export { address, Offline, Problem, siteToken } from './calls';

type Schemas = components['schemas'];

/** Values by the name of their axis; of each axis named one value must be chosen. Empty: for all readers. */
export type AppliesTo = Record<string, string[]>;

export type Answer = Schemas['Answer'];
export type Batch = Schemas['Batch'];
export type BlockChange = Schemas['BlockChange'];
export type BringInBlock = Schemas['ViewedBlock'];
export type BringInView = Schemas['BringInView'];
export type BroughtIn = Schemas['BroughtIn'];
export type BroughtPicture = Schemas['BroughtPicture'];
export type CleaningLine = Schemas['ViewedCleaning'];
export type DeskBlock = Schemas['DeskBlock'];
export type DeskDivision = Schemas['DeskDivision'];
export type DeskManual = Schemas['DeskManual'];
export type DivisionMarks = Schemas['DivisionMarks'];
export type DrawnEquation = Schemas['DrawnEquation'];
export type Effect = Schemas['Effect'];
export type Foreseen = Schemas['Foreseen'];
export type FoundAll = Schemas['FoundAll'];
export type FoundInAll = Schemas['FoundInAll'];
export type FoundPlace = Schemas['FoundWords'];
export type HeadingChoice = Schemas['HeadingChoice'];
export type HistoryEntry = Schemas['HistoryEntry'];
export type IndexForeseen = Schemas['IndexForeseen'];
export type IndexRow = Schemas['IndexRow'];
export type IndexView = Schemas['IndexView'];
export type KeptCondition = Schemas['KeptCondition'];
export type KeptOnceView = Schemas['KeptOnce'];
export type KeptPassage = Schemas['KeptPassage'];
export type KeptSource = Schemas['ShelfSource'];
export type KeptVariable = Schemas['KeptVariable'];
export type LikelyTarget = Schemas['LikelyTarget'];
export type ListableKind = Schemas['ListableKind'];
export type ListedList = Schemas['ListedList'];
export type ListLooked = Schemas['ListLooked'];
export type ListsView = Schemas['ListsView'];
export type LocatorWhy = Schemas['LocatorWhy'];
export type Looking = Schemas['Looking'];
export type LooseEnd = Schemas['ProofLooseEnd'] & {
  /** The reference into another manual that says otherwise now; taken from there by its id. */
  reference?: string;
};
export type Mapping = Schemas['ShelfMapping'];
export type MappingLine = Schemas['ViewedLine'];
export type Edition = Schemas['SaidEdition'];
export type EditionOrder = { do: 'put' | 'takeOut'; name?: string | null; edition?: Edition; was?: Edition };
export type EditionsView = Schemas['EditionsView'];
export type OutlineRow = Schemas['OutlineRow'];
export type Output = Schemas['OutputView'];
export type OutputChoice = Schemas['SaidOutput'];
export type ComparedEditions = Schemas['ComparedEditions'];
export type TemplateView = Schemas['TemplateView'];
export type OutputReport = Schemas['ReportView'];
export type SeenEdition = Schemas['SeenEdition'];
export type OwnRole = Schemas['DeskRole'];
export type PageTurn = Schemas['PageTurn'];
export type Pattern = Schemas['ShelfPattern'];
export type PlanRow = Schemas['PlanRow'];
export type PlanView = Schemas['PlanView'];
/** A place in another manual as a reference keeps it. */
export type LookView = Schemas['LookView'];
export type LookGiven = Schemas['LookGiven'];
export type ShelfLook = Schemas['ShelfLook'];
export type EarlierLook = Schemas['EarlierLook'];
export type ShelfLookOrder = Schemas['ShelfLookOrder'];
export type SeenPage = Schemas['SeenPage'];
export type SettingForm = Schemas['SettingForm'];
export type TrialOrder = Schemas['TrialOrder'];
export type TriedLook = Schemas['TriedLook'];
export type PlaceThere = Schemas['PlaceThere'];
export type PointedTarget = Schemas['PointedTarget'];
export type PutOn = Schemas['PutOn'];
export type ProofDivision = Schemas['ProofDivision'];
export type ProofHead = Schemas['ProofHead'];
export type ProofPage = Schemas['ProofPage'];
export type ProposedForIndex = Schemas['ProposedForIndex'];
export type ReferenceRow = Schemas['ReferenceRow'];
export type ReferencesView = Schemas['ReferencesView'];
export type Refused = Schemas['Refused'];
export type ReplaceOrder = Schemas['ReplaceOrder'];
export type ReportGroup = Schemas['ViewedReport'];
export type Reworked = Schemas['Reworked'];
export type ShelfKept = Schemas['ShelfKept'];
export type ShelfManual = Schemas['ShelfManual'];
export type SourceDifference = Schemas['ViewedDifference'];
export type StandingNote = Schemas['StandingNote'];
export type SweptAll = Schemas['SweptAll'];
export type SweptForm = Schemas['SweptForm'];
export type SweptOrder = Schemas['SweptOrder'];
export type SweptWords = Schemas['SweptWords'];
export type TakenBack = Schemas['TakenBack'];
export type TargetChoice = Schemas['TargetChoice'];
export type UsedPicture = Schemas['UsedPicture'];
export type UsePlace = Schemas['UsePlace'];
export type ProofMessage = Schemas['ProofMessage'];

/** An act on the plan; of what it does not speak it needs nothing. */
export type PlanOrder = Pick<Schemas['PlanOrder'], 'do' | 'rows'> & { by?: string; at?: string; text?: string };

/** An act on what is kept once, with what each needs. */
export type ReuseOrder =
  | { do: 'setVariable' | 'renameVariable' | 'replacePicture'; name: string; to: string }
  | { do: 'takeOutVariable' | 'takeOutCondition' | 'acceptWord' | 'refuseWord'; name: string }
  | { do: 'setCondition'; name: string; values: string[] }
  | { do: 'renameCondition'; name: string; value: string | null; to: string }
  | { do: 'apply'; rows: string[]; appliesTo: AppliesTo }
  | { do: 'addPassage'; name: string; rows: string[] }
  | { do: 'renamePassage'; rows: [string]; to: string }
  | { do: 'takeOutPassage' | 'makePlain'; rows: [string] };

/** An act on the index: headings by their texts from the top. */
export type IndexOrder =
  | { do: 'move' | 'turnIntoSee' | 'seeAlso'; heading: string[]; to: string[] }
  | { do: 'moveEntries'; entries: string[]; to: string[] }
  | { do: 'fileUnder'; heading: string[]; text: string }
  | { do: 'takeOut'; heading: string[] }
  | { do: 'takeOutEntries' | 'principal' | 'plain' | 'toSectionEnd'; entries: string[] }
  | { do: 'seeInstead'; entries: string[]; text: string }
  | { do: 'sweep'; heading: string[]; text: string; forms: string[]; places: SweptOrder[] };

/** An act on references or anchors, by their ids. */
export type ReferenceOrder =
  | { do: 'pointAt' | 'form' | 'addAnchor' | 'renameAnchor'; references: string[]; to: string }
  | { do: 'makePlain' | 'takeOut' | 'takeOutAnchors'; references: string[] };

/** An act on contents lists, the dress of the index, or loose ends that are let be. */
export type ListOrder =
  | { do: 'keep'; definition: string; name?: string }
  | { do: 'takeOut'; name: string }
  | { do: 'dressIndex'; definition: string | null }
  | { do: 'openChapters' | 'leadTerms'; name: string | null }
  | { do: 'letBe'; ends: Schemas['LetBeOrder'][] };

export type BringInChoices = Partial<Schemas['Choices']>;

/** A block, a division; neither: the manual. */
export interface HistoryScope {
  division?: string;
  block?: string;
}

export const newId = () => crypto.randomUUID().replaceAll('-', '');

const of = (id: string) => ({ params: { path: { id } } });
const nowhere = { by: null, at: null, text: null };
const noIndex = { heading: null, to: null, entries: null, text: null, forms: null, places: null };
const noList = { name: null, definition: null, ends: null };
const nothingElse = { name: null, to: null, values: null, value: null, rows: null, appliesTo: null };

export const api = {
  // ---- the shelf ----
  manuals: () => value(client.GET('/api/manuals')),
  newManual: (title: string, pattern: string | null = null, variables: Record<string, string> = {}) =>
    value(client.POST('/api/manuals', { body: { title, pattern, variables } })),
  sample: () => value(client.POST('/api/manuals/sample')),
  openPackage: (file: File) => value(client.POST('/api/manuals/package', asIs(file))),
  deleteManual: (id: string) => value(client.DELETE('/api/manuals/{id}', of(id))),
  restoreManual: (id: string) => value(client.POST('/api/manuals/{id}/restore', of(id))),
  patterns: () => value(client.GET('/api/patterns')),
  keepPattern: (id: string, name: string, fixed: boolean) =>
    value(client.POST('/api/manuals/{id}/keep-pattern', { ...of(id), body: { name, fixed } })),
  deletePattern: (name: string) => value(client.DELETE('/api/patterns/{name}', { params: { path: { name } } })),
  looks: () => value(client.GET('/api/looks')),
  lookAct: (order: Partial<ShelfLookOrder> & { do: string }) =>
    value(client.POST('/api/looks', { body: { name: null, to: null, file: null, manual: null, version: null, ...order } })),
  earlierLooks: (name: string) => value(client.GET('/api/looks/earlier', { params: { query: { name } } })),
  /** A font file of the house, judged and kept. */
  fontFile: (file: File) => value(client.POST('/api/looks/font', { params: { query: { file: file.name } }, ...asIs(file) })),
  /** A look made of a word-processor document, kept on the shelf. */
  lookOfDocument: (file: File) => value(client.POST('/api/looks/document', { params: { query: { file: file.name } }, ...asIs(file) })),
  /** What a look comes to in several manuals; the shelf's of this name when no file is given. */
  foreseeLook: (writer: string, name: string, file: string | null, manuals: string[]) =>
    value(client.POST('/api/looks/foresee', { body: { writer, name, file, manuals } })),
  giveLook: (writer: string, name: string, file: string | null, manuals: string[]) =>
    value(client.POST('/api/looks/give', { body: { writer, name, file, manuals } })),
  findInAll: (looking: Looking) => value(client.POST('/api/find', { body: looking })),
  ready: () => value(client.GET('/api/ready')),

  // ---- bringing in ----
  startBringIn: (files: File[], into: { manual?: string; after?: string; newer?: string } = {}) => {
    const form = new FormData();
    for (const file of files) form.append('files', file, file.webkitRelativePath || file.name);
    return value(client.POST('/api/bring-in', { params: { query: into }, ...asIs(form) }));
  },
  bringInView: (id: string) => value(client.GET('/api/bring-in/{id}', of(id))),
  bringInBlocks: (id: string, from: number, count: number) =>
    value(client.GET('/api/bring-in/{id}/blocks', { params: { path: { id }, query: { from, count } } })),
  blocksOfLine: (id: string, key: string) => value(client.GET('/api/bring-in/{id}/of-line', { params: { path: { id }, query: { key } } })),
  choose: (id: string, choices: BringInChoices) =>
    value(client.PUT('/api/bring-in/{id}/choices', { ...of(id), body: choices as Schemas['Choices'] })),
  keepMapping: (id: string, name: string) =>
    value(client.POST('/api/bring-in/{id}/keep-mapping', { params: { path: { id }, query: { name } } })),
  cancelBringIn: (id: string) => value(client.POST('/api/bring-in/{id}/cancel', of(id))),
  take: (id: string, writer: string, differences: string[] | null) =>
    value(client.POST('/api/bring-in/{id}/take', { ...of(id), body: { writer, differences } })),
  sources: (id: string) => value(client.GET('/api/manuals/{id}/sources', of(id))),
  mappings: () => value(client.GET('/api/mappings')),
  addMapping: (file: File) => value(client.POST('/api/mappings', asIs(file))),
  deleteMapping: (name: string) => value(client.DELETE('/api/mappings/{name}', { params: { path: { name } } })),

  // ---- an open manual ----
  open: (id: string) => value(client.GET('/api/manuals/{id}', of(id))),
  division: (id: string, division: string) =>
    value(client.GET('/api/manuals/{id}/divisions/{division}', { params: { path: { id, division } } })),
  send: (id: string, batch: Batch) => value(client.POST('/api/manuals/{id}/batches', { ...of(id), body: batch })),
  takeBack: (id: string, writer: string, again: boolean) =>
    value(client.POST('/api/manuals/{id}/take-back', { params: { path: { id }, query: { writer, again } } })),
  addRole: (id: string, name: string, foundation: string) =>
    value(client.POST('/api/manuals/{id}/roles', { ...of(id), body: { name, foundation } })),
  plan: (id: string, text = false) => value(client.GET('/api/manuals/{id}/plan', { params: { path: { id }, query: { text } } })),
  planAct: (id: string, writer: string, order: PlanOrder, act = newId()) =>
    value(client.POST('/api/manuals/{id}/plan/acts', { ...of(id), body: { id: act, writer, ...nowhere, ...order } })),
  foresee: (id: string, order: PlanOrder) =>
    value(client.POST('/api/manuals/{id}/plan/foresee', { ...of(id), body: { id: newId(), writer: '', ...nowhere, ...order } })),
  /** Keeps a picture file with the manual; the same picture twice is one. */
  bringPicture: (id: string, writer: string, file: File) =>
    value(client.POST('/api/manuals/{id}/pictures', { params: { path: { id }, query: { name: file.name, writer } }, ...asIs(file) })),
  compareEditions: (id: string, first: string, second: string) =>
    value(client.GET('/api/manuals/{id}/editions/compared', { params: { path: { id }, query: { first, second } } })),
  template: (id: string, name: string) => value(client.GET('/api/manuals/{id}/templates/{name}', { params: { path: { id, name } } })),
  giveTemplate: (id: string, file: File, writer: string) =>
    value(client.POST('/api/manuals/{id}/templates', { params: { path: { id }, query: { file: file.name, writer } }, ...asIs(file) })),
  giveProfile: (id: string, file: File, writer: string) =>
    value(client.POST('/api/manuals/{id}/profiles', { params: { path: { id }, query: { file: file.name, writer } }, ...asIs(file) })),
  pictures: (id: string) => value(client.GET('/api/manuals/{id}/pictures', of(id))),
  keptOnce: (id: string) => value(client.GET('/api/manuals/{id}/kept-once', of(id))),
  reuse: (id: string, writer: string, order: ReuseOrder) =>
    value(client.POST('/api/manuals/{id}/kept-once', { ...of(id), body: { id: newId(), writer, ...nothingElse, ...order } })),
  find: (id: string, looking: Looking) => value(client.POST('/api/manuals/{id}/find', { ...of(id), body: looking })),
  replace: (id: string, order: ReplaceOrder) => value(client.POST('/api/manuals/{id}/replace', { ...of(id), body: order })),
  /** The latest that was done in a scope; only before an act, where one is named. */
  history: (id: string, scope: HistoryScope, before?: number) =>
    value(client.GET('/api/manuals/{id}/history', { params: { path: { id }, query: { ...scope, ...(before ? { before } : {}) } } })),
  restore: (id: string, writer: string, before: number, scope: HistoryScope) =>
    value(
      client.POST('/api/manuals/{id}/history', {
        ...of(id),
        body: { id: newId(), writer, before, division: null, block: null, ...scope },
      }),
    ),
  pointing: (id: string, target: string) =>
    value(client.GET('/api/manuals/{id}/pointing', { params: { path: { id }, query: { target } } })),
  /** What the shelf keeps for all its manuals, as this one stands to it. */
  shelfKept: (id: string) => value(client.GET('/api/manuals/{id}/shelf-kept', of(id))),
  shelfKeeps: (id: string, writer: string, act: 'give' | 'take' | 'everywhere' | 'takeOut', kind: string, name: string) =>
    value(client.POST('/api/manuals/{id}/shelf-kept', { ...of(id), body: { id: newId(), writer, do: act, kind, name } })),
  notes: (id: string) => value(client.GET('/api/manuals/{id}/notes', of(id))),
  equation: (source: string, display: boolean) => value(client.GET('/api/equation', { params: { query: { source, display } } })),

  // ---- all that points at its pages ----
  index: (id: string) => value(client.GET('/api/manuals/{id}/index', of(id))),
  whyLocators: (id: string, heading: string[]) => value(client.POST('/api/manuals/{id}/index/why', { ...of(id), body: heading })),
  indexProposals: (id: string) => value(client.GET('/api/manuals/{id}/index/proposals', of(id))),
  sweepForms: (id: string, phrase: string) =>
    value(client.GET('/api/manuals/{id}/index/forms', { params: { path: { id }, query: { phrase } } })),
  sweep: (id: string, phrase: string, forms: string[], heading: string[]) =>
    value(client.POST('/api/manuals/{id}/index/sweep', { ...of(id), body: { phrase, forms, heading } })),
  indexAct: (id: string, writer: string, order: IndexOrder) =>
    value(client.POST('/api/manuals/{id}/index/acts', { ...of(id), body: { id: newId(), writer, ...noIndex, ...order } })),
  foreseeIndex: (id: string, order: IndexOrder) =>
    value(client.POST('/api/manuals/{id}/index/foresee', { ...of(id), body: { id: newId(), writer: 'nobody', ...noIndex, ...order } })),
  references: (id: string) => value(client.GET('/api/manuals/{id}/references', of(id))),
  likelyTargets: (id: string, reference: string) =>
    value(client.GET('/api/manuals/{id}/references/{reference}/likely', { params: { path: { id, reference } } })),
  referenceAct: (id: string, writer: string, order: ReferenceOrder, act = newId()) =>
    value(client.POST('/api/manuals/{id}/references/acts', { ...of(id), body: { id: act, writer, to: null, ...order } })),
  lists: (id: string) => value(client.GET('/api/manuals/{id}/lists', of(id))),
  list: (id: string, name: string) => value(client.GET('/api/manuals/{id}/lists/one', { params: { path: { id }, query: { name } } })),
  listAct: (id: string, writer: string, order: ListOrder) =>
    value(client.POST('/api/manuals/{id}/lists/acts', { ...of(id), body: { id: newId(), writer, ...noList, ...order } })),
  look: (id: string) => value(client.GET('/api/manuals/{id}/look', of(id))),
  putOn: (id: string, writer: string, look: { name: string } | { file: string; from?: string | null }) =>
    value(client.POST('/api/manuals/{id}/look', { ...of(id), body: { id: newId(), writer, name: null, file: null, from: null, ...look } })),
  lookSettings: () => value(client.GET('/api/look/settings')),
  /** The pages in sight in a look that is tried. */
  glimpse: (id: string, order: TrialOrder) => value(client.POST('/api/manuals/{id}/look/glimpse', { ...of(id), body: order })),
  /** The whole manual in it. */
  tried: (id: string, order: TrialOrder) => value(client.POST('/api/manuals/{id}/look/tried', { ...of(id), body: order })),
  looseEndKinds: () => value(client.GET('/api/loose-end-kinds')),

  // ---- its pages ----
  proof: (id: string) => value(client.GET('/api/manuals/{id}/proof', of(id))),
  marks: (id: string, division: string) =>
    value(client.GET('/api/manuals/{id}/divisions/{division}/marks', { params: { path: { id, division } } })),
  sheet: (id: string, sheet: number) => value(client.GET('/api/manuals/{id}/sheets/{sheet}', { params: { path: { id, sheet } } })),
  /** What fits words; first of all what a reference points at already. */
  targets: (id: string, words: string, pointed = '', near = '', recent: string[] = []) =>
    value(client.GET('/api/manuals/{id}/targets', { params: { path: { id }, query: { words, pointed, near, recent: recent.join(',') } } })),
  /** What fits words in another manual of the shelf, read as this one would print it. */
  targetsIn: (id: string, other: string, words: string, pointed = '') =>
    value(client.GET('/api/manuals/{id}/targets/{other}', { params: { path: { id, other }, query: { words, pointed } } })),
  /** References into other manuals that these no longer bear out. */
  grownOld: (id: string) => value(client.GET('/api/manuals/{id}/others', of(id))),
  takeNewer: (id: string, writer: string, references: string[]) =>
    value(client.POST('/api/manuals/{id}/others', { ...of(id), body: { id: newId(), writer, references } })),
  headings: (id: string, words: string) => value(client.GET('/api/manuals/{id}/headings', { params: { path: { id }, query: { words } } })),
  editions: (id: string) => value(client.GET('/api/manuals/{id}/editions', of(id))),
  /** What comes out of an edition; of an empty name, of the whole manual. */
  seenEdition: (id: string, name: string) =>
    value(client.GET('/api/manuals/{id}/editions/seen', { params: { path: { id }, query: { name } } })),
  editionAct: (id: string, writer: string, order: EditionOrder) =>
    value(
      client.POST('/api/manuals/{id}/editions/acts', {
        ...of(id),
        body: { id: newId(), writer, name: null, edition: null, was: null, ...order },
      }),
    ),
  proofIn: (id: string, name: string) => value(client.POST('/api/manuals/{id}/editions/proofed', { ...of(id), body: { name } })),
  /** Asks for outputs: without an edition, of the first in the first way that it goes out; with all, of all in every way. */
  produce: (id: string, asked: { edition?: string; kind?: string; all?: boolean } = {}) =>
    value(client.POST('/api/manuals/{id}/outputs', { ...of(id), body: { edition: null, kind: null, all: false, ...asked } })),
  outputReport: (id: string, output: string) =>
    value(client.GET('/api/manuals/{id}/outputs/{output}/report', { params: { path: { id, output } } })),
  outputs: (id: string) => value(client.GET('/api/manuals/{id}/outputs', of(id))),
  cancelOutput: (id: string, output: string) =>
    value(client.POST('/api/manuals/{id}/outputs/{output}/cancel', { params: { path: { id, output } } })),
};
