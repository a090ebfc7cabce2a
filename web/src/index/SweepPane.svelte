<script lang="ts">
  // Sweep: every occurrence of a phrase and its forms, set under one another, to be taken or left by a key each.
  import { SvelteMap } from 'svelte/reactivity';
  import Rows from '../ui/Rows.svelte';
  import { api, type IndexOrder, type SweptForm, type SweptWords } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { saidPath, typedPath } from './headings';
  import { canJoin, canTake, countOf, inOrder, isApart, nextOpen, orders, type Choice } from './sweeping';

  interface Props {
    manualId: string;
    /** What is swept for at first, and for which heading. */
    phrase: string;
    heading: string[];
    /** The composition that is shown: another one may have other folios. */
    composition: number;
    onact: (order: IndexOrder) => Promise<boolean>;
    ongo: (place: SweptWords) => void;
    onclose: () => void;
  }
  let { manualId, phrase, heading, composition, onact, ongo, onclose }: Props = $props();

  // svelte-ignore state_referenced_locally
  let asked = $state(phrase);
  // svelte-ignore state_referenced_locally
  let into = $state(heading.length > 0 ? saidPath(heading) : phrase);
  let intoTyped = false;
  let forms = $state.raw<SweptForm[]>([]);
  const off = new SvelteMap<string, boolean>();
  let all = $state.raw<SweptWords[]>([]);
  let total = $state(0);
  let problem = $state('');
  let sought = $state('');
  let shownLeft = $state(false);
  let at = $state(0);
  const choices = new SvelteMap<SweptWords, Choice>();
  let rows = $state<ReturnType<typeof Rows<SweptWords>>>();
  let field = $state<HTMLInputElement>();

  const places = $derived(inOrder(all, shownLeft));
  const path = $derived(typedPath(into));
  const count = $derived(countOf(places, choices));
  const leftCount = $derived(places.filter((p) => choices.get(p) === 'left').length);
  const fresh = $derived(all.filter((p) => !p.indexed && !p.left).length);
  const wanted = $derived(forms.filter((f) => !(off.get(f.text) ?? !f.likely)).map((f) => f.text));
  const firstApart = $derived(places.findIndex(isApart));

  $effect(() => {
    if (phrase) void look();
    else field?.focus();
  });

  /** Finds the forms of the phrase, and then its places. */
  async function look() {
    const words = asked.trim();
    if (!words) return;
    // Another phrase than the heading's own is another subject.
    if (!intoTyped) into = heading.length > 0 && words === phrase ? saidPath(heading) : words;
    try {
      forms = await api.sweepForms(manualId, words);
      off.clear();
      sought = words;
      choices.clear();
      await places_();
      rows?.focus();
    } catch (e) {
      problem = e instanceof Error ? e.message : String(e);
    }
  }

  async function places_() {
    const said = wanted;
    if (said.length === 0) {
      all = [];
      return;
    }
    try {
      const found = await api.sweep(manualId, sought, said, path);
      all = found.places;
      total = found.total;
      problem = found.refused ?? '';
      choices.clear();
      at = Math.max(0, nextOpen(inOrder(all, shownLeft), choices, -1));
    } catch (e) {
      problem = e instanceof Error ? e.message : String(e);
    }
  }

  // Others type meanwhile: what nobody decided on yet is found anew.
  // svelte-ignore state_referenced_locally
  let seen = composition;
  $effect(() => {
    if (composition === seen) return;
    seen = composition;
    if (sought && choices.size === 0) void places_();
  });

  function choose(place: SweptWords, choice: Choice) {
    if (choice === 'joined' && !canJoin(places, choices, places.indexOf(place)))
      return notices.tell('A range begins at a place that is taken: take the one before it first.');
    if (choice !== 'left' && !canTake(place))
      return notices.tell('The lines of a listing hold no entries. Take a place in the text beside it.');
    if (choices.get(place) === choice) choices.delete(place);
    else choices.set(place, choice);
    at = nextOpen(places, choices, places.indexOf(place));
    rows?.show(at);
  }

  async function put() {
    const made = orders(places, choices);
    if (made.length === 0) return notices.tell('No place is chosen: t takes the one with the focus, l leaves it.');
    if (await onact({ do: 'sweep', heading: path, text: sought, forms: wanted, places: made })) {
      choices.clear();
      await places_();
      rows?.focus();
    }
  }

  function key(event: KeyboardEvent, place: SweptWords | undefined): boolean {
    if (event.ctrlKey && event.key === 'Enter') void put();
    else if (event.ctrlKey || event.metaKey || event.altKey) return false;
    else if (event.key === 'Escape') onclose();
    else if (!place) return false;
    else if (event.key === 't' || event.key === ' ') choose(place, 'taken');
    else if (event.key === 'p') choose(place, 'principal');
    else if (event.key === 'l') choose(place, 'left');
    else if (event.key === 'r') choose(place, 'joined');
    else return false;
    return true;
  }

  const inWhat: Record<string, string> = {
    Head: 'a head',
    Caption: 'a caption',
    Listing: 'in a listing',
    Table: 'in a table',
    Note: 'in a note',
  };
  const signs: Record<Choice, string> = { taken: '◆ taken', principal: '◆ principal', joined: '⌊ to the range above', left: 'left' };
</script>

