// A passage where it is used: shown as it stands, and typed in place.
import { mount, unmount } from 'svelte';
import { EditorState, NodeSelection } from 'prosemirror-state';
import type { Node } from 'prosemirror-model';
import { EditorView, type NodeView } from 'prosemirror-view';
import type { KeptOnce } from '../../kept/kept-once.svelte';
import { nodeViews, PrintedWords, type NodeViewActs } from './node-views';
import PassageInPlace from './PassageInPlace.svelte';
import { schema } from './schema';
import { nodeOfBody } from './stored';

export class PassageView implements NodeView {
  dom = document.createElement('div');
  private name = document.createElement('button');
  private body = document.createElement('div');
  private reading: EditorView | null = null;
  private typing: ReturnType<typeof PassageInPlace> | null = null;
  /** What an edition prints in this use: its references are of this use alone. */
  private words = new PrintedWords();
  private shown: string | null = null;
  private readonly stop: () => void;

  constructor(
    private node: Node,
    private view: EditorView,
    private getPos: () => number | undefined,
    private acts: NodeViewActs,
    private kept: KeptOnce,
  ) {
    this.dom.className = 'passage';
    this.dom.dataset.id = node.attrs.id as string;
    this.dom.contentEditable = 'false';
    this.name.type = 'button';
    this.name.className = 'passage-name';
    this.name.tabIndex = -1;
    this.name.addEventListener('mousedown', (event) => {
      event.preventDefault();
      this.choose();
    });
    this.body.addEventListener('mousedown', (event) => {
      if (this.typing) return;
      event.preventDefault();
      this.choose();
    });
    this.body.addEventListener('dblclick', () => this.type());
    this.dom.append(this.name, this.body);
    acts.words.add(this);
    this.stop = $effect.root(() => {
      $effect(() => this.read());
    });
  }

  private get passage() {
    return this.kept.passage(String(this.node.attrs.passage));
  }

  private choose() {
    const pos = this.getPos();
    if (pos === undefined) return;
    this.view.dispatch(this.view.state.tr.setSelection(NodeSelection.create(this.view.state.doc, pos)));
    this.view.focus();
  }

  show(marks: PrintedWords['marks']) {
    if (!marks) return;
    const own = `${this.node.attrs.id}/`;
    const printed = Object.entries(marks.printed)
      .filter(([id]) => id.startsWith(own))
      .map(([id, text]) => [id.slice(own.length), text] as const);
    const variables = Object.entries(marks.printed).filter(([name]) => name.startsWith('variable:'));
    this.words.set({ ...marks, printed: Object.fromEntries([...printed, ...variables]) });
  }

  /** Shows the passage as it is now. */
  private read() {
    const passage = this.passage;
    const uses = passage?.uses.length ?? 0;
    this.name.textContent = passage
      ? `Passage “${passage.name}”${uses > 1 ? `, used in ${uses} places` : ''}`
      : `There is no passage “${this.node.attrs.passage}”`;
    this.dom.classList.toggle('loose', !passage);
    const text = JSON.stringify(passage?.blocks ?? []);
    if (this.typing || text === this.shown) return;
    this.shown = text;
    this.reading?.destroy();
    this.body.replaceChildren();
    const blocks = (passage?.blocks ?? []).map(nodeOfBody);
    if (blocks.length === 0) return;
    this.reading = new EditorView(this.body, {
      state: EditorState.create({ doc: schema.nodes.doc!.create(null, blocks) }),
      editable: () => false,
      nodeViews: nodeViews({ ...this.acts, words: this.words, openNote: () => undefined, changeFigure: () => undefined }),
      attributes: { class: 'passage-text', tabindex: '-1' },
    });
  }

  /** Opens the passage for typing, here. */
  type() {
    const passage = this.passage;
    if (!passage || this.typing) return;
    this.reading?.destroy();
    this.reading = null;
    this.body.replaceChildren();
    this.typing = mount(PassageInPlace, {
      target: this.body,
      props: {
        kept: this.kept,
        passage: passage.id,
        acts: this.acts,
        oncaret: (place) => this.acts.caretInPassage(String(this.node.attrs.id), place),
        onleave: () => this.leave(),
      },
    });
  }

  /** Which of the passage's blocks, at every depth, a block is; −1 when it is not here. */
  orderOf(block: string): number {
    if (this.typing) return this.typing.orderOf(block);
    let at = -1;
    let found = -1;
    this.reading?.state.doc.descendants((node) => {
      if (node.attrs.id && !node.isInline) {
        at++;
        if (node.attrs.id === block.split('/')[0]) found = at;
      }
      return found < 0 && !node.inlineContent;
    });
    return found;
  }

  private leave() {
    if (!this.typing) return;
    void unmount(this.typing);
    this.typing = null;
    this.shown = null;
    void this.kept.read().then(() => this.read());
    this.read();
    this.choose();
  }

  update(node: Node) {
    if (node.type !== this.node.type || node.attrs.id !== this.node.attrs.id) return false;
    this.node = node;
    this.read();
    return true;
  }

  stopEvent() {
    return true;
  }

  ignoreMutation() {
    return true;
  }

  destroy() {
    this.stop();
    this.acts.words.remove(this);
    this.reading?.destroy();
    if (this.typing) void unmount(this.typing);
  }
}
