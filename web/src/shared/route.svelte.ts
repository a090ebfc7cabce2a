// Where the writer is: the shelf, a manual in one of its views, or documents on their way in. Kept in the address, so
// that it can be kept and shared.

export type View = 'write' | 'plan';

export interface Place {
  manual: string | null;
  view: View;
  division: string | null;
  bringIn: string | null;
}

function read(): Place {
  const [, first, second, third] = location.hash.replace(/^#/, '').split('/');
  if (first === 'bring-in') return { manual: null, view: 'write', division: null, bringIn: second || null };
  if (second === 'plan') return { manual: first || null, view: 'plan', division: third || null, bringIn: null };
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
  plan(id: string) {
    location.hash = `#/${id}/plan`;
  },
  bringIn(id: string) {
    location.hash = `#/bring-in/${id}`;
  },
};
