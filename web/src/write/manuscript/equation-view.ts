// An equation as the page has it; while it is not drawn, and when it cannot be read, its source.
import type { Node } from 'prosemirror-model';
import { NodeSelection } from 'prosemirror-state';
import type { EditorView, NodeView } from 'prosemirror-view';
import { api, type DrawnEquation } from '../../shared/api';
import { loadFaces } from '../../shared/faces';

/** Drawn once for each source, however often it stands in the text. */
const drawings = new Map<string, Promise<DrawnEquation>>();
const mostKept = 500;

export function drawnEquation(source: string, display: boolean): Promise<DrawnEquation> {
  const key = `${display} ${source}`;
  const known = drawings.get(key);
  if (known) return known;
  if (drawings.size >= mostKept) drawings.clear();
  const drawing = Promise.all([api.equation(source, display), loadFaces()]).then(([drawn]) => drawn);
  drawings.set(key, drawing);
  drawing.catch(() => drawings.delete(key));
  return drawing;
}

/** Pixels of the manuscript for a point of the page: its text is larger than the page's. */
const scale = 1.7;

/** Puts a drawing into an element, sized for the manuscript. */
export function showEquation(dom: HTMLElement, drawn: DrawnEquation, inLine: boolean) {
  // The drawing is the server's own: letters of the source are escaped there.
  const svg = new DOMParser().parseFromString(drawn.svg, 'image/svg+xml').documentElement;
  svg.querySelector('.paper')?.remove();
  svg.setAttribute('aria-hidden', 'true');
  svg.style.width = `${(drawn.width + 2) * scale}px`;
  svg.style.height = `${(drawn.height + drawn.depth + 2) * scale}px`;
  if (inLine) svg.style.verticalAlign = `${-(drawn.depth + 1) * scale}px`;
  dom.replaceChildren(document.importNode(svg, true));
}

export class EquationView implements NodeView {
  dom: HTMLElement;
  private shown = '';

  constructor(
    private node: Node,
    view: EditorView,
    getPos: () => number | undefined,
  ) {
    this.dom = document.createElement(node.isInline ? 'span' : 'div');
    this.dom.className = 'equation';
    this.dom.dataset.id = node.attrs.id as string;
    this.dom.addEventListener('mousedown', (event) => {
      const pos = getPos();
      if (pos === undefined) return;
      event.preventDefault();
      view.dispatch(view.state.tr.setSelection(NodeSelection.create(view.state.doc, pos)));
      view.focus();
    });
    this.show();
  }

  private show() {
    const source = String(this.node.attrs.source);
    this.dom.setAttribute('role', 'img');
    this.dom.setAttribute('aria-label', String(this.node.attrs.alternative) || source || 'Empty equation');
    this.dom.classList.toggle('loose', !this.node.attrs.alternative || !source);
    if (source === this.shown && this.dom.firstChild) return;
    this.shown = source;
    if (this.dom.querySelector('svg') === null) this.dom.textContent = source || 'Empty equation';
    drawnEquation(source, !this.node.isInline).then(
      (drawn) => {
        if (source !== this.shown) return;
        if (drawn.problem) this.dom.textContent = source || 'Empty equation';
        else showEquation(this.dom, drawn, this.node.isInline);
      },
      () => (this.dom.textContent = source),
    );
  }

  update(node: Node) {
    if (node.type !== this.node.type || node.attrs.id !== this.node.attrs.id) return false;
    this.node = node;
    this.show();
    return true;
  }

  stopEvent(event: Event) {
    return event.type === 'mousedown';
  }

  ignoreMutation() {
    return true;
  }
}
