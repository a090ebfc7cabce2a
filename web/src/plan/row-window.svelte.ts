// The rows of the plan that are in sight: only they are drawn, however long the plan is.
import type { Shown } from './outline';

export const rowHeight = 23;
/** Of the text that is read and typed under a row. */
export const textHeight = 300;

/** Rows drawn beyond either edge. */
const beyond = 6;

export class RowWindow {
  scroller = $state<HTMLElement>();
  scrollTop = $state(0);
  height = $state(600);
  /** The row whose text is read and typed under it. */
  unfolded = $state<string | null>(null);

  constructor(private readonly seen: () => Shown[]) {}

  private readonly openAt = $derived.by(() => (this.unfolded === null ? -1 : this.seen().findIndex((s) => s.row.id === this.unfolded)));
  private readonly text = $derived(this.openAt >= 0 ? textHeight : 0);
  readonly total = $derived.by(() => this.seen().length * rowHeight + this.text);
  readonly drawn = $derived.by(() => {
    const first = Math.max(0, Math.floor((this.scrollTop - this.text) / rowHeight) - beyond);
    const count = Math.ceil((this.height + textHeight) / rowHeight) + 2 * beyond;
    return this.seen()
      .slice(first, first + count)
      .map((s, i) => ({ ...s, at: first + i }));
  });

  /** Rows that a window holds. */
  get page() {
    return Math.floor(this.height / rowHeight);
  }

  topOf(i: number) {
    return i * rowHeight + (this.openAt >= 0 && i > this.openAt ? textHeight : 0);
  }

  /** The row at a height within the list. */
  at(y: number) {
    const under = this.openAt >= 0 && y > this.topOf(this.openAt) + rowHeight;
    return Math.max(0, Math.min(this.seen().length - 1, Math.floor((under ? y - textHeight : y) / rowHeight)));
  }

  reveal(i: number) {
    const at = this.scroller;
    if (!at || i < 0) return;
    const top = this.topOf(i);
    if (top < at.scrollTop) at.scrollTop = top;
    else if (top + rowHeight > at.scrollTop + at.clientHeight) at.scrollTop = top + rowHeight - at.clientHeight;
  }

  focus() {
    this.scroller?.focus();
  }
}
