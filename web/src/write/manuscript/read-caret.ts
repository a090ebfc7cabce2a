import type { EditorView } from 'prosemirror-view';

/** Browsers report a moved caret late: a key pressed at once, or a drawing in between, would act where it was before. */
export function readCaret(view: EditorView | null) {
  const observer = (view as unknown as { domObserver: { forceFlush(): void; flush(): void } } | null)?.domObserver;
  observer?.forceFlush();
  observer?.flush();
}
