// Inline atoms that show what they will print now, and figures. Plain DOM, so that a long division types smoothly.
import type { Node } from 'prosemirror-model';
import { NodeSelection } from 'prosemirror-state';
import { address } from '../../shared/api';
import { EquationView } from './equation-view';
import type { EditorView, NodeView, NodeViewConstructor } from 'prosemirror-view';
import type { DivisionMarks } from '../../shared/api';
import { FigureAreas } from './figure-areas';

/** Hands the latest marks to every view that shows some of them. */
export class PrintedWords {
  private views = new Set<{ show: (marks: DivisionMarks | null) => void }>();
  marks: DivisionMarks | null = null;

  add(view: { show: (marks: DivisionMarks | null) => void }) {
    this.views.add(view);
    view.show(this.marks);
  }
  remove(view: { show: (marks: DivisionMarks | null) => void }) {
    this.views.delete(view);
  }
  /** What an atom prints now; nothing for what prints nothing. */
  of(node: Node): string {
    const name =
      node.type.name === 'crossReference' ? String(node.attrs.id) : node.type.name === 'variable' ? `variable:${node.attrs.name}` : '';
    return this.marks?.printed[name] ?? '';
  }
  set(marks: DivisionMarks) {
    this.marks = marks;
    for (const view of this.views) view.show(marks);
  }
}

class ReferenceView implements NodeView {
  dom = document.createElement('span');
  constructor(
    private node: Node,
    private words: PrintedWords,
  ) {
    this.dom.className = 'reference';
    this.dom.dataset.id = node.attrs.id as string;
    words.add(this);
  }
  show(marks: DivisionMarks | null) {
    const text = marks?.printed[this.node.attrs.id as string];
    const nothing = text?.startsWith('[');
    if (text !== undefined && this.dom.textContent !== text) this.dom.textContent = text;
    else if (text === undefined && !this.dom.textContent) this.dom.textContent = '…';
    this.dom.classList.toggle('loose', nothing === true);
  }
  update(node: Node) {
    if (node.type !== this.node.type) return false;
    this.node = node;
    this.show(this.words.marks);
    return true;
  }
  ignoreMutation() {
    return true;
  }
  destroy() {
    this.words.remove(this);
  }
}

class VariableView implements NodeView {
  dom = document.createElement('span');
  constructor(
    private node: Node,
    private words: PrintedWords,
  ) {
    this.dom.className = 'variable';
    this.dom.title = 'Variable: ' + node.attrs.name;
    words.add(this);
  }
  show(marks: DivisionMarks | null) {
    this.dom.textContent = marks?.printed['variable:' + this.node.attrs.name] ?? String(this.node.attrs.name);
  }
  ignoreMutation() {
    return true;
  }
  destroy() {
    this.words.remove(this);
  }
}

