// A manual opened in a view: its live pages, and acts on it with their undo.
import { api, type DeskManual, type Reworked } from '../shared/api';
import { notices } from '../shared/notices.svelte';
import { LiveProof, type ChangedElsewhere } from './live-proof.svelte';
import { writer } from './tab';

export class OpenedManual {
  readonly proof: LiveProof;
  manual = $state.raw<DeskManual | null>(null);
  /** Why there is nothing to show. */
  missing = $state('');
  /** What was done last, in words. */
  last = $state('');

  constructor(
    readonly id: string,
    /** Told of what others changed. */
    onchanged?: (change: ChangedElsewhere) => void,
  ) {
    this.proof = new LiveProof(id);
    this.proof.onchanged = onchanged ?? null;
  }

  async start() {
    try {
      this.manual = await api.open(this.id);
      void this.proof.start();
    } catch (e) {
      this.missing = e instanceof Error ? e.message : String(e);
    }
  }

  /** Its title and its roles, where an act may have made them others. */
  async reread() {
    try {
      this.manual = await api.open(this.id);
    } catch (e) {
      notices.problem(e);
    }
  }

  stop() {
    this.proof.stop();
  }

  /** Whether there is more to show than a view of this composition does. A view that shows nothing yet reads at once, without waiting
   * for the pages. */
  overtakes(composition: number | undefined): boolean {
    if (composition === undefined) return this.manual !== null;
    return this.proof.number > 0 && this.proof.number !== composition;
  }

  /** Does an act; what was refused is told, what was done can be taken back.
   * @returns whether it was done */
  async act(order: () => Promise<Reworked>): Promise<boolean> {
    try {
      const done = await order();
      if (done.refused) {
        notices.problem(new Error(done.refused));
        return false;
      }
      this.proof.expects(done.act);
      this.last = done.words;
      notices.tell(`${done.words}.`, () => void this.takeBack(false));
      return true;
    } catch (e) {
      notices.problem(e);
      return false;
    }
  }

  async takeBack(again: boolean) {
    try {
      const done = await api.takeBack(this.id, writer, again);
      if (done.refused.length > 0) notices.problem(new Error(`“${done.label}” cannot be taken back: ${done.refused[0]!.why}`));
      else if (done.act === 0) notices.tell(again ? 'Nothing to do again.' : 'Nothing to take back.');
      else {
        this.proof.expects(done.act);
        this.last = `${again ? 'Done again' : 'Taken back'}: ${done.label}`;
        notices.tell(this.last);
      }
    } catch (e) {
      notices.problem(e);
    }
  }

  /** Undo and redo, wherever the focus is but in a field. */
  key(event: KeyboardEvent): boolean {
    if (!event.ctrlKey || event.altKey || (event.target as HTMLElement).closest('input,textarea,[contenteditable=true]')) return false;
    const key = event.key.toLowerCase();
    if (key === 'z') void this.takeBack(event.shiftKey);
    else if (key === 'y') void this.takeBack(true);
    else return false;
    event.preventDefault();
    return true;
  }
}
