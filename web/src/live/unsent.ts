// What is typed and not yet answered, in the browser's own database: one record for each tab and division, so that no tab
// touches another's. Records of tabs that are gone are what an earlier visit left over.
import { createStore, del, entries, get, set, type UseStore } from 'idb-keyval';
import type { Batch, BlockChange } from '../shared/api';
import { lives, writer } from './tab';

/** A change that is not under way yet, with the text it was made on (null for a new block). */
export interface DraftChange {
  change: BlockChange;
  base: string | null;
}

export interface Unsent {
  tab: string;
  manual: string;
  division: string;
  /** Only some blocks of the division were open: those after this one, "" for its beginning. Null for all. */
  part: string | null;
  inflight: Batch | null;
  /** The texts on which the blocks under way were made. */
  bases: Record<string, string | null>;
  draft: DraftChange[];
  joined: Record<string, string>;
  /** A title that is not stored yet. */
  title: string | null;
  /** When it was written. */
  at: number;
}

let opened: UseStore | null = null;
const store = () => (opened ??= createStore('kivren', 'unsent'));

const keyOf = (u: Pick<Unsent, 'manual' | 'division' | 'part' | 'tab'>) =>
  [u.manual, u.division, u.part === null ? 'all' : 'after ' + u.part, u.tab].join(' ');

const lastKey = (u: Parameters<typeof keyOf>[0]) => 'kivren.last ' + keyOf(u);

/** Writes what is not stored before the page is gone, when the database can no longer be waited for. */
export function keepAtOnce(unsent: Unsent): void {
  try {
    localStorage.setItem(lastKey(unsent), JSON.stringify(unsent));
  } catch {
    // The store is full: what the database took until now is what there is.
  }
}

/** Words that a page wrote as it went come into the database with the others. */
async function takeLast(): Promise<void> {
  for (const key of Object.keys(localStorage).filter((k) => k.startsWith('kivren.last '))) {
    try {
      const unsent = JSON.parse(localStorage.getItem(key)!) as Unsent;
      const known = await get<Unsent>(keyOf(unsent), store());
      if (!known || known.at <= unsent.at) await set(keyOf(unsent), unsent, store());
    } catch {
      // It cannot be read: it is no record of ours.
    }
    localStorage.removeItem(key);
  }
}

export async function keepUnsent(unsent: Unsent): Promise<void> {
  await set(keyOf(unsent), unsent, store());
  // The page may have written later words as it went, while these were on their way.
  const last = localStorage.getItem(lastKey(unsent));
  if (last !== null && (JSON.parse(last) as Unsent).at <= unsent.at) localStorage.removeItem(lastKey(unsent));
}

export async function dropUnsent(unsent: Pick<Unsent, 'manual' | 'division' | 'part' | 'tab'>): Promise<void> {
  localStorage.removeItem(lastKey(unsent));
  await del(keyOf(unsent), store());
}

/** What this tab (before it was loaded anew) and tabs that are gone left over in a division. */
export async function leftOver(manual: string, division: string, part: string | null = null): Promise<Unsent[]> {
  await takeLast();
  const all = (await entries<string, Unsent>(store())).map(([, unsent]) => unsent);
  const own = all.filter((u) => u.manual === manual && u.division === division && u.part === part);
  const found: Unsent[] = [];
  for (const unsent of own) if (unsent.tab === writer || !(await lives(unsent.tab))) found.push(unsent);
  return found;
}

/** Divisions of a manual in which words are left over from tabs that are gone. */
export async function divisionsLeftOver(manual: string): Promise<string[]> {
  await takeLast();
  const all = (await entries<string, Unsent>(store())).map(([, unsent]) => unsent).filter((u) => u.manual === manual);
  const found = new Set<string>();
  for (const unsent of all) if (!(await lives(unsent.tab))) found.add(unsent.division);
  return [...found];
}
