// What is done to rows of the plan.
import type { OpenedManual } from '../live/opened-manual.svelte';
import { writer } from '../live/tab';
import { api, type PlanOrder, type PlanRow, type Reworked } from '../shared/api';
import { notices } from '../shared/notices.svelte';
import type { ChosenRows } from './chosen-rows.svelte';
import { siblingOf } from './outline';

export class PlanActs {
  /** Rows that are carried elsewhere by keys: they stand where they are until they are put down. */
  carried = $state.raw<string[]>([]);

  constructor(
    private readonly opened: OpenedManual,
    private readonly chosen: ChosenRows,
    private readonly rows: () => PlanRow[],
    /** Done or not: the row that the keys go on from is to be seen. */
    private readonly after: () => void,
  ) {}

  /** @param stay the row that is chosen afterwards */
  readonly act = (order: PlanOrder, stay?: string) => this.done(() => api.planAct(this.opened.id, writer, order), stay);

  readonly done = async (order: () => Promise<Reworked>, stay?: string) => {
    const isDone = await this.opened.act(order);
    if (isDone) await this.opened.reread();
    if (isDone && stay) this.chosen.choose(stay);
    this.after();
    return isDone;
  };

  moveAmong(step: 1 | -1) {
    const rows = this.rows();
    const picked = this.chosen.all.map((id) => rows.findIndex((r) => r.id === id)).toSorted((a, b) => a - b);
    const edge = step < 0 ? picked[0] : picked.at(-1);
    if (edge === undefined || edge < 0) return;
    const by = siblingOf(rows, edge, step);
    if (by < 0) return notices.tell(step < 0 ? 'It is the first among its like already.' : 'It is the last among its like already.');
    void this.act({ do: 'move', rows: this.chosen.all, by: rows[by]!.id, at: step < 0 ? 'before' : 'after' });
  }

  carry() {
    this.carried = this.chosen.all;
    const what = this.carried.length === 1 ? 'It is' : `${this.carried.length} rows are`;
    notices.tell(`${what} carried: Ctrl V puts down behind a row, or into a part; Ctrl Shift V before it; Esc lets go.`);
  }

  putDown(before: boolean) {
    const by = this.chosen.current;
    if (this.carried.length === 0 || !by) return;
    const rows = this.carried;
    this.carried = [];
    void this.act({ do: 'move', rows, by: by.id, at: before ? 'before' : by.kind === 'Part' ? 'within' : 'after' }, rows[0]);
  }
}
