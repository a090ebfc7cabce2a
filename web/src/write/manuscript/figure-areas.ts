// Parts of a figure's picture that lead somewhere: numbered boxes on it, moved and sized by the pointer. Their words stand in the
// caption; their places are also set by numbers (settings.ts).
import type { Node } from 'prosemirror-model';
import type { EditorView } from 'prosemirror-view';
import { newId } from '../../shared/api';
import { findBlock } from './blocks';
import { schema } from './schema';

/** Thousandths of the picture's width or height. */
const whole = 1000;
/** So small, in thousandths, an area can become. */
const least = 20;

export interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** The box, moved or sized, within its picture. */
export function within(box: Box): Box {
  const width = Math.round(Math.max(least, Math.min(whole, box.width)));
  const height = Math.round(Math.max(least, Math.min(whole, box.height)));
  return {
    left: Math.round(Math.max(0, Math.min(whole - width, box.left))),
    top: Math.round(Math.max(0, Math.min(whole - height, box.top))),
    width,
    height,
  };
}

const boxOf = ({ attrs }: Node): Box => ({
  left: Number(attrs.left),
  top: Number(attrs.top),
  width: Number(attrs.width),
  height: Number(attrs.height),
});

/** A new area about the middle of a figure's picture, beside those that are there; its id. */
export function putArea(view: EditorView, figure: string): string | null {
  const found = findBlock(figure, view.state.doc);
  if (!found || found.node.type !== schema.nodes.figure) return null;
  let there = 0;
  found.node.forEach((child) => (there += child.type === schema.nodes.figureArea ? 1 : 0));
  const box = within({ left: 350 + there * 60, top: 350 + there * 60, width: 300, height: 300 });
  const area = schema.nodes.figureArea!.create({ id: newId(), ...box });
  view.dispatch(view.state.tr.insert(found.pos + found.node.nodeSize - 1, area));
  return String(area.attrs.id);
}

/** The boxes over a picture, drawn anew with each change of its figure. */
export class FigureAreas {
  readonly dom = document.createElement('div');
  private drag: { id: string; box: Box } | null = null;

  constructor(
    private view: EditorView,
    private open: (id: string) => void,
    /** The figure is chosen, as by a click on its picture. */
    private choose: () => void,
  ) {
    this.dom.className = 'areas';
    this.dom.contentEditable = 'false';
  }

  show(figure: Node) {
    const areas: Node[] = [];
    figure.forEach((child) => child.type === schema.nodes.figureArea && areas.push(child));
    this.dom.replaceChildren(...areas.map((area, at) => this.box(area, at + 1)));
  }

  private box(area: Node, number: number) {
    const box = document.createElement('div');
    box.className = 'area';
    box.title = 'Drag it, or its corner; a double click opens its words';
    const sign = document.createElement('b');
    sign.textContent = String(number);
    const corner = document.createElement('i');
    box.append(sign, corner);
    this.place(box, boxOf(area));
    box.addEventListener('dblclick', () => this.open(String(area.attrs.id)));
    box.addEventListener('pointerdown', (event) => this.begin(event, box, area, event.target === corner));
    return box;
  }

  private place(box: HTMLElement, at: Box) {
    for (const side of ['left', 'top', 'width', 'height'] as const) box.style[side] = `${at[side] / 10}%`;
  }

  private begin(event: PointerEvent, box: HTMLElement, area: Node, sizes: boolean) {
    if (event.button !== 0) return;
    event.preventDefault();
    event.stopPropagation();
    const was = boxOf(area);
    const picture = this.dom.getBoundingClientRect();
    const id = String(area.attrs.id);
    const move = (e: PointerEvent) => {
      const x = ((e.clientX - event.clientX) / picture.width) * whole;
      const y = ((e.clientY - event.clientY) / picture.height) * whole;
      const next = sizes
        ? { ...was, width: Math.min(was.width + x, whole - was.left), height: Math.min(was.height + y, whole - was.top) }
        : { ...was, left: was.left + x, top: was.top + y };
      this.drag = { id, box: within(next) };
      this.place(box, this.drag.box);
    };
    const end = () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', end);
      const done = this.drag;
      this.drag = null;
      // Wherever it stands by now; another writer may have taken it out.
      if (!done) return this.choose();
      const at = findBlock(done.id, this.view.state.doc);
      if (!at) return;
      const tr = this.view.state.tr;
      for (const [side, value] of Object.entries(done.box)) tr.setNodeAttribute(at.pos, side, value);
      this.view.dispatch(tr);
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', end);
  }
}
