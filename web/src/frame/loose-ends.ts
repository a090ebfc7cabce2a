// Loose ends in the order of a list, and what one key does about each.
import { allowBreak, setting, type BlockMend } from './block-mends';
import type { IndexOrder, LooseEnd, PlanOrder, ReferenceOrder } from '../shared/api';

export interface KindOfLooseEnd {
  kind: string;
  group: string;
  gravity: string;
  name: string;
  why: string;
}

/** A reference that another manual no longer bears out is found in the browser, not in the composition. */
const grownOld: KindOfLooseEnd = {
  kind: 'ReferenceGrownOld',
  group: 'References',
  gravity: 'Wrong',
  name: 'Reference grown old',
  why: 'The page says what another manual no longer says.',
};

export const gravities = ['Wrong', 'Unsightly', 'Doubtful'] as const;

export const gravityWords: Record<string, string> = {
  Wrong: 'prints wrong',
  Unsightly: 'looks wrong',
  Doubtful: 'to be looked at',
};

/** Told apart by shape. */
export const gravitySigns: Record<string, string> = { Wrong: '●', Unsightly: '◐', Doubtful: '○' };

export function kindOf(kinds: readonly KindOfLooseEnd[], looseEnd: LooseEnd): KindOfLooseEnd {
  return (
    kinds.find((k) => k.kind === looseEnd.kind) ??
    (looseEnd.kind === grownOld.kind ? grownOld : { kind: looseEnd.kind, group: 'Pages', gravity: 'Wrong', name: looseEnd.kind, why: '' })
  );
}

export type OrderedBy = 'gravity' | 'kind' | 'division';

/** In the order asked for, with a head before each group; within a group as the manual has them. */
export function ordered(
  looseEnds: readonly LooseEnd[],
  kinds: readonly KindOfLooseEnd[],
  by: OrderedBy,
  divisions: readonly { id: string; title: string; number: string }[],
): { head: string; ends: LooseEnd[] }[] {
  const place = new Map(divisions.map((d, i) => [d.id, i]));
  const groups = new Map<string, { rank: number; head: string; ends: LooseEnd[] }>();
  for (const end of looseEnds) {
    const kind = kindOf(kinds, end);
    const division = divisions[place.get(end.division) ?? -1];
    const gravity = gravities.indexOf(kind.gravity as (typeof gravities)[number]);
    const [rank, head] =
      by === 'gravity'
        ? [gravity, gravityWords[kind.gravity] ?? '']
        : by === 'kind'
          ? [gravity * 1000 + kinds.findIndex((k) => k.kind === kind.kind), kind.name]
          : [place.get(end.division) ?? divisions.length, division ? `${division.number} ${division.title}`.trim() : 'Elsewhere'];
    const group = groups.get(head) ?? { rank, head, ends: [] };
    group.ends.push(end);
    groups.set(head, group);
  }
  return [...groups.values()].toSorted((a, b) => a.rank - b.rank);
}

export type Mend =
  | { words: string; index: IndexOrder }
  | { words: string; plan: PlanOrder }
  | { words: string; references: ReferenceOrder }
  | { words: string; take: string[] }
  | { words: string; view: 'references' | 'index' | 'contents'; at: string }
  | { words: string; block: BlockMend }
  | { words: string; ask: string };

/** What one key does about a loose end; null where only the writer can. */
export function mendOf(end: LooseEnd): Mend | null {
  const heading = end.words.split(' › ');
  const subject = end.subject ?? '';
  switch (end.kind) {
    case 'RangeUnclosed':
    case 'RangeBackwards':
      return { words: 'Close it at the end of its section', index: { do: 'toSectionEnd', entries: [subject] } };
    case 'RangeUnopened':
      return { words: 'Take the end out', index: { do: 'takeOutEntries', entries: [subject] } };
    case 'HeadingNearlyAlike':
      return end.instead
        ? {
            words: `Merge into “${end.instead}”`,
            index: { do: 'move', heading: heading.slice(0, 1), to: [end.instead] },
          }
        : null;
    case 'SeeToSee':
      return end.instead
        ? { words: `See “${end.instead}” at once`, index: { do: 'seeInstead', entries: [subject], text: end.instead } }
        : null;
    case 'SeeCircular':
    case 'SeeToNothing':
      return { words: 'Take the “see” out', index: { do: 'seeInstead', entries: [subject], text: '' } };
    case 'HeadingCrowded':
      return { words: 'Show its locators', view: 'index', at: end.words };
    case 'ReferenceToNothing':
    case 'ReferenceAmbiguous':
      return { words: 'Point at …', view: 'references', at: subject };
    case 'ReferenceGrownOld':
      return end.reference ? { words: 'Take what it says now', take: [end.reference] } : null;
    case 'LooksLikeHead':
      return { words: 'Make it a head', plan: { do: 'makeHead', rows: [end.block], at: 'A' } };
    case 'HeadNotListed':
    case 'ListUnknown':
    case 'ListTooLong':
      return { words: 'Show the lists', view: 'contents', at: '' };
    case 'TableTooWide':
      return end.instead ? { words: 'Turn it to landscape', block: setting('table', { mayTurn: true }) } : null;
    case 'OverfullLine':
      return end.instead ? { words: 'Allow the break', block: allowBreak } : null;
    case 'NoAlternativeText':
      return { words: 'Say what it shows …', ask: 'What the picture shows, in words' };
    default:
      return null;
  }
}
