// Checks the open division a moment after it was changed, and knows what is wrong in it.
import type { EditorView } from 'prosemirror-view';
import { Speller } from './speller';
import { wordsOfBlock } from './spelling';

const rest = 350;
/** Milliseconds for which words are counted without a pause. */
const atOnce = 4;
/** One dictionary for each language, however many divisions are opened. */
const spellers = new Map<string, Speller>();

export interface WrongWord {
  word: string;
  count: number;
}

export class SpellCheck {
  /** Words that no dictionary has, in the order of the text. */
  wrong = $state.raw<WrongWord[]>([]);
  /** The dictionary was asked once. */
  checked = $state(false);
  /** Why nothing is checked; empty when it is. */
  why = $state('');
  private timer: ReturnType<typeof setTimeout> | undefined;
  private accepted = new Set<string>();
  /** What was shown last: while it is the same, nothing is drawn anew. */
  private told = '';
  private readonly speller: Speller;

  constructor(
    language: string,
    private readonly view: () => EditorView | null,
    /** Shows words as wrong without a change of the writer's. */
    private readonly show: (wrong: ReadonlySet<string>) => void,
  ) {
    this.speller = spellers.get(language) ?? new Speller(language);
    spellers.set(language, this.speller);
    if (!this.speller.ships) this.why = `No dictionary ships for “${language}”.`;
  }

  accept(words: readonly string[]) {
    this.accepted = new Set(words.flatMap((w) => [w, w.toLowerCase()]));
    this.soon();
  }

  /** Checks when nothing was typed for a moment. */
  soon() {
    clearTimeout(this.timer);
    if (this.speller.ships) this.timer = setTimeout(() => void this.check(), rest);
  }

  suggestions = (word: string) => this.speller.suggestions(word);

  stop() {
    clearTimeout(this.timer);
  }

  private async check() {
    const view = this.view();
    if (!view) return;
    const { doc } = view.state;
    const count = new Map<string, number>();
    let since = performance.now();
    for (let n = 0; n < doc.childCount; n++) {
      for (const { word } of wordsOfBlock(doc.child(n), 0)) count.set(word, (count.get(word) ?? 0) + 1);
      if (performance.now() - since < atOnce) continue;
      // A letter typed meanwhile is not held up.
      await new Promise((done) => setTimeout(done));
      if (this.view()?.state.doc !== doc) return;
      since = performance.now();
    }
    try {
      const wrong = await this.speller.wrong(count.keys());
      // Typed on meanwhile: the next check is on its way.
      if (this.view()?.state.doc !== doc) return;
      const found = [...count].filter(([w]) => wrong.has(w) && !this.accepted.has(w) && !this.accepted.has(w.toLowerCase()));
      this.checked = true;
      const told = found.map(([word, n]) => `${word} ${n}`).join('\n');
      if (told === this.told) return;
      this.told = told;
      this.wrong = found.map(([word, n]) => ({ word, count: n }));
      this.show(new Set(found.map(([word]) => word)));
      this.why = '';
    } catch (e) {
      this.why = `The dictionary cannot be read: ${e instanceof Error ? e.message : String(e)}`;
    }
  }
}
