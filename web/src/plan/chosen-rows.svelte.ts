// Which rows of the plan are chosen: the one that the keys go on from, and all that an act is done to.
import { SvelteSet } from 'svelte/reactivity';
import type { PlanRow } from '../shared/api';
import { endOf, type Shown } from './outline';

export class ChosenRows {
  /** The row that the keys go on from. */
  at = $state('');
  private readonly ids = new SvelteSet<string>();
  private anchor = '';

  constructor(
    private readonly rows: () => PlanRow[],
    private readonly seen: () => Shown[],
  ) {}

  /** The chosen rows with all that stands beneath them. */
  readonly within = $derived.by(() => {
    const rows = this.rows();
    const found = new Set<string>();
    for (const id of this.ids) {
      const index = rows.findIndex((r) => r.id === id);
      if (index >= 0) for (let i = index; i < endOf(rows, index); i++) found.add(rows[i]!.id);
    }
    return found;
  });

  readonly current = $derived.by(() => this.rows().find((r) => r.id === this.at) ?? null);

  has(id: string) {
    return this.ids.has(id);
  }

  /** What an act is done to. */
  get all(): string[] {
    return this.ids.size > 0 ? [...this.ids] : this.at ? [this.at] : [];
  }

  /** @param extend all from the one chosen before; @param toggle this one besides, or no more */
  choose(id: string, extend = false, toggle = false) {
    if (extend && this.anchor) {
      const seen = this.seen();
      const from = seen.findIndex((s) => s.row.id === this.anchor);
      const to = seen.findIndex((s) => s.row.id === id);
      this.ids.clear();
      for (let i = Math.min(from, to); i <= Math.max(from, to); i++)
        if (seen[i] && seen[i]!.row.kind !== 'Text') this.ids.add(seen[i]!.row.id);
    } else if (toggle) {
      if (this.ids.has(id)) this.ids.delete(id);
      else this.ids.add(id);
      this.anchor = id;
    } else {
      this.ids.clear();
      this.ids.add(id);
      this.anchor = id;
    }
    this.at = id;
  }
}
