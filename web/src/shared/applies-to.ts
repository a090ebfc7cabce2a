// What applies to some readers only, as it is told and as it is judged.
import type { AppliesTo } from './api';

/** Whether a reader who chose these values is shown what applies so. */
export function admits(applies: AppliesTo | null, chosen: AppliesTo): boolean {
  return Object.entries(applies ?? {}).every(([axis, values]) => !chosen[axis] || values.some((v) => chosen[axis]!.includes(v)));
}

/** “model 6 or 6E; medium print”, “for all readers” when it is empty. */
export const inWords = (applies: AppliesTo | null): string =>
  Object.entries(applies ?? {})
    .map(([axis, values]) => `${axis} ${values.join(' or ')}`)
    .join('; ') || 'all readers';
