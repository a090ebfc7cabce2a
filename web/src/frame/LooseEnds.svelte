<script lang="ts" module>
  import { api } from '../shared/api';

  /** What loose ends of a kind have in common; the same for all manuals. */
  const kindsThereAre = api.looseEndKinds().catch(() => []);
</script>

<script lang="ts">
  // All that would print wrong, on every screen: why it matters, and one key that mends it where there is one.
  import AskWords from '../ui/AskWords.svelte';
  import Drawer from '../ui/Drawer.svelte';
  import { newId, type LooseEnd, type Reworked } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import type { LiveProof } from '../live/live-proof.svelte';
  import { writer } from '../live/tab';
  import { setting, type BlockMend, type Body } from './block-mends';
  import { gravitySigns, gravityWords, kindOf, mendOf, ordered, type KindOfLooseEnd, type OrderedBy } from './loose-ends';

  interface Props {
    manualId: string;
    proof: LiveProof;
    /** Does an act on the manual; what was refused is told. */
    act: (order: () => Promise<Reworked>) => Promise<boolean>;
    ongo: (l: LooseEnd) => void;
    onclose: () => void;
  }
  let { manualId, proof, act, ongo, onclose }: Props = $props();

  let kinds = $state.raw<KindOfLooseEnd[]>([]);
  void kindsThereAre.then((k) => (kinds = k));
  let by = $state<OrderedBy>((localStorage.getItem('kivren.loose-ends') as OrderedBy | null) ?? 'gravity');
  let only = $state('');
  let aside = $state(false);
  let at = $state(0);
  let asking = $state.raw<{ label: string; does: string; from: Element; done: (words: string) => void } | null>(null);
  let list = $state<HTMLElement>();

  const shown = $derived(aside ? proof.looseEnds.filter((l) => l.aside) : proof.told);
  const inGroup = $derived(shown.filter((l) => !only || kindOf(kinds, l).group === only));
  const groups = $derived(ordered(inGroup, kinds, by, proof.divisions));
  const flat = $derived(groups.flatMap((g) => g.ends));
  const groupNames = $derived([...new Set(shown.map((l) => kindOf(kinds, l).group))].toSorted());
  const asideCount = $derived(proof.looseEnds.length - proof.told.length);
  const old = $derived(proof.looseEnds.flatMap((l) => l.reference ?? []));
  const title = (l: LooseEnd) => proof.divisions.find((d) => d.id === l.division)?.title ?? '';

  $effect(() => {
    if (at >= flat.length) at = Math.max(0, flat.length - 1);
  });

  function take(references: string[]) {
    void proof.takeNewer(references).catch(notices.problem);
  }

  function rowOf(index: number): HTMLElement | null {
    return list?.querySelector(`[data-at="${index}"]`) ?? null;
  }

  async function mend(l: LooseEnd, from: Element) {
    const m = mendOf(l);
    if (!m) return;
    if ('index' in m) await act(() => api.indexAct(manualId, writer, m.index));
    else if ('plan' in m) await act(() => api.planAct(manualId, writer, m.plan));
    else if ('references' in m) await act(() => api.referenceAct(manualId, writer, m.references));
    else if ('take' in m) take(m.take);
    else if ('view' in m) route.open(manualId, m.view, m.at);
    else if ('block' in m) await change(l, m.block);
    else asking = { label: m.ask, does: 'say so', from, done: (alternative) => void change(l, setting('figure', { alternative })) };
  }

  /** Changes the block that a loose end is about, as typing would. */
  async function change(l: LooseEnd, how: BlockMend) {
    const division = await api.division(manualId, l.division).catch(() => null);
    for (const block of division?.blocks ?? []) {
      if (!block.body.includes(l.block)) continue;
      const body = JSON.parse(block.body) as Body;
      if (!how(body, l)) continue;
      await act(async () => {
        const done = await api.send(manualId, {
          id: newId(),
          writer,
          label: 'Mending a loose end',
          joined: null,
          blocks: [{ id: block.id, division: l.division, after: null, basedOn: block.version, body: JSON.stringify(body), deleted: false }],
        });
        return { act: done.act, words: 'Mending a loose end', refused: done.refused[0]?.why ?? null };
      });
      return;
    }
    notices.problem(new Error('There is nothing here that one key could mend; it may have been changed meanwhile.'));
  }

  function letBe(l: LooseEnd, reason: string) {
    void act(() =>
      api.listAct(manualId, writer, {
        do: 'letBe',
        ends: [{ kind: l.kind, block: l.block, words: l.words.slice(0, 200), reason }],
      }),
    );
  }

  function ask(l: LooseEnd, from: Element) {
    if (l.aside) return letBe(l, '');
    asking = {
      label: 'Why it may stay as it is',
      does: 'put it aside',
      from,
      done: (reason) => (reason ? letBe(l, reason) : notices.problem(new Error('Say why, so that others know it was looked at.'))),
    };
  }

  function key(event: KeyboardEvent) {
    if (event.target !== list || event.ctrlKey || event.altKey || event.metaKey) return;
    const l = flat[at];
    const row = rowOf(at);
    if (event.key === 'ArrowDown') at = Math.min(at + 1, flat.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if (event.key === 'Home') at = 0;
    else if (event.key === 'End') at = flat.length - 1;
    else if (event.key === 'Enter' && l) ongo(l);
    else if (event.key === 'm' && l && row) void mend(l, row);
    else if (event.key === 'a' && l && row) ask(l, row);
    else return;
    event.preventDefault();
    rowOf(at)?.scrollIntoView({ block: 'nearest' });
  }
</script>

<Drawer label="Loose ends" {onclose}>
  {#snippet head()}
    <b>Loose ends</b>
    <span class="chips" role="group" aria-label="Which">
      <button class="chip" class:on={!only} aria-pressed={!only} onclick={() => (only = '')}>all {shown.length}</button>
      {#each groupNames as g (g)}<button class="chip" class:on={only === g} aria-pressed={only === g} onclick={() => (only = g)}
          >{g.toLowerCase()} {shown.filter((l) => kindOf(kinds, l).group === g).length}</button
        >{/each}
    </span>
    <label>
      by <select class="field by" bind:value={by} onchange={() => localStorage.setItem('kivren.loose-ends', by)}>
        <option value="gravity">gravity</option>
        <option value="kind">kind</option>
        <option value="division">division</option>
      </select>
    </label>
    {#if asideCount > 0 || aside}<label><input type="checkbox" bind:checked={aside} /> put aside ({asideCount})</label>{/if}
    {#if old.length > 1}<button class="btn" onclick={() => take(old)}>Take all {old.length} from other manuals</button>{/if}
    {#if flat.length > 0}<span class="soft keys"
        ><kbd class="key">Enter</kbd> go there <kbd class="key">m</kbd> mend <kbd class="key">a</kbd>
        {aside ? 'take up again' : 'put aside'}</span
      >{/if}
  {/snippet}
  {#if flat.length === 0}
    <p class="soft">{aside ? 'Nothing is put aside.' : 'Nothing would print wrong.'}</p>
  {:else}
    <!-- The list takes the keys. -->
    <div
      class="list"
      role="listbox"
      tabindex="0"
      aria-label="What would print wrong"
      aria-activedescendant="loose-{at}"
      bind:this={list}
      onkeydown={key}
    >
      {#each groups as g (g.head)}
        <h3>{g.head} <span class="soft">{g.ends.length}</span></h3>
        {#each g.ends as l (l)}
          {@const index = flat.indexOf(l)}
          {@const kind = kindOf(kinds, l)}
          {@const m = mendOf(l)}
          <!-- svelte-ignore a11y_click_events_have_key_events -->
          <div
            class="row"
            class:at={index === at}
            id="loose-{index}"
            data-at={index}
            data-kind={l.kind}
            role="option"
            tabindex="-1"
            aria-selected={index === at}
            onclick={(e) => {
              at = index;
              if (!(e.target as HTMLElement).closest('.do')) ongo(l);
            }}
          >
            <span class="sign {kind.gravity}" title={gravityWords[kind.gravity]}
              >{gravitySigns[kind.gravity]}<span class="sr">{gravityWords[kind.gravity]}</span></span
            >
            <span class="where">{title(l)}{l.sheet >= 0 ? `, page ${proof.pages[l.sheet]?.folio ?? ''}` : ''}</span>
            <span class="what"
              >{l.message}{#if l.words}&ensp;<span class="soft">“{l.words.slice(0, 60)}”</span>{/if}
              {#if kind.why}<span class="why">{kind.why}</span>{/if}
              {#if l.aside}<span class="why">Put aside: {l.aside}</span>{/if}</span
            >
            <span class="do">
              {#if m && !l.aside}<button class="btn small" tabindex="-1" onclick={(e) => void mend(l, e.currentTarget)}>{m.words}</button
                >{/if}
              <button class="btn small" tabindex="-1" onclick={(e) => ask(l, e.currentTarget)}
                >{l.aside ? 'Take up again' : 'Put aside …'}</button
              >
            </span>
          </div>
        {/each}
      {/each}
    </div>
  {/if}
</Drawer>
{#if asking}
  <AskWords
    label={asking.label}
    text=""
    does={asking.does}
    anchor={asking.from}
    onchoose={(words) => {
      const done = asking!.done;
      asking = null;
      done(words);
      list?.focus();
    }}
    onclose={() => {
      asking = null;
      list?.focus();
    }}
  />
{/if}

<style>
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
  }
  .chip {
    padding: 2px 8px;
    border: 1px solid transparent;
    border-radius: 10px;
    color: var(--ink-soft);
    cursor: pointer;
  }
  .chip.on {
    border-color: var(--rule);
    background: var(--paper);
    color: var(--ink);
    font-weight: 600;
  }
  label {
    display: inline-flex;
    align-items: center;
    gap: 5px;
  }
  .by {
    width: auto;
    padding: 1px 4px;
    font-size: 12px;
  }
  h3 {
    padding: 6px 4px 2px;
    font-weight: 600;
  }
  .row {
    display: grid;
    grid-template-columns: 18px 200px 1fr auto;
    gap: 8px;
    align-items: baseline;
    padding: 4px;
    border-radius: var(--r);
    cursor: pointer;
  }
  .row.at {
    background: var(--bottle-tint);
  }
  .row:hover {
    background: color-mix(in srgb, var(--bottle-tint) 60%, transparent);
  }
  .sign {
    color: var(--madder);
  }
  .sign.Unsightly {
    color: var(--ochre);
  }
  .sign.Doubtful {
    color: var(--ink-soft);
  }
  .where {
    font-weight: 600;
  }
  .why {
    display: block;
    color: var(--ink-soft);
  }
  .do {
    display: flex;
    gap: 6px;
  }
  .small {
    padding: 1px 8px;
    font-size: 11.5px;
    white-space: nowrap;
  }
  .soft {
    color: var(--ink-soft);
    font-weight: 400;
  }
  .keys {
    margin-left: auto;
  }
  @media (max-width: 860px) {
    .row {
      grid-template-columns: 18px 1fr;
    }
    .do {
      grid-column: 2;
    }
    .keys {
      display: none;
    }
  }
</style>
