// In a long division the browser lays out only the blocks in sight, those around the caret and those that ask something
// of the writer. The rest take no part in layout, and the gaps they leave are as tall as they are, so that a keystroke
// costs the same at any length. Shown and hidden by rules of style that count children: neither the document nor its
// decorations say anything of it.
import type { Node } from 'prosemirror-model';
import { Plugin, type EditorState } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import { seenByKey } from './applies';
import { roomKey } from './room';
import { between, joined, long, stretchesKey, type Stretch } from './stretches';

/** How much is laid out over and under what is in sight, in heights of the window. */
const beyond = 2;
/** Blocks laid out before and behind the caret, wherever it is. */
const around = 12;

let editors = 0;

class InSight {
  private readonly style = new CSSStyleSheet();
  private readonly name = `sight-${editors++}`;
  private readonly scroller: HTMLElement | null;
  private readonly resized: ResizeObserver;
  /** Heights in pixels as they were laid out last; a block that changed is another node. */
  private heights = new WeakMap<Node, number>();
  private shown: Stretch[] = [];
  private children = 0;
  private width = 0;
  private telling = false;
  private gone = false;

  constructor(private readonly view: EditorView) {
    document.adoptedStyleSheets.push(this.style);
    view.dom.parentElement?.setAttribute('data-sight', this.name);
    this.scroller = view.dom.closest<HTMLElement>('.scroll');
    this.scroller?.addEventListener('scroll', this.scrolled, { passive: true });
    this.resized = new ResizeObserver(() => {
      if (view.dom.clientWidth === this.width) return;
      this.width = view.dom.clientWidth;
      this.heights = new WeakMap();
      this.show();
    });
    if (this.scroller) this.resized.observe(this.scroller);
    // Nothing can be told to an editor that is still being made.
    queueMicrotask(() => this.show());
  }

  update(view: EditorView, before: EditorState) {
    if (seenByKey.getState(view.state)?.seenBy !== seenByKey.getState(before)?.seenBy) this.heights = new WeakMap();
    else if (
      view.state.doc.childCount === before.doc.childCount &&
      view.dom.childElementCount === this.children &&
      roomKey.getState(view.state) === roomKey.getState(before) &&
      this.holdsCaret()
    )
      return;
    this.show();
  }

  destroy() {
    this.gone = true;
    this.scroller?.removeEventListener('scroll', this.scrolled);
    this.resized.disconnect();
    document.adoptedStyleSheets = document.adoptedStyleSheets.filter((s) => s !== this.style);
  }

  private readonly scrolled = () => {
    if (this.shown.length === 0) return;
    const { top, bottom } = this.window();
    const [first, last] = between(top, bottom, this.view.state.doc.childCount, this.heightOf);
    // Within a stretch by half of what is laid out beyond the window, nothing is done.
    const height = bottom - top;
    const [wideFirst, wideLast] = between(
      top - (height * beyond) / 2,
      bottom + (height * beyond) / 2,
      this.view.state.doc.childCount,
      this.heightOf,
    );
    if (!this.shown.some(([a, b]) => a <= Math.min(first, wideFirst) && b >= Math.max(last, wideLast))) this.show();
  };

  /** What of the text the window shows, in pixels from the text's beginning. */
  private window() {
    const box = this.scroller!.getBoundingClientRect();
    const from = box.top - this.view.dom.getBoundingClientRect().top;
    return { top: from, bottom: from + box.height };
  }

  /** Whether the caret, and what a key may bring it to, is laid out. */
  private holdsCaret(): boolean {
    if (this.shown.length === 0) return this.view.state.doc.childCount <= long;
    const { $head, $anchor } = this.view.state.selection;
    const count = this.view.state.doc.childCount;
    const holds = (index: number, by: number) =>
      this.shown.some(([a, b]) => a <= Math.max(0, index - by) && b >= Math.min(count, index + 1 + by));
    return holds($head.index(0), 3) && holds($anchor.index(0), 0);
  }

  private readonly heightOf = (index: number): number => {
    const node = this.view.state.doc.child(index);
    return this.heights.get(node) ?? guess(node);
  };

