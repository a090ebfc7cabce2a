// How the screen of Write is divided: the fore-edge, the text and the proof, which can be folded, dragged, or shown one at a
// time in a narrow window. Remembered in this browser.
import { MediaQuery } from 'svelte/reactivity';

export type Pane = 'fore' | 'text' | 'page';
export type ProofPlace = 'beside' | 'folded' | 'whole';

export const panesByName: { pane: Pane; name: string }[] = [
  { pane: 'fore', name: 'Divisions' },
  { pane: 'text', name: 'Text' },
  { pane: 'page', name: 'Page' },
];

export class Panes {
  /** What a narrow window shows. */
  shown = $state<Pane>('text');
  /** In pixels. */
  proofWidth = $state(Number(localStorage.getItem('kivren.proof') ?? 476));
  proof = $state((localStorage.getItem('kivren.proof-place') ?? 'beside') as ProofPlace);
  // The fore-edge folds by itself where there is little room, until the writer says otherwise.
  private readonly little = new MediaQuery('max-width: 1180px');
  private foreAsked = $state(localStorage.getItem('kivren.fore'));
  readonly foreOpen = $derived(this.foreAsked ? this.foreAsked === 'open' : !this.little.current);

  foldFore = () => {
    this.foreAsked = this.foreOpen ? 'folded' : 'open';
    localStorage.setItem('kivren.fore', this.foreAsked);
  };

  placeProof = (place: ProofPlace) => {
    this.proof = place;
    localStorage.setItem('kivren.proof-place', place);
  };

  foldProof = () => this.placeProof(this.proof === 'folded' ? 'beside' : 'folded');
  spreadProof = () => this.placeProof(this.proof === 'whole' ? 'beside' : 'whole');

  /** Drags the proof's edge, from where it was pressed. */
  resize = (event: PointerEvent) => {
    const start = event.clientX;
    const width = this.proofWidth;
    const move = (e: PointerEvent) => (this.proofWidth = Math.max(300, Math.min(window.innerWidth - 620, width + start - e.clientX)));
    const up = () => {
      localStorage.setItem('kivren.proof', String(this.proofWidth));
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
  };
}
