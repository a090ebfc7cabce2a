<script lang="ts">
  import { untrack } from 'svelte';
  import { focusFirst } from '../ui/focus';
  import Popover, { type Anchor } from '../ui/Popover.svelte';
  import { pointedAt, recentTargets } from './recent';
  import { route } from '../shared/route.svelte';
  import { writer } from '../live/tab';
  import { api, newId, type PlaceThere, type ShelfManual, type TargetChoice } from '../shared/api';

  interface Props {
    manualId: string;
    anchor: Anchor;
    /** What the reference points at already, and how it reads; empty for a new one. */
    label?: string;
    /** The division that the reference stands in. */
    near?: string;
    /** References that keep their forms are pointed elsewhere: only the place is chosen. */
    placeOnly?: boolean;
    pointed?: { target: string; form: string; other: PlaceThere | null };
    onchoose: (target: string, form: string, other: PlaceThere | null) => void;
    onclose: () => void;
  }
  let {
    manualId,
    anchor,
    label: title = 'Point at',
    near = route.place.division ?? '',
    placeOnly = false,
    pointed = { target: '', form: '', other: null },
    onchoose,
    onclose,
  }: Props = $props();

  let words = $state('');
  let found = $state<TargetChoice[]>([]);
  let at = $state(0);
  let form = $state(0);
  let problem = $state('');
  const chosen = $derived(found[at]);

  /** The manual that is pointed into: this one, or another of the shelf. */
  // svelte-ignore state_referenced_locally
  let into = $state(pointed.other?.manual ?? manualId);
  let shelf = $state.raw<ShelfManual[]>([]);
  void api.manuals().then(
    (manuals) => (shelf = manuals),
    () => undefined,
  );
  let naming = $state('');
  async function put(t: TargetChoice, reading: string | undefined) {
    let target = t.id;
    // A text without a name gets one in the same move.
    if (naming.trim() && isText(t)) {
      const anchor = newId();
      try {
        const done = await api.referenceAct(manualId, writer, { do: 'addAnchor', references: [t.id], to: naming.trim() }, anchor);
        if (done.refused) throw new Error(done.refused);
        target = anchor;
      } catch (e) {
        problem = e instanceof Error ? e.message : String(e);
        return;
      }
    }
    if (!t.other) pointedAt(manualId, target);
    onchoose(target, reading ?? 'page', t.other ?? null);
  }
  const isText = (t: TargetChoice) => !t.other && (t.kind === 'Text' || t.kind === 'Item');

  let foundIn = $state('');
  /** The places of the manual that is named have come. */
  const come = $derived(foundIn === into);
  $effect(() => {
    const [asked, where] = [words, into];
    // Places of another manual are none to choose while those of this one are asked for.
    if (where !== untrack(() => foundIn)) found = [];
    const first = asked ? '' : pointed.target;
    (where === manualId
      ? api.targets(manualId, asked, first, near, recentTargets(manualId))
      : api.targetsIn(manualId, where, asked, first)
    ).then(
      (targets) => {
        if (asked !== words || where !== into) return;
        [found, foundIn] = [targets, where];
        at = 0;
        if (targets[0]?.pointed)
          form = Math.max(
            0,
            (targets[0]?.readings ?? []).findIndex((r) => r.form === pointed.form),
          );
        else if (form >= (targets[0]?.readings.length ?? 0)) form = 0;
        problem = '';
      },
      (e: Error) => (problem = e.message),
    );
  });

  const label = (t: TargetChoice) => `${t.name} ${t.number}`.trim() || t.kind;

  function key(event: KeyboardEvent) {
    if (event.key === 'Escape') onclose();
    else if (event.key === 'ArrowDown') at = Math.min(at + 1, found.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if (event.key === 'Tab' && chosen) form = (form + (event.shiftKey ? chosen.readings.length - 1 : 1)) % chosen.readings.length;
    else if (event.key === 'Enter' && chosen) void put(chosen, chosen.readings[form]?.form);
    else return;
    event.preventDefault();
  }
</script>

<Popover label={title} {anchor} width={400} {onclose}>
  <input
    class="field"
    placeholder="{title}: words, “Figure 6-4”, a number"
    aria-label={title}
    bind:value={words}
    onkeydown={key}
    {@attach focusFirst}
  />
  <ul role="listbox" aria-label="Targets">
    {#each found as t, i (t.id)}
      <li role="option" aria-selected={i === at}>
        <button class:on={i === at} tabindex="-1" onclick={() => (at = i)} ondblclick={() => void put(t, t.readings[form]?.form)}>
          <b>{label(t)}</b><span>{t.title}</span><i>{t.folio}</i>
        </button>
      </li>
    {/each}
    {#if found.length === 0 || problem}<li class="none">
        {problem || (come ? `Nothing in ${into === manualId ? 'the' : 'that'} manual fits these words.` : 'Looking …')}
      </li>{/if}
  </ul>
  {#if shelf.length > 1 && !placeOnly}
    <label class="into">
      in
      <select class="field" aria-label="In which manual" bind:value={into}>
        {#each shelf as m (m.id)}<option value={m.id}>{m.id === manualId ? 'this manual' : m.title}</option>{/each}
      </select>
    </label>
  {/if}
  {#if chosen && isText(chosen)}
    <label class="into"
      >name this place <input
        class="field"
        aria-label="Name of a new anchor"
        placeholder="an anchor, if you like"
        bind:value={naming}
        onkeydown={(e) => {
          if (e.key === 'Enter' && chosen) void put(chosen, chosen.readings[form]?.form);
          else if (e.key === 'Escape') onclose();
          else return;
          e.preventDefault();
        }}
      /></label
    >
  {/if}
  {#if chosen && placeOnly}
    <p class="soft keys"><kbd class="key">Enter</kbd> point there; each reference keeps its form</p>
  {:else if chosen}
    <div class="forms" role="radiogroup" aria-label="Form">
      {#each chosen.readings as r, i (r.form)}
        <button role="radio" aria-checked={i === form} class:on={i === form} onclick={() => void put(chosen, r.form)}>
          <span class="soft">{r.label}</span><span>{r.text}</span>
        </button>
      {/each}
    </div>
    <p class="soft keys"><kbd class="key">Tab</kbd> form <kbd class="key">Enter</kbd> {pointed.target ? 'point there' : 'put in'}</p>
  {/if}
</Popover>

<style>
  ul {
    max-height: 210px;
    overflow: auto;
    margin: 4px 0;
  }
  li button {
    display: grid;
    grid-template-columns: 90px 1fr auto;
    gap: 8px;
    width: 100%;
    text-align: left;
    padding: 3px 8px;
    border-radius: var(--r);
    cursor: pointer;
  }
  li span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  i {
    font-style: normal;
    color: var(--ink-soft);
    font-variant-numeric: tabular-nums;
  }
  .on {
    background: var(--bottle-tint);
  }
  .into {
    display: flex;
    align-items: baseline;
    gap: 6px;
    padding: 4px 8px 0;
    color: var(--ink-soft);
    font-size: 12px;
  }
  .into select {
    flex: 1;
    min-width: 0;
  }
  .none {
    padding: 4px 8px;
    color: var(--ink-soft);
  }
  .forms {
    border-top: 1px solid var(--rule);
    padding-top: 4px;
  }
  .forms button {
    display: grid;
    grid-template-columns: 130px 1fr;
    width: 100%;
    text-align: left;
    padding: 2px 8px;
    cursor: pointer;
    border-radius: var(--r);
  }
  .soft {
    color: var(--ink-soft);
  }
  .keys {
    padding: 4px 8px 0;
    font-size: 11px;
  }
</style>
