// Words for outputs: what they are called, how they stand.
import type { Edition, Output, OutputChoice } from '../shared/api';

export const kinds = [
  { kind: 'printPdf', name: 'print PDF' },
  { kind: 'coverPdf', name: 'cover PDF' },
  { kind: 'screenPdf', name: 'screen PDF' },
  { kind: 'epub', name: 'EPUB' },
  { kind: 'site', name: 'web pages' },
  { kind: 'wordDocument', name: 'word-processing file' },
  { kind: 'docBook', name: 'DocBook' },
  { kind: 'markdown', name: 'Markdown' },
] as const;

export const kindName = (kind: string) => kinds.find((k) => k.kind === kind)?.name ?? kind;

export const splits = [
  { value: 'division', name: 'each division' },
  { value: 'headA', name: 'each A head' },
  { value: 'headB', name: 'each B head' },
  { value: 'nowhere', name: 'one page alone' },
] as const;

export function newOutput(kind: string): OutputChoice {
  return {
    kind,
    multiple: 1,
    marks: true,
    outlineDepth: 6,
    withoutBlanks: false,
    facing: kind === 'printPdf',
    splits: 'division',
    ownStyle: '',
    template: '',
    roleStyles: [],
    profile: '',
    leaf: 100,
    front: '',
    back: '',
    checked: false,
  };
}

/** The whole manual, where no edition is made yet: each way that it can go out. */
export const wholeManual = (): Edition => ({ ...newEdition('Whole manual'), goesOutAs: kinds.map((k) => newOutput(k.kind)) });

/** An edition that takes all, for everyone. */
export const newEdition = (name: string): Edition => ({
  name,
  chosen: {},
  leavesOut: [],
  takes: [],
  variables: {},
  look: null,
  lookFile: null,
  language: null,
  without: [],
  leftOut: 'words',
  goesOutAs: [],
  filesCalled: '',
});

/** What an edition goes out as; one that says nothing is a PDF for screens. */
export const outputsOf = (e: Edition): OutputChoice[] => (e.goesOutAs.length > 0 ? e.goesOutAs : [newOutput('screenPdf')]);

export function size(bytes: number): string {
  return bytes >= 1_000_000 ? `${(bytes / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1000))} kB`;
}

export function when(asked: string, now = new Date()): string {
  const at = new Date(asked);
  const time = at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
  const days = Math.round((new Date(now).setHours(0, 0, 0, 0) - new Date(at).setHours(0, 0, 0, 0)) / 86_400_000);
  return days === 0
    ? `today ${time}`
    : days === 1
      ? `yesterday ${time}`
      : at.toLocaleDateString('en-GB', { day: 'numeric', month: 'long' });
}

export const isBusy = (o: Output) => o.state === 'Waiting' || o.state === 'Running';

/** The newest output of each kind of an edition. */
export function newest(outputs: readonly Output[], edition: string): Output[] {
  const own = outputs.filter((o) => o.edition === edition).sort((a, b) => b.askedAt.localeCompare(a.askedAt));
  return own.filter((o, i) => own.findIndex((p) => p.kind === o.kind) === i);
}