class FigureView implements NodeView {
  dom = document.createElement('figure');
  contentDOM = document.createElement('figcaption');
  private image = document.createElement('img');
  private areas: FigureAreas;
  constructor(
    private node: Node,
    view: EditorView,
    getPos: () => number | undefined,
    private manual: string,
    change: (pos: number) => void,
    openWords: (id: string) => void,
  ) {
    const choose = () => {
      const pos = getPos();
      if (pos === undefined) return;
      view.dispatch(view.state.tr.setSelection(NodeSelection.create(view.state.doc, pos)));
      view.focus();
    };
    this.areas = new FigureAreas(view, openWords, choose);
    this.dom.className = 'figure';
    this.dom.dataset.id = node.attrs.id as string;
    this.image.contentEditable = 'false';
    this.image.addEventListener('mousedown', (event) => {
      event.preventDefault();
      choose();
    });
    const words = document.createElement('button');
    words.className = 'alternative';
    words.type = 'button';
    words.contentEditable = 'false';
    words.addEventListener('click', () => {
      const pos = getPos();
      if (pos !== undefined) change(pos);
    });
    this.words = words;
    const picture = document.createElement('div');
    picture.className = 'picture';
    picture.contentEditable = 'false';
    this.image.addEventListener('load', () => {
      this.areas.dom.style.aspectRatio = `${this.image.naturalWidth} / ${this.image.naturalHeight}`;
    });
    picture.append(this.image, this.areas.dom);
    this.dom.append(picture, this.contentDOM, words);
    this.show();
  }
  private words: HTMLButtonElement;
  private asset = '';
  private show() {
    const asset = this.node.attrs.asset as string;
    if (asset !== this.asset) this.image.src = address(`/api/manuals/${this.manual}/pictures/${encodeURIComponent(asset)}`);
    this.asset = asset;
    const text = this.node.attrs.alternative as string;
    this.image.alt = text;
    this.words.textContent = text ? 'In words: ' + text : '○ No alternative text. Say in words what it shows…';
    this.words.classList.toggle('loose', !text);
    this.areas.show(this.node);
    this.dom.dataset.plays = this.node.attrs.plays ? `▶ ${this.node.attrs.plays}` : '';
  }
  update(node: Node) {
    if (node.type !== this.node.type) return false;
    this.node = node;
    this.show();
    return true;
  }
  stopEvent(event: Event) {
    const target = event.target as globalThis.Node;
    return target === this.words || target === this.image || this.areas.dom.contains(target);
  }
  ignoreMutation(mutation: { target: globalThis.Node }) {
    return !this.contentDOM.contains(mutation.target);
  }
}

/** A footnote, or an area of a picture: its words in the line, to be read; a click or Enter opens them for typing. */
class NoteView implements NodeView {
  dom = document.createElement('span');
  constructor(
    private node: Node,
    open: (id: string) => void,
  ) {
    const isNote = node.type.name === 'footnote';
    this.dom.className = isNote ? 'footnote' : 'figure-area';
    this.dom.dataset.id = node.attrs.id as string;
    this.dom.title = `${isNote ? 'Footnote' : 'Area of the picture'}: a click, or Enter, opens it`;
    this.dom.addEventListener('click', () => open(this.node.attrs.id as string));
    this.show();
  }
  private show() {
    this.dom.textContent = this.node.textBetween(0, this.node.content.size, '', (leaf) => (leaf.type.name === 'lineBreak' ? ' ' : '…'));
    this.dom.classList.toggle('loose', this.node.content.size === 0);
    this.dom.classList.toggle('pop-up', Boolean(this.node.attrs.shown));
  }
  update(node: Node) {
    if (node.type !== this.node.type || node.attrs.id !== this.node.attrs.id) return false;
    this.node = node;
    this.show();
    return true;
  }
  ignoreMutation() {
    return true;
  }
}

/** What the views of a manuscript need of it. */
export interface NodeViewActs {
  words: PrintedWords;
  manual: string;
  /** Takes back the last act, or does it again. */
  takeBack: (again: boolean) => void;
  /** Something is stored, under this act. */
  stored: (act: number) => void;
  /** Opens what can be changed of the figure at a place. */
  changeFigure: (pos: number) => void;
  openNote: (id: string) => void;
  /** The caret stands in a passage that is typed in place, at this use of it. */
  caretInPassage: (use: string, place: { block: string; typed: number }) => void;
}

export function nodeViews({
  words,
  manual,
  changeFigure,
  openNote,
}: Omit<NodeViewActs, 'takeBack' | 'stored' | 'caretInPassage'>): Record<string, NodeViewConstructor> {
  return {
    crossReference: (node) => new ReferenceView(node, words),
    variable: (node) => new VariableView(node, words),
    figure: (node, view, getPos) => new FigureView(node, view, getPos, manual, changeFigure, openNote),
    equation: (node, view, getPos) => new EquationView(node, view, getPos),
    inlineEquation: (node, view, getPos) => new EquationView(node, view, getPos),
    footnote: (node) => new NoteView(node, openNote),
    figureArea: (node) => new NoteView(node, openNote),
  };
}