  private measure() {
    const { doc } = this.view.state;
    for (const [from, to] of this.shown) {
      let pos = 0;
      for (let n = 0; n < from && n < doc.childCount; n++) pos += doc.child(n).nodeSize;
      let above: { node: Node; top: number } | null = null;
      for (let n = from; n < to && n < doc.childCount; n++) {
        const node = doc.child(n);
        const dom = this.view.nodeDOM(pos);
        pos += node.nodeSize;
        if (!(dom instanceof HTMLElement) || dom.getClientRects().length === 0) {
          above = null;
          continue;
        }
        const { top } = dom.getBoundingClientRect();
        if (above && top >= above.top) this.heights.set(above.node, top - above.top);
        above = { node, top };
      }
    }
  }

  private show() {
    if (this.gone) return;
    const { doc, selection } = this.view.state;
    this.children = this.view.dom.childElementCount;
    if (!this.scroller || doc.childCount <= long) {
      if (this.shown.length === 0) return;
      this.shown = [];
      this.style.replaceSync('');
      this.tell(null);
      return;
    }
    if (!this.telling) this.measure();
    const { top, bottom } = this.window();
    const height = Math.max(600, bottom - top);
    const near = (index: number, by: number): Stretch => [index - by, index + by + 1];
    const asking = (roomKey.getState(this.view.state)?.find() ?? []).map((d) => near(doc.resolve(d.from).index(0), 1));
    this.shown = joined(
      [
        between(top - height * beyond, bottom + height * beyond, doc.childCount, this.heightOf),
        near(selection.$head.index(0), around),
        near(selection.$anchor.index(0), 1),
        ...asking,
      ],
      doc.childCount,
    );
    this.style.replaceSync(this.rules());
    this.tell(this.shown);
  }

  /** What is drawn beside and under the words is drawn where they are laid out. */
  private tell(stretches: Stretch[] | null) {
    if (this.telling || String(stretches) === String(stretchesKey.getState(this.view.state))) return;
    this.telling = true;
    this.view.dispatch(this.view.state.tr.setMeta(stretchesKey, { stretches }).setMeta('addToHistory', false));
    this.telling = false;
  }

  /** One rule for each stretch that is not shown, and one for the gap it leaves. */
  private rules(): string {
    const { doc } = this.view.state;
    const children = [...this.view.dom.children];
    /** Which child of the editor a block is, from one. */
    const childOf = (index: number): number => {
      let pos = 0;
      for (let n = 0; n < index; n++) pos += doc.child(n).nodeSize;
      return children.indexOf(this.view.nodeDOM(pos) as Element) + 1;
    };
    const each = (which: string, does: string) => `[data-sight="${this.name}"] > .manuscript > ${which} { ${does} }`;
    const rules: string[] = [];
    const gap = (from: number, to: number, side: 'start' | 'end', beside: number) => {
      let height = 0;
      for (let n = from; n < to; n++) height += this.heightOf(n);
      rules.push(each(`:nth-child(${beside})`, `margin-block-${side}: ${Math.round(height)}px !important`));
    };
    let before = 0;
    let last = 0;
    for (const [from, to] of this.shown) {
      const child = childOf(from);
      if (from > before) {
        rules.push(each(`:nth-child(n + ${last + 1}):nth-child(-n + ${child - 1})`, 'display: none !important'));
        gap(before, from, 'start', child);
      }
      before = to;
      last = childOf(to - 1);
    }
    if (before < doc.childCount) {
      rules.push(each(`:nth-child(n + ${last + 1})`, 'display: none !important'));
      gap(before, doc.childCount, 'end', last);
    }
    return rules.join('\n');
  }
}

/** How tall a block may be that was never laid out, in pixels: by its words at some 65 to the line. */
function guess(node: Node): number {
  const lines = (inner: Node): number => {
    if (inner.inlineContent) return Math.max(1, Math.ceil(inner.content.size / 65));
    let sum = inner.type.name === 'figure' ? 9 : 0;
    inner.forEach((child) => (sum += lines(child)));
    return sum;
  };
  return 9 + lines(node) * 25.5;
}

export const inSight = new Plugin<Stretch[] | null>({
  key: stretchesKey,
  state: {
    init: () => null,
    apply: (tr, now) => {
      const told = tr.getMeta(stretchesKey) as { stretches: Stretch[] | null } | undefined;
      return told ? told.stretches : now;
    },
  },
  view: (view) => new InSight(view),
});
