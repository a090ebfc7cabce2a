<script lang="ts">
  import { SvelteSet } from 'svelte/reactivity';
  import Drawer from '../../ui/Drawer.svelte';
  import { focusFirst } from '../../ui/focus';
  import { api, newId, type FoundPlace, type Looking, type OwnRole, type ProofDivision } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import { route } from '../../shared/route.svelte';
  import { spanRoles } from '../manuscript/roles';
  import { writer } from '../../live/tab';

  interface Props {
    manualId: string;
    divisions: ProofDivision[];
    /** The division that is open. */
    division: string | null;
    /** Looked for at once. */
    words: string;
    ongo: (division: string, block: string | null) => void;
    /** What is typed is stored before anything is replaced. */
    onbefore: () => Promise<void>;
    /** Something was replaced: by this act. */
    onreplaced: (act: number) => void;
    ontakeback: () => void;
    /** Opens where the texts of variables are. */
    onvariables: () => void;
    /** Roles of the manual's own. */
    roles: OwnRole[];
    onclose: () => void;
  }
  let {
    manualId,
    divisions,
    division,
    words: begun,
    ongo,
    onbefore,
    onreplaced,
    ontakeback,
    onvariables,
    roles,
    onclose,
  }: Props = $props();

  // svelte-ignore state_referenced_locally
  let words = $state(begun);
  let wholeWords = $state(false);
  let sameCase = $state(false);
  let pattern = $state(false);
  let scope = $state<'division' | 'manual' | 'all'>('manual');
  let where = $state('');
  let replacing = $state(false);
  let other = $state('');
  /** What each manual has; of this one alone, or of all on the shelf. */
  let manuals = $state.raw<{ id: string; title: string; places: FoundPlace[]; total: number }[]>([]);
  let unseen = $state(0);
  let refused = $state('');
  let at = $state(0);
  let busy = $state(false);
  let list = $state<HTMLElement>();
  /** Places that stay as they are when the chosen ones are replaced. */
  const left = new SvelteSet<string>();

  const looking = $derived<Looking>({
    words,
    wholeWords,
    sameCase,
    pattern,
    division: scope === 'division' ? division : null,
    where: where || null,
  });
  interface Place extends FoundPlace {
    manual: string;
    key: string;
  }
  const places = $derived<Place[]>(
    manuals.flatMap((m) => m.places.map((p) => ({ ...p, manual: m.id, key: `${m.id} ${p.block} ${p.ordinal}` }))),
  );
  const total = $derived(manuals.reduce((sum, m) => sum + m.total, 0));
  const chosen = $derived(places.filter((p) => !left.has(p.key)));
  function whereOf(place: Place): string {
    if (place.in === 'Variable') return `variable ${place.block.slice('variable:'.length)}`;
    if (place.manual !== manualId) return manuals.find((m) => m.id === place.manual)?.title ?? '';
    const found = divisions.find((d) => d.id === place.division);
    return found ? `${found.number ? found.number + ' ' : ''}${found.title}` : 'a passage';
  }
  const kinds: Record<string, string> = { Note: 'footnote', IndexEntry: 'index entry', Listing: 'listing', Title: 'title' };
  const wheres: [string, string][] = [
    ['', 'in all places'],
    ['heads', 'in titles and heads'],
    ['note', 'in footnotes'],
    ['indexEntry', 'in index entries'],
    ['listing', 'in listings'],
    ['variable', 'in variables'],
    ...spanRoles.map(({ name, mark }): [string, string] => [mark, `as ${name.toLowerCase()}`]),
  ];

  async function look(asked = looking, inAll = scope === 'all') {
    if (!asked.words) {
      manuals = [];
      refused = '';
      return;
    }
    try {
      let found: typeof manuals;
      let why: string | null;
      if (inAll) {
        const all = await api.findInAll(asked);
        found = all.manuals.map((m) => ({ id: m.id, title: m.title, ...m.found }));
        why = all.refused;
        unseen = all.unseen;
      } else {
        const own = await api.find(manualId, asked);
        found = [{ id: manualId, title: '', ...own }];
        why = own.refused;
        unseen = 0;
      }
      if (asked !== looking || inAll !== (scope === 'all')) return;
      manuals = found;
      refused = why ?? '';
      left.clear();
      at = 0;
    } catch (e) {
      if (asked === looking) refused = e instanceof Error ? e.message : String(e);
    }
  }

  // As it is typed, after a moment in which nothing was.
  $effect(() => {
    const asked = looking;
    const inAll = scope === 'all';
    const timer = setTimeout(() => void look(asked, inAll), inAll ? 400 : 120);
    return () => clearTimeout(timer);
  });

  function go(place: Place | undefined) {
    if (!place) return;
    const inner = place.inner === place.division ? null : place.inner;
    if (place.in === 'Variable') onvariables();
    else if (place.manual === manualId) ongo(place.division, inner);
    else route.manual(place.manual, place.division, inner);
  }

  function walk(event: KeyboardEvent) {
    if (event.key === 'Escape') onclose();
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      at = Math.max(0, Math.min(places.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)));
      list?.querySelector(`[data-at="${at}"]`)?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') go(places[at]);
    else return;
    event.preventDefault();
  }

  async function replace(all: boolean) {
    busy = true;
    try {
      await onbefore();
      const done: { manual: string; act: number; words: string }[] = [];
      for (const manual of manuals) {
        const own = chosen.filter((p) => p.manual === manual.id);
        if (!all && own.length === 0) continue;
        const blocks = Map.groupBy(own, (p) => p.block);
        const replaced = await api.replace(manual.id, {
          id: newId(),
          writer,
          looking,
          with: other,
          chosen: all ? null : [...blocks].map(([block, at]) => ({ block, version: at[0]!.version, ordinals: at.map((p) => p.ordinal) })),
        });
        if (replaced.refused) notices.problem(new Error(manual.title ? `${manual.title}: ${replaced.refused}` : replaced.refused));
        else done.push({ manual: manual.id, act: replaced.act, words: replaced.words });
      }
      if (done.length > 0) {
        const others = done.filter((d) => d.manual !== manualId);
        notices.tell(done.length === 1 ? done[0]!.words : `Replaced in ${done.length} manuals.`, () => {
          for (const d of others) void api.takeBack(d.manual, writer, false).catch((e: unknown) => notices.problem(e));
          if (others.length < done.length) ontakeback();
        });
        const here = done.find((d) => d.manual === manualId);
        if (here) onreplaced(here.act);
      }
      await look();
    } catch (e) {
      notices.problem(e);
    } finally {
      busy = false;
    }
  }
