// Where the writer is: the shelf, or a manual at a division. Kept in the address, so that it can be kept and shared.

export interface Place {
  manual: string | null;
  division: string | null;
}

function read(): Place {
  const [, manual, division] = location.hash.replace(/^#/, '').split('/');
  return { manual: manual || null, division: division || null };
}

let place = $state<Place>(read());
window.addEventListener('hashchange', () => (place = read()));

export const route = {
  get place() {
    return place;
  },
  shelf() {
    location.hash = '#/';
  },
  manual(id: string, division?: string) {
    location.hash = division ? `#/${id}/${division}` : `#/${id}`;
  },
};
