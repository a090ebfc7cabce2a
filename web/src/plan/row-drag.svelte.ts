// Rows of the plan are dragged: where they would land is asked of the server as the pointer goes, and shown in words.
import { api, type PlanOrder, type PlanRow } from '../shared/api';
import { notices } from '../shared/notices.svelte';
import { endOf } from './outline';

interface Landing {
  order: PlanOrder;
  top: number;
  indent: number;
  words: string;
  refused: boolean;
}

/** The plan that rows are dragged in. */
export interface Dragged {
  manual: string;
  scroller: () => HTMLElement | undefined;
  /** The row at a height within the list. */
  place: (y: number) => { row: PlanRow | null; top: number; height: number };
  rows: () => PlanRow[];
  /** The ids that go when a row is taken hold of. */
  taken: (row: PlanRow) => string[];
  land: (order: PlanOrder, first: string) => void;
}

const indentOf = (row: PlanRow) => 64 + Math.max(0, row.depth) * 18;

export class RowDrag {
  landing = $state.raw<Landing | null>(null);
  private asked = 0;

  constructor(private plan: Dragged) {}

  press(event: PointerEvent, row: PlanRow) {
    if (event.button !== 0 || row.kind === 'Text' || (event.target as HTMLElement).closest('button,input,select')) return;
    const start = { x: event.clientX, y: event.clientY };
    let ids: string[] | null = null;
    const move = (e: PointerEvent) => {
      if (!ids && Math.hypot(e.clientX - start.x, e.clientY - start.y) < 5) return;
      ids ??= this.plan.taken(row);
      this.over(e, ids);
    };
    const end = () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      window.removeEventListener('keydown', cancel, true);
      const land = this.landing;
      this.landing = null;
      this.asked++;
      return land;
    };
    const up = () => {
      const land = end();
      if (!ids || !land) return;
      if (land.refused) notices.tell(land.words);
      else this.plan.land(land.order, ids[0]!);
    };
    const cancel = (e: KeyboardEvent) => {
      if (e.key !== 'Escape') return;
      end();
      e.stopPropagation();
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
    window.addEventListener('keydown', cancel, true);
  }

  private over(e: PointerEvent, ids: string[]) {
    const scroller = this.plan.scroller();
    if (!scroller) return;
    const box = scroller.getBoundingClientRect();
    if (e.clientY < box.top + 20) scroller.scrollTop -= 12;
    if (e.clientY > box.bottom - 20) scroller.scrollTop += 12;
    const y = e.clientY - box.top + scroller.scrollTop;
    const { row, top, height } = this.plan.place(y);
    if (!row || row.kind === 'Text') return;
    const lower = y - top > height / 2;
    const deeper = e.clientX - box.left > indentOf(row) + 60;
    const at = !lower ? 'before' : deeper && row.kind !== 'Part' ? 'within' : 'after';
    const order: PlanOrder = { do: 'move', rows: ids, by: row.id, at };
    if (this.landing && this.landing.order.by === order.by && this.landing.order.at === order.at) return;
    this.landing = {
      order,
      top: top + (lower ? height : 0),
      indent: indentOf(row) + (at === 'within' ? 18 : 0),
      words: '…',
      refused: false,
    };
    void this.foresee(order);
  }

  private async foresee(order: PlanOrder) {
    const own = ++this.asked;
    const rows = this.plan.rows();
    const beneath = order.rows.reduce((sum, id) => {
      const index = rows.findIndex((r) => r.id === id);
      return sum + (index < 0 ? 0 : rows.slice(index + 1, endOf(rows, index)).filter((r) => r.kind !== 'Text').length);
    }, 0);
    const seen = await api.foresee(this.plan.manual, order).catch(() => null);
    if (!seen || own !== this.asked || !this.landing) return;
    const under = beneath > 0 ? `, with ${beneath} ${beneath === 1 ? 'section' : 'sections'} beneath it` : '';
    this.landing = {
      ...this.landing,
      refused: seen.refused !== null,
      words: seen.refused ?? `lands here${seen.number ? ` as ${seen.number}` : ''}${seen.under ? ` under ${seen.under}` : ''}${under}`,
    };
  }
}
