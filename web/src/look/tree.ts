// A look as its file has it, and changes of it by place. Nothing is changed in what was given: each change is another tree.

export type Json = null | boolean | number | string | Json[] | { [name: string]: Json };
export type Part = { [name: string]: Json };

/** The steps of a place: masters[0].inner → masters, 0, inner. */
export const stepsOf = (place: string): (string | number)[] =>
  place === ''
    ? []
    : place
        .split(/\.|\[|\]\.?/)
        .filter((s) => s !== '')
        .map((s) => (/^\d+$/.test(s) ? Number(s) : s));

export function valueAt(look: Json, place: string): Json | undefined {
  let at: Json | undefined = look;
  for (const step of stepsOf(place)) {
    if (at === null || typeof at !== 'object') return undefined;
    at = (at as Record<string | number, Json>)[step];
  }
  return at;
}

/** @param value undefined takes the setting out: it is inherited from then on, or as usual */
export function withValue(look: Json, place: string, value: Json | undefined): Json {
  const set = (at: Json | undefined, steps: (string | number)[]): Json | undefined => {
    if (steps.length === 0) return value;
    const [step, ...rest] = steps;
    if (typeof step === 'number') {
      const list = Array.isArray(at) ? [...at] : [];
      const next = set(list[step], rest);
      if (next === undefined) list.splice(step, 1);
      else list[step] = next;
      return list;
    }
    const part = at !== null && typeof at === 'object' && !Array.isArray(at) ? { ...at } : {};
    const next = set(part[step!], rest);
    if (next === undefined) delete part[step!];
    else part[step!] = next;
    return part;
  };
  return set(look, stepsOf(place)) ?? {};
}

/** The list with another order: the item goes up or down by one. */
export function moved(list: readonly Json[], at: number, by: 1 | -1): Json[] {
  const to = at + by;
  if (to < 0 || to >= list.length) return [...list];
  const next = [...list];
  [next[at], next[to]] = [next[to]!, next[at]!];
  return next;
}

/** A name that none of the list has yet. */
export function freeName(wanted: string, list: readonly Json[]): string {
  const taken = new Set(list.map((i) => (i as Part).name));
  if (!taken.has(wanted)) return wanted;
  for (let n = 2; ; n++) if (!taken.has(`${wanted} ${n}`)) return `${wanted} ${n}`;
}

/** A page layout has another name, and all that name it too. */
export function renamedLayout(look: Json, at: number, name: string): Json {
  const was = valueAt(look, `masters[${at}].name`);
  const rename = (value: Json): Json =>
    Array.isArray(value)
      ? value.map(rename)
      : value !== null && typeof value === 'object'
        ? Object.fromEntries(
            Object.entries(value).map(([k, v]) => [k, v === was && (k === 'basedOn' || layoutUses.includes(k)) ? name : rename(v)]),
          )
        : value;
  const part = look as Part;
  return {
    ...part,
    masters: (part.masters as Json[]).map((m, i) => ({ ...(rename(m) as Part), ...(i === at ? { name } : {}) })),
    pages: rename(part.pages ?? null),
    sequences: rename(part.sequences ?? null),
  };
}

export const layoutUses = ['recto', 'verso', 'opening', 'last', 'landscape'];

/** Where a value comes from: here, or what it is inherited from, in words. */
export interface Source {
  value: Json | undefined;
  here: boolean;
  /** The place it is said at, where it is said anywhere. */
  place: string | null;
  from: string;
}

/** A setting as it counts: said here, inherited from what the part is based on, or as usual. */
export function sourceOf(look: Json, place: string, usual: string | null): Source {
  const own = valueAt(look, place);
  if (own !== undefined) return { value: own, here: true, place, from: '' };
  const layout = /^masters\[(\d+)\]\.(.+)$/.exec(place);
  if (layout) {
    const masters = (look as Part).masters as Part[];
    let based = masters[Number(layout[1])]?.basedOn;
    for (let left = masters.length; based && left > 0; left--) {
      const at = masters.findIndex((m) => m.name === based);
      const found = at < 0 ? undefined : valueAt(look, `masters[${at}].${layout[2]}`);
      if (found !== undefined) return { value: found, here: false, place: `masters[${at}].${layout[2]}`, from: String(based) };
      based = masters[at]?.basedOn;
    }
  }
  const role = /^dresses\[(\d+)\]\.dress\.(.+)$/.exec(place);
  if (role) {
    const rules = (look as Part).dresses as Part[];
    const at = Number(role[1]);
    for (const name of [rules[at]?.role, 'body']) {
      const found = rules.findIndex((r, i) => i < at && r.role === name && !r.within && !r.division);
      if (found < 0) continue;
      const value = valueAt(look, `dresses[${found}].dress.${role[2]}`);
      if (value !== undefined) return { value, here: false, place: `dresses[${found}].dress.${role[2]}`, from: String(name) };
    }
  }
  return { value: usual === null ? undefined : (JSON.parse(usual) as Json), here: false, place: null, from: '' };
}
