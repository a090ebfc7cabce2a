<script lang="ts">
  // Every cross-reference with its state, what it prints and where it points; and, turned round, who points at what.
  import { SvelteSet } from 'svelte/reactivity';
  import ManualScreen from '../frame/ManualScreen.svelte';
  import { OpenedManual } from '../live/opened-manual.svelte';
  import { writer } from '../live/tab';
  import ReferencePanel from '../pointing/ReferencePanel.svelte';
  import { api, type PointedTarget, type ReferenceOrder, type ReferencesView } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import AskWords from '../ui/AskWords.svelte';
  import Pick from '../ui/Pick.svelte';
  import Rows from '../ui/Rows.svelte';
  import Arcs from './Arcs.svelte';
  import { isLoose, pointingOf, shownReferences, shownTargets, targetKinds, type Pointing } from './filters';
  import { keysOfReferences } from './keys-of-references';
  import Nearest from './Nearest.svelte';
  import PointingRow from './PointingRow.svelte';
  import TargetRow from './TargetRow.svelte';

  interface Props {
    manualId: string;
  }
  let { manualId }: Props = $props();

  // svelte-ignore state_referenced_locally
  const opened = new OpenedManual(manualId);
  const proof = opened.proof;
  let view = $state.raw<ReferencesView | null>(null);
  let tab = $state<'references' | 'targets'>('references');
  let words = $state('');
  let looseOnly = $state(false);
  let division = $state('');
  let form = $state('');
  let target = $state.raw<PointedTarget | null>(null);
  let kind = $state('');
  let unusedOnly = $state(false);
  let at = $state(0);
  let targetAt = $state(0);
  const marked = new SvelteSet<string>();
  let together = $state(false);
  let panel = $state.raw<{ kind: 'point' | 'form' | 'anchor'; at: Element; references: string[] } | null>(null);
  let rows = $state<ReturnType<typeof Rows<Pointing>>>();
  let targetRows = $state<ReturnType<typeof Rows<PointedTarget>>>();
  let nearest = $state<ReturnType<typeof Nearest>>();
  let field = $state<HTMLInputElement>();
  let list = $state<HTMLElement>();

  const references = $derived(view ? pointingOf(view) : []);
  const shown = $derived(shownReferences(references, { words, looseOnly, division, form, target: target?.id ?? '' }));
  const targets = $derived(shownTargets(view?.targets ?? [], words, kind, unusedOnly));
  const current = $derived(shown[at]);
  const looseCount = $derived(references.filter(isLoose).length);
  const alike = $derived(
    current && isLoose(current) ? references.filter((r) => isLoose(r) && r.pointsAt === current.pointsAt).map((r) => r.id) : [],
  );
  const kinds = $derived([...new Set((view?.targets ?? []).map((t) => t.kind))]);

  void opened.start();
  $effect(() => () => opened.stop());

  let begin = route.begin();
  let reading = false;
  $effect(() => {
    if (opened.overtakes(view?.composition) && !reading) void read();
  });
  async function read() {
    reading = true;
    try {
      do {
        const was = current?.id ?? begin;
        view = await api.references(manualId);
        const there = shown.findIndex((r) => r.id === was);
        if (there >= 0) {
          at = there;
          rows?.show(there);
          begin = null;
        } else at = Math.min(at, Math.max(0, shown.length - 1));
        // What is there no more is marked no more.
        const known = new Set(view.references.map((r) => r.id));
        for (const id of marked) if (!known.has(id)) marked.delete(id);
      } while (view.composition < proof.number);
    } catch (e) {
      notices.problem(e);
    } finally {
      reading = false;
    }
  }

  const act = (order: ReferenceOrder) => opened.act(() => api.referenceAct(manualId, writer, order));

  /** What an act is done to: all that are marked, else the one with the focus; of loose ones all that pointed at the same place. */
  const picked = () => (marked.size > 0 ? [...marked] : together && alike.length > 1 ? alike : current ? [current.id] : []);

  function rowAt(): Element {
    return list?.querySelector('[role=option].at') ?? list ?? document.body;
  }

  async function point(references: string[], to: string) {
    if (await act({ do: 'pointAt', references, to })) {
      marked.clear();
      together = false;
    }
    rows?.focus();
  }

  function key(event: KeyboardEvent, r: Pointing | undefined): boolean {
    if (event.key === '/') {
      field?.focus();
      return true;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || !r) return false;
    if (event.key === 'p') panel = { kind: 'point', at: rowAt(), references: picked() };
    else if (event.key === 'f') panel = { kind: 'form', at: rowAt(), references: picked() };
    else if (event.key === 'd') void act({ do: 'makePlain', references: picked() });
    else if (event.key === 'x') {
      if (marked.has(r.id)) marked.delete(r.id);
      else marked.add(r.id);
    } else if (event.key === 'a') {
      if (shown.every((s) => marked.has(s.id))) marked.clear();
      else for (const s of shown) marked.add(s.id);
    } else if (event.key === 'o' && alike.length > 1) together = !together;
    else if (event.key === 'Delete') void act({ do: 'takeOut', references: picked() });
    else if (/^[1-6]$/.test(event.key) && isLoose(r)) nearest?.take(Number(event.key));
    else if (event.key === 'Escape' && (marked.size > 0 || target)) {
      marked.clear();
      target = null;
    } else return false;
    return true;
  }

  function open(r: Pointing) {
    if (isLoose(r) && nearest?.take(1)) return;
    route.manual(manualId, r.division, r.block);
  }

  function targetKey(event: KeyboardEvent, t: PointedTarget | undefined): boolean {
    if (event.key === '/') {
      field?.focus();
      return true;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || !t) return false;
    if (event.key === 'r' && t.kind === 'Anchor') panel = { kind: 'anchor', at: rowAt(), references: [t.id] };
    else if (event.key === 'Delete') {
      if (t.kind === 'Anchor') void act({ do: 'takeOutAnchors', references: [t.id] });
      else notices.tell('Only an anchor is taken out here; text is taken out in Write or Plan.');
    } else return false;
    return true;
  }

  function who(t: PointedTarget) {
    if (t.pointing === 0) return notices.tell('Nobody points there.');
    target = t;
    tab = 'references';
    at = 0;
    setTimeout(() => rows?.focus());
  }

  const label = (t: PointedTarget) => `${t.name} ${t.number}`.trim();