<section class="sweep" aria-label="Sweep">
  <div class="bar">
    <b>Sweep</b>
    <input
      class="field phrase"
      aria-label="Phrase to sweep for"
      placeholder="A phrase"
      bind:value={asked}
      bind:this={field}
      onkeydown={(e) => {
        if (e.key === 'Enter') void look();
        else if (e.key === 'Escape') onclose();
        else return;
        e.preventDefault();
      }}
    />
    <span class="forms" role="group" aria-label="Forms">
      {#each forms as f (f.text)}
        {@const on = !(off.get(f.text) ?? !f.likely)}
        <button
          class="form"
          class:on
          aria-pressed={on}
          title={f.why}
          onclick={() => {
            off.set(f.text, on);
            void places_();
          }}>{f.text} <span class="soft">{f.count}</span></button
        >
      {/each}
    </span>
    {#if sought}<span class="soft"
        >{total}
        {total === 1 ? 'place' : 'places'}, <b>{fresh} new</b>{#if all.some((p) => p.left)}&ensp;<label
            ><input type="checkbox" bind:checked={shownLeft} /> {all.filter((p) => p.left).length} left before</label
          >{/if}</span
      >{/if}
    <span class="keys soft"
      ><kbd class="key">t</kbd> take <kbd class="key">p</kbd> principal <kbd class="key">l</kbd> leave <kbd class="key">r</kbd> join to a range</span
    >
    <label class="into"
      >into <input
        class="field"
        aria-label="Into the heading"
        bind:value={into}
        oninput={() => (intoTyped = true)}
        onchange={() => void places_()}
      /></label
    >
    <button class="btn do" disabled={choices.size === 0} onclick={() => void put()}
      >{count > 0 ? `Take ${count} into “${into}”` : leftCount > 0 ? `Leave ${leftCount}` : 'Take'}
      <kbd class="key">Ctrl Enter</kbd></button
    >
    <button class="btn" onclick={onclose}>Close</button>
  </div>
  {#if problem}<p class="m">{problem}</p>{/if}
  <Rows
    items={places}
    rowHeight={27}
    label="Places of the phrase"
    bind:this={rows}
    bind:at
    onkey={key}
    onopen={ongo}
    multiple
    chosen={(p) => choices.has(p)}
  >
    {#snippet row(p: SweptWords, index: number)}
      <div
        class="place"
        class:dim={choices.get(p) === 'left' || (p.indexed && !choices.has(p))}
        class:apart={index === firstApart && index > 0}
      >
        <span class="folio">{p.folio}</span>
        <span class="before"><bdi>{p.before}</bdi></span>
        <span class="match">{p.match}</span>
        <span class="after">{p.after}</span>
        <span class="state"
          >{#if choices.has(p)}<b class:plum={choices.get(p) !== 'left'}>{signs[choices.get(p)!]}</b>{:else if p.indexed}<b class="plum"
              >◆ in the index</b
            >{:else if p.left}left before{/if}
          {#if inWhat[p.in]}<span class="soft">{inWhat[p.in]}</span>{/if}</span
        >
      </div>
    {/snippet}
    {#snippet empty()}
      <p class="none soft">
        {sought
          ? 'Nothing new: every place is in the index, or was left.'
          : 'Type a phrase and press Enter. Its plural, its hyphens and its abbreviation are found with it.'}
      </p>
    {/snippet}
  </Rows>
</section>

<style>
  .sweep {
    display: grid;
    grid-template-rows: auto auto minmax(0, 1fr);
    min-height: 0;
    height: 100%;
    border-top: 1px solid var(--rule);
    background: var(--board);
    box-shadow: 0 -6px 18px rgb(60 50 30 / 0.1);
  }
  .sweep > :global(.rows) {
    grid-row: 3;
  }
  .bar {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px 12px;
    padding: 6px 14px;
    border-bottom: 1px solid var(--rule);
    font-size: 12.5px;
  }
  .phrase {
    width: 190px;
  }
  .into {
    display: inline-flex;
    align-items: center;
    gap: 5px;
  }
  .into .field {
    width: 112px;
    padding: 3px 6px;
  }
  .forms {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
  }
  .form {
    padding: 1px 9px;
    border: 1px solid var(--rule);
    border-radius: 10px;
    color: var(--ink-soft);
    cursor: pointer;
    text-decoration: line-through;
  }
  .form.on {
    border-color: transparent;
    background: color-mix(in srgb, var(--plum) 16%, transparent);
    color: var(--plum);
    text-decoration: none;
  }
  .keys {
    margin-left: auto;
  }
  .place {
    display: grid;
    grid-template-columns: 56px minmax(0, 1fr) auto minmax(0, 1fr) 190px;
    align-items: baseline;
    gap: 7px;
    height: 100%;
    padding-right: 12px;
    font: 15px/26px var(--text);
    border-bottom: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
  }
  .place.apart {
    border-top: 2px solid var(--rule);
  }
  .folio {
    text-align: right;
    font: 12.5px/1 var(--ui);
    font-variant-numeric: tabular-nums;
  }
  .before,
  .after {
    white-space: nowrap;
    overflow: hidden;
  }
  /* Of a long line the words next to the phrase are shown. */
  .before {
    direction: rtl;
    text-align: right;
    text-overflow: ellipsis;
  }
  .after {
    text-overflow: ellipsis;
  }
  .match {
    font-weight: 700;
    color: var(--plum);
    min-width: 110px;
    text-align: center;
    white-space: nowrap;
  }
  .state {
    display: flex;
    gap: 8px;
    font: 12px/1 var(--ui);
    color: var(--ink-soft);
    white-space: nowrap;
  }
  .plum {
    color: var(--plum);
  }
  .dim {
    color: var(--ink-soft);
  }
  .dim .match {
    font-weight: 500;
  }
  .none {
    padding: 14px;
  }
  .m {
    padding: 4px 14px;
    color: var(--madder);
  }
  .soft {
    color: var(--ink-soft);
    font-weight: 400;
  }
  @media (max-width: 1100px) {
    .keys {
      display: none;
    }
  }
</style>