</script>

<Drawer label="Find" {onclose}>
  {#snippet head()}
    <input class="field words" placeholder="Find" aria-label="Find" bind:value={words} onkeydown={walk} {@attach focusFirst} />
    <label><input type="checkbox" bind:checked={wholeWords} /> whole words</label>
    <label><input type="checkbox" bind:checked={sameCase} /> capitals as typed</label>
    <label><input type="checkbox" bind:checked={pattern} /> expression</label>
    <select aria-label="Where to look" bind:value={scope}>
      <option value="division">this division</option>
      <option value="manual">this manual</option>
      <option value="all">all manuals</option>
    </select>
    <select aria-label="In which places" bind:value={where}>
      {#each wheres as [value, name] (value)}<option {value}>{name}</option>{/each}
      {#each roles as role (role.name)}<option value="own:{role.name}">as {role.name}</option>{/each}
    </select>
    <label><input type="checkbox" bind:checked={replacing} /> replace</label>
    <span class="count" role="status"
      >{refused ||
        (words
          ? `${total} ${total === 1 ? 'place' : 'places'}${total > places.length ? `, ${places.length} shown` : ''}${unseen ? `; ${unseen} manuals not reached` : ''}`
          : '')}</span
    >
  {/snippet}
  {#if replacing}
    <div class="with">
      <input
        class="field words"
        placeholder={pattern ? 'By ($1 is the first group)' : 'By'}
        aria-label="Replace by"
        bind:value={other}
        onkeydown={(e) => e.key === 'Escape' && onclose()}
      />
      <button class="btn" disabled={busy || chosen.length === 0} onclick={() => void replace(false)}
        >Replace {chosen.length === 1 ? 'the chosen one' : `the ${chosen.length} chosen`}</button
      >
      <button class="btn" disabled={busy || total === 0} onclick={() => void replace(true)}>Replace all {total}</button>
    </div>
  {/if}
  <ul bind:this={list}>
    {#each places as place, i (place.key)}
      <li class:here={i === at}>
        {#if replacing}
          <input
            type="checkbox"
            aria-label="Replace here"
            checked={!left.has(place.key)}
            onchange={() => (left.has(place.key) ? left.delete(place.key) : left.add(place.key))}
          />
        {/if}
        <button
          data-at={i}
          tabindex={i === at ? 0 : -1}
          onclick={() => {
            at = i;
            go(place);
          }}
        >
          <span class="where">{whereOf(place)}{place.folio ? `, page ${place.folio}` : ''}</span>
          <span class="before">{place.before}</span><b>{place.match}</b><span class="after">{place.after}</span>
          <span class="kind">{kinds[place.in] ?? ''}</span>
        </button>
      </li>
    {/each}
  </ul>
</Drawer>

<style>
  .with {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 14px;
    padding-bottom: 6px;
  }
  .words {
    width: 300px;
  }
  /* As wide before the answer as after it: a line more would move what stands below. */
  .count {
    flex: 1 1 14em;
    text-align: right;
    color: var(--ink-soft);
  }
  li {
    display: flex;
    align-items: center;
    gap: 8px;
    content-visibility: auto;
    contain-intrinsic-block-size: 26px;
  }
  li button {
    display: grid;
    grid-template-columns: 210px minmax(0, 1fr) auto minmax(0, 1fr) 80px;
    gap: 4px;
    flex: 1;
    min-width: 0;
    min-height: 26px;
    align-items: center;
    text-align: left;
    padding: 0 6px;
    border-radius: var(--r);
    cursor: pointer;
  }
  li.here button,
  li button:hover {
    background: var(--bottle-tint);
  }
  li span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .where {
    color: var(--ink-soft);
  }
  .before {
    text-align: right;
    direction: rtl;
    unicode-bidi: plaintext;
  }
  .before,
  .after {
    white-space: pre !important;
  }
  .kind {
    color: var(--ink-soft);
    text-align: right;
  }
  b {
    white-space: pre;
  }
  @media (max-width: 860px) {
    li button {
      grid-template-columns: 120px minmax(0, 1fr) auto minmax(0, 1fr) 60px;
    }
  }
</style>