</script>

<ManualScreen
  {opened}
  view="references"
  keys={keysOfReferences}
  where={tab === 'targets' ? `${targets.length} targets` : current ? `page ${current.folio}` : `${references.length} references`}
>
  {#if view}
    <div class="references">
      <Arcs
        divisions={proof.divisions}
        pages={proof.pages}
        {references}
        chosen={tab === 'references' ? current : undefined}
        {division}
        ondivision={(id) => {
          division = id;
          at = 0;
        }}
        onreference={(id) => {
          tab = 'references';
          [words, looseOnly, division, form, target] = ['', false, '', '', null];
          at = Math.max(
            0,
            references.findIndex((r) => r.id === id),
          );
          setTimeout(() => {
            rows?.show(at);
            rows?.focus();
          });
        }}
      />
      <section class="list" aria-label="Cross-references" bind:this={list}>
        <div class="bar">
          <span class="tabs" role="tablist">
            <button role="tab" aria-selected={tab === 'references'} class:on={tab === 'references'} onclick={() => (tab = 'references')}
              >{references.length} references</button
            >
            <button role="tab" aria-selected={tab === 'targets'} class:on={tab === 'targets'} onclick={() => (tab = 'targets')}
              >{view.targets.length} targets</button
            >
          </span>
          <input
            class="field words"
            placeholder="Words, number, folio"
            aria-label="Filter"
            bind:value={words}
            bind:this={field}
            oninput={() => (at = targetAt = 0)}
            onkeydown={(e) => {
              if (e.key === 'ArrowDown' || e.key === 'Enter') (tab === 'references' ? rows : targetRows)?.focus();
              else if (e.key === 'Escape') words = '';
              else return;
              e.preventDefault();
            }}
          />
          {#if tab === 'references'}
            <label><input type="checkbox" bind:checked={looseOnly} onchange={() => (at = 0)} /> ○ {looseCount} loose</label>
            <select class="field" aria-label="Division" bind:value={division} onchange={() => (at = 0)}>
              <option value="">all divisions</option>
              {#each proof.divisions as d (d.id)}<option value={d.id}>{d.number} {d.title}</option>{/each}
            </select>
            <select class="field" aria-label="Form" bind:value={form} onchange={() => (at = 0)}>
              <option value="">all forms</option>
              {#each view.forms as f (f.name)}<option value={f.name}>{f.label}</option>{/each}
            </select>
          {:else}
            <select class="field" aria-label="Kind" bind:value={kind} onchange={() => (targetAt = 0)}>
              <option value="">all kinds</option>
              {#each kinds as k (k)}<option value={k}>{targetKinds[k] ?? k}</option>{/each}
            </select>
            <label><input type="checkbox" bind:checked={unusedOnly} onchange={() => (targetAt = 0)} /> nobody points there</label>
            {#if view.terms > 0}<label title="Where a term first stands in a chapter, its word leads to what the glossary says"
                ><input
                  type="checkbox"
                  checked={view.termsLead}
                  onchange={(e) =>
                    void opened.act(() => api.listAct(manualId, writer, { do: 'leadTerms', name: e.currentTarget.checked ? 'yes' : null }))}
                /> terms lead to the glossary</label
              >{/if}
          {/if}
          {#if target}<button class="chip" onclick={() => (target = null)}>pointing at {label(target) || target.title} ✕</button>{/if}
          {#if marked.size > 0}<button class="chip" onclick={() => marked.clear()}>{marked.size} marked ✕</button>{/if}
        </div>
        {#if tab === 'references'}
          <Rows
            items={shown}
            rowHeight={47}
            label="References"
            bind:this={rows}
            bind:at
            onkey={key}
            onopen={open}
            multiple
            chosen={(r) => marked.has(r.id)}
          >
            {#snippet row(r: Pointing)}<PointingRow reference={r} marked={marked.has(r.id)} />{/snippet}
            {#snippet empty()}
              <p class="none">
                {references.length === 0
                  ? 'No reference stands in this manual yet. In Write, Ctrl ; and x puts one in: it can never name a wrong page.'
                  : 'No reference fits.'}
              </p>
            {/snippet}
          </Rows>
          {#if current && isLoose(current)}
            <Nearest
              bind:this={nearest}
              {manualId}
              reference={current}
              composition={view.composition}
              together={alike.length}
              all={together}
              onall={(all) => (together = all)}
              onpoint={(to) => void point(picked(), to)}
              onplain={() => void act({ do: 'makePlain', references: picked() })}
              onsearch={(from) => (panel = { kind: 'point', at: from, references: picked() })}
            />
          {:else if current}
            <p class="acts">
              <span><kbd class="key">Enter</kbd> open</span> <span><kbd class="key">p</kbd> point elsewhere</span>
              <span><kbd class="key">f</kbd> another form</span> <span><kbd class="key">d</kbd> plain text</span>
              <span><kbd class="key">x</kbd> mark</span> <span><kbd class="key">a</kbd> mark all shown</span>
            </p>
          {/if}
        {:else}
          <Rows items={targets} rowHeight={30} label="Targets" bind:this={targetRows} bind:at={targetAt} onkey={targetKey} onopen={who}>
            {#snippet row(t: PointedTarget)}<TargetRow target={t} label={label(t)} />{/snippet}
            {#snippet empty()}<p class="none">Nothing that can be pointed at fits.</p>{/snippet}
          </Rows>
          <p class="acts">
            <span><kbd class="key">Enter</kbd> who points there</span> <span><kbd class="key">r</kbd> rename an anchor</span>
            <span><kbd class="key">Del</kbd> take out an anchor that nobody points at</span>
          </p>
        {/if}
      </section>
    </div>
  {:else}<p class="none">Reading the references …</p>{/if}
</ManualScreen>
{#if panel?.kind === 'point'}
  <ReferencePanel
    {manualId}
    anchor={panel.at}
    label={panel.references.length === 1 ? 'Point at' : `Point ${panel.references.length} references at`}
    near={current?.division ?? ''}
    placeOnly
    onchoose={(to) => {
      const ids = panel!.references;
      panel = null;
      void point(ids, to);
    }}
    onclose={() => {
      panel = null;
      rows?.focus();
    }}
  />
{:else if panel?.kind === 'form' && view}
  <Pick
    label={panel.references.length === 1 ? 'Form' : `Form of ${panel.references.length} references`}
    choices={view.forms.map((f) => ({ name: f.label, form: f.name }))}
    anchor={panel.at}
    onchoose={(f) => {
      const ids = panel!.references;
      panel = null;
      void act({ do: 'form', references: ids, to: f.form }).then(() => rows?.focus());
    }}
    onclose={() => {
      panel = null;
      rows?.focus();
    }}
  />
{:else if panel?.kind === 'anchor'}
  <AskWords
    label="Name of the anchor"
    text={targets[targetAt]?.title ?? ''}
    does="rename"
    anchor={panel.at}
    onchoose={(name) => {
      const ids = panel!.references;
      panel = null;
      void act({ do: 'renameAnchor', references: ids, to: name }).then(() => targetRows?.focus());
    }}
    onclose={() => {
      panel = null;
      targetRows?.focus();
    }}
  />
{/if}

<style>
  .references {
    display: grid;
    grid-template-columns: minmax(250px, 357px) minmax(0, 1fr);
    min-height: 0;
  }
  .list {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr) auto;
    min-height: 0;
    min-width: 0;
    border-left: 1px solid var(--rule);
    background: var(--paper);
  }
  .bar {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px 12px;
    padding: 0 14px;
    min-height: 44px;
    background: var(--board);
    border-bottom: 1px solid var(--rule);
    font-size: 12.5px;
  }
  .tabs {
    display: flex;
    align-self: stretch;
  }
  .tabs button {
    padding: 10px 8px;
    color: var(--ink-soft);
    cursor: pointer;
  }
  .tabs .on {
    color: var(--ink);
    font-weight: 600;
    box-shadow: inset 0 -2px 0 var(--bottle);
  }
  .bar .field {
    width: 150px;
    padding: 4px 7px;
  }
  .bar .words {
    width: 170px;
  }
  .chip {
    padding: 2px 9px;
    border: 1px solid var(--bottle);
    border-radius: 10px;
    background: var(--bottle-tint);
    max-width: 220px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    cursor: pointer;
  }
  .acts {
    display: flex;
    gap: 16px;
    padding: 7px 14px;
    border-top: 1px solid var(--rule);
    background: var(--board);
    font-size: 12px;
    color: var(--ink-soft);
    white-space: nowrap;
    overflow: hidden;
  }
  .none {
    padding: 24px;
    color: var(--ink-soft);
  }
  @media (max-width: 860px) {
    .references {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: minmax(0, 1fr);
    }
    .references > :global(.arcs) {
      display: none;
    }
  }
</style>
