<script lang="ts">
  import { baseKeymap, toggleMark } from 'prosemirror-commands';
  import { keymap } from 'prosemirror-keymap';
  import { EditorState, Selection } from 'prosemirror-state';
  import { StepMap } from 'prosemirror-transform';
  import { EditorView } from 'prosemirror-view';
  import Popover from '../../ui/Popover.svelte';
  import type { ComponentProps } from 'svelte';
  import AtCaret from './AtCaret.svelte';
  import { nodeViews, type NodeViewActs } from './node-views';
  import { readCaret } from './read-caret';
  import { schema } from './schema';

  interface Props {
    /** The manuscript, and where in it the note stands now; null when it is gone. */
    outer: EditorView;
    place: () => number | null;
    acts: NodeViewActs;
    /** What the manuscript has at its own caret. */
    at: Omit<ComponentProps<typeof AtCaret>, 'editor' | 'isNote'>;
    takeBack: () => void;
    doAgain: () => void;
    onclose: () => void;
  }
  let { outer, place, acts, at: around, takeBack, doAgain, onclose }: Props = $props();

  let inner: EditorView | null = null;
  let atCaret = $state<ReturnType<typeof AtCaret>>();

  const anchor = {
    getBoundingClientRect() {
      const at = place();
      const dom = at === null ? null : outer.nodeDOM(at);
      return dom instanceof HTMLElement ? dom.getBoundingClientRect() : new DOMRect(0, 0, 0, 0);
    },
  };

  // svelte-ignore state_referenced_locally
  const isNote = outer.state.doc.nodeAt(place()!)?.type === schema.nodes.footnote;
  const name = isNote ? 'Footnote' : 'Area of the picture';
  const showings = [
    ['', 'a footnote'],
    ['popUp', 'a pop-up on screens, in print a footnote'],
    ['popUpOnly', 'a pop-up on screens, in print nothing'],
  ] as const;
  // svelte-ignore state_referenced_locally
  let shown = $state(String(outer.state.doc.nodeAt(place()!)?.attrs.shown ?? ''));

  function show() {
    const at = place();
    if (at !== null) outer.dispatch(outer.state.tr.setNodeAttribute(at, 'shown', shown || null));
    inner?.focus();
  }

  function leave() {
    const at = place();
    if (at !== null) {
      const behind = at + outer.state.doc.nodeAt(at)!.nodeSize;
      outer.dispatch(outer.state.tr.setSelection(Selection.near(outer.state.doc.resolve(behind))));
    }
    outer.focus();
    onclose();
  }

  /** The note's words as the manuscript has them: each change is a change of the manuscript, which saves and takes back. */
  function mount(holder: HTMLElement) {
    const note = outer.state.doc.nodeAt(place()!)!;
    const ends = () => {
      leave();
      return true;
    };
    const state = EditorState.create({
      doc: note,
      plugins: [
        keymap({
          Escape: ends,
          Enter: () => atCaret?.enter() || ends(),
          'Mod-Enter': ends,
          'Mod-z': () => (takeBack(), true),
          'Mod-y': () => (doAgain(), true),
          'Shift-Mod-z': () => (doAgain(), true),
          'Mod-i': toggleMark(schema.marks.emphasis!),
          'Mod-b': toggleMark(schema.marks.strong!),
        }),
        keymap(baseKeymap),
      ],
    });
    inner = new EditorView(holder, {
      state: state.apply(state.tr.setSelection(Selection.atEnd(state.doc))),
      nodeViews: nodeViews(acts),
      attributes: {
        class: 'manuscript note',
        role: 'textbox',
        'aria-label': isNote ? 'Text of the footnote' : 'Words of the area',
        'aria-multiline': 'true',
      },
      handleKeyDown: (own, event) => {
        readCaret(own);
        return atCaret?.chord(event) ?? false;
      },
      handleTextInput: (_, _from, _to, text) => atCaret?.letter(text) ?? false,
      dispatchTransaction(tr) {
        if (tr.selectionSet || tr.docChanged) setTimeout(() => inner && atCaret?.moved());
        const { state: next, transactions } = inner!.state.applyTransaction(tr);
        inner!.updateState(next);
        const at = place();
        if (tr.getMeta('from outside') || at === null) return;
        const change = outer.state.tr;
        const offset = StepMap.offset(at + 1);
        for (const own of transactions) for (const step of own.steps) change.step(step.map(offset)!);
        if (change.docChanged) outer.dispatch(change);
      },
    });
    inner.focus();
    return () => {
      inner?.destroy();
      inner = null;
    };
  }

  /** What another writer, or taking back, made of the note meanwhile. */
  export function follow() {
    const at = place();
    if (at === null) {
      onclose();
      return;
    }
    const now = outer.state.doc.nodeAt(at)!;
    if (!inner || now.eq(inner.state.doc)) return;
    const { doc } = inner.state;
    const start = now.content.findDiffStart(doc.content);
    const end = now.content.findDiffEnd(doc.content as never);
    if (start === null || !end) return;
    const overlap = Math.max(0, start - Math.min(end.a, end.b));
    inner.dispatch(inner.state.tr.replace(start, end.b + overlap, now.slice(start, end.a + overlap)).setMeta('from outside', true));
  }
</script>

<Popover label={name} {anchor} width={380} onclose={leave}>
  <div {@attach mount}></div>
  <p>
    <span><kbd class="key">Enter</kbd> goes on in the text</span>
    {#if isNote}
      <select aria-label="On screens" bind:value={shown} onchange={show}>
        {#each showings as [value, words] (value)}<option {value}>{words}</option>{/each}
      </select>
    {/if}
  </p>
</Popover>
<AtCaret bind:this={atCaret} {...around} editor={() => inner} isNote />

<style>
  div {
    background: var(--paper);
    border: 1px solid var(--rule);
    border-radius: var(--r);
    padding: 6px 9px;
    min-height: 32px;
  }
  p {
    display: flex;
    justify-content: space-between;
    align-items: center;
    gap: 10px;
    white-space: nowrap;
    padding: 5px 4px 0;
    font-size: 11px;
    color: var(--ink-soft);
  }
  select {
    max-width: 200px;
    text-overflow: ellipsis;
  }
</style>
