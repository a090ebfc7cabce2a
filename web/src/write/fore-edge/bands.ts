import type { ProofDivision } from '../../shared/api';

/** Rows of heads in the open band, and the least a band needs for its title; pixels. */
export const headRow = 24;
export const least = 24;

/** How tall each division's band is: as thick as its pages within the room there is, the open one with room for its heads. */
export function bandHeights(divisions: Pick<ProofDivision, 'id' | 'pages'>[], open: string | null, room: number, heads: number): number[] {
  const pages = divisions.reduce((sum, d) => sum + d.pages, 0);
  const floors = divisions.map((d) => (d.id === open ? least + 6 + heads * headRow : least));
  const spare = Math.max(0, room - floors.reduce((a, b) => a + b, 0) - divisions.length * 2);
  return divisions.map((d, i) => Math.round(floors[i]! + (pages === 0 ? 0 : (spare * d.pages) / pages)));
}
