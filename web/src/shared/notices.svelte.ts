// What the writer is told once: an act done with its undo, or a problem. One at a time; the newest counts.

export interface Notice {
  text: string;
  kind: 'done' | 'problem';
  undo?: () => void;
}

let current = $state<Notice | null>(null);
let timer: ReturnType<typeof setTimeout> | undefined;

export const notices = {
  get current() {
    return current;
  },
  tell(text: string, undo?: () => void) {
    current = undo ? { text, kind: 'done', undo } : { text, kind: 'done' };
    clearTimeout(timer);
    timer = setTimeout(() => (current = null), undo ? 15000 : 6000);
  },
  problem(error: unknown) {
    current = { text: error instanceof Error ? error.message : String(error), kind: 'problem' };
    clearTimeout(timer);
  },
  dismiss() {
    current = null;
  },
};
