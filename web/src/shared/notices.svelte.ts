// What the writer is told once: an act done with its undo, or a problem. One at a time; the newest counts. What one manual tells
// stays with it.
import { route } from './route.svelte';

export interface Notice {
  text: string;
  kind: 'done' | 'problem';
  undo?: () => void;
  /** What the button beside it says. */
  does?: string;
  /** Where it was told: a manual, or the shelf. */
  of: string | null;
}

let current = $state<Notice | null>(null);
let timer: ReturnType<typeof setTimeout> | undefined;

export const notices = {
  get current() {
    return current && current.of === route.place.manual ? current : null;
  },
  tell(text: string, undo?: () => void, does = 'Take back') {
    const of = route.place.manual;
    current = undo ? { text, kind: 'done', undo, does, of } : { text, kind: 'done', of };
    clearTimeout(timer);
    timer = setTimeout(() => (current = null), undo ? 15000 : 6000);
  },
  problem(error: unknown) {
    current = { text: error instanceof Error ? error.message : String(error), kind: 'problem', of: route.place.manual };
    clearTimeout(timer);
  },
  dismiss() {
    current = null;
  },
};
