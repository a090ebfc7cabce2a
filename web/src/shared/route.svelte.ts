// Where the writer is: the shelf, a manual in one of its views, or documents on their way in. Kept in the address, so
// that it can be kept and shared.

export const views = [
  { view: 'write', name: 'Write' },
  { view: 'plan', name: 'Plan' },
  { view: 'references', name: 'Cross-references' },
  { view: 'index', name: 'Index' },
  { view: 'contents', name: 'Contents' },
  { view: 'look', name: 'Look' },
  { view: 'editions', name: 'Editions' },
] as const;

export type View = (typeof views)[number]['view'];

export interface Place {
  manual: string | null;
  view: View;
  division: string | null;
  bringIn: string | null;
}

function read(): Place {
  const [, first, second, third] = location.hash.replace(/^#/, '').split('/');
  if (first === 'bring-in') return { manual: null, view: 'write', division: null, bringIn: second || null };
  const view = views.find((v) => v.view === second)?.view;
  if (view) return { manual: first || null, view, division: third || null, bringIn: null };
  return { manual: first || null, view: 'write', division: second || null, bringIn: null };
}

let place = $state<Place>(read());
window.addEventListener('hashchange', () => (place = read()));

export const route = {
  get place() {
    return place;
  },
  shelf() {
    // The shelf shows where one comes from.
    if (place.manual) sessionStorage.setItem('kivren.left', place.manual);
    location.hash = '#/';
  },
  /** A manual, at a division and a block in it. */
  manual(id: string, division?: string, block?: string | null) {
    if (block) sessionStorage.setItem('kivren.goto', block);
    location.hash = division ? `#/${id}/${division}` : `#/${id}`;
  },
  /** A view of a manual; with what it begins at, such as a reference or a heading. */
  open(id: string, view: View, at?: string) {
    if (at) sessionStorage.setItem('kivren.begin', at);
    location.hash = view === 'write' ? `#/${id}` : `#/${id}/${view}`;
  },
  /** What a view was asked to begin at, once. */
  begin(): string | null {
    const at = sessionStorage.getItem('kivren.begin');
    sessionStorage.removeItem('kivren.begin');
    return at;
  },
  bringIn(id: string) {
    location.hash = `#/bring-in/${id}`;
  },
};
