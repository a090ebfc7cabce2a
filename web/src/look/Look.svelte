<script lang="ts">
  // The look that the manual wears, in the designer's hands: its parts, a spread of this manual in it, what a change comes to in all of
  // the manual; kept, or back to as it was.
  import { untrack } from 'svelte';
  import ManualScreen from '../frame/ManualScreen.svelte';
  import { OpenedManual } from '../live/opened-manual.svelte';
  import { address, api, type LookView, type ShelfLook } from '../shared/api';
  import { loadFaces } from '../shared/faces';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import Dialog from '../ui/Dialog.svelte';
  import Pick from '../ui/Pick.svelte';
  import type { Anchor } from '../ui/Popover.svelte';
  import { LookDraft, fileAddress } from './draft.svelte';
  import Edges from './Edges.svelte';
  import GiveLook from './GiveLook.svelte';
  import { keysOfLook } from './keys-of-look';
  import type { Unit } from './measures';
  import PartList from './PartList.svelte';
  import PartPanel from './PartPanel.svelte';
  import { opened as openedParcel } from './parcel';
  import { groupsOf, partOf, type Forms } from './parts';
  import Spread from './Spread.svelte';
  import Verdict, { type RefusedFile } from './Verdict.svelte';
  import { tellingPlaces } from './spreads';
  import { valueAt as valueAtPlace, type Json, type Part } from './tree';

  interface Props {
    manualId: string;
  }
  let { manualId }: Props = $props();

  // svelte-ignore state_referenced_locally
  const opened = new OpenedManual(manualId);
  const proof = opened.proof;
  // svelte-ignore state_referenced_locally
  const draft = new LookDraft(manualId, proof);
  let view = $state.raw<LookView | null>(null);
  let forms = $state.raw<Forms | null>(null);
  let place = $state('in a chapter');
  let chosenId = $state('masters[0]');
  let unit = $state<Unit>((localStorage.getItem('kivren.unit') as Unit | null) ?? 'mm');
  /** A look's file that cannot be worn. */
  let refused = $state.raw<RefusedFile | null>(null);
  let trying = $state.raw<Anchor | null>(null);
  let chooser = $state<HTMLInputElement>();
  let keeping = $state(false);
  let shelf = $state.raw<ShelfLook[]>([]);
  /** The look that was kept here and that others wear too: whether they are to have it is asked. */
  let everywhere = $state<string | null>(null);

  const places = $derived(tellingPlaces(proof.divisions));
  const worn = $derived(view?.looks.find((l) => l.isWorn));
  const groups = $derived(draft.look === null ? [] : groupsOf(draft.look));
  const part = $derived(groups.flatMap((g) => g.parts).find((p) => p.id === chosenId) ?? groups[0]?.parts[0]);
  const partIds = (placesOf: readonly string[]) => new Set(placesOf.flatMap((p) => partOf(groups, p)?.id ?? []));
  /** The look on the shelf of the name that is worn here. */
  const shelved = $derived(shelf.find((l) => l.name === worn?.name));
  const isOlder = $derived(shelved?.version !== 0 && (shelved?.wearers.some((w) => w.id === manualId && w.isPinned) ?? false));
  /** Looks that ship are never changed: who wears one is not asked. */
  const others = $derived(shelved && shelved.version > 0 ? shelved.wearers.filter((w) => w.id !== manualId) : []);
  /** Not the look that is worn with a change, but another one. */
  const isOther = $derived((draft.look as Part | null)?.name !== (draft.before as Part | null)?.name);
  const wrong = $derived(partIds([...draft.faults, ...draft.doubts].map((f) => f.place)));
  const changed = $derived(
    draft.changed && !isOther && draft.before !== null && draft.look !== null ? changedParts(draft.before, draft.look) : new Set<string>(),
  );

  void opened.start();
  void loadFaces();
  void api
    .lookSettings()
    .then((f) => (forms = f as Forms))
    .catch((e: unknown) => notices.problem(e));
  $effect(() => () => opened.stop());
  route.begin();

  let reading = false;
  $effect(() => {
    if (opened.overtakes(view?.composition) && !reading) void read();
  });
  async function read() {
    reading = true;
    try {
      do {
        view = await api.look(manualId);
        if (worn) await draft.read(worn.name);
        shelf = await api.looks();
      } while (view.composition < proof.number);
    } catch (e) {
      notices.problem(e);
    } finally {
      reading = false;
    }
  }

  // The pages in sight are those of the place that is chosen; the text may have changed under them.
  $effect(() => {
    const at = places.find((p) => p.name === place);
    if (!at || proof.number === 0) return;
    untrack(() => draft.see({ division: at.division, page: at.page }));
  });

  /** Parts in which the two say otherwise. */
  function changedParts(before: Json, now: Json): Set<string> {
    const was = groupsOf(before);
    const old = (id: string) => was.flatMap((g) => g.parts).find((p) => p.id === id);
    const said = (look: Json, sections: (typeof groups)[number]['parts'][number]['sections']) =>
      JSON.stringify(
        sections.map((s) =>
          s.of === 'look' || s.of === 'blockMeasures'
            ? (s.only ?? []).map((name) => valueOf(look, s.place ? `${s.place}.${name}` : name))
            : valueOf(look, s.place),
        ),
      );
    return new Set(
      groups
        .flatMap((g) => g.parts)
        .filter((p) => !old(p.id) || said(before, p.sections) !== said(now, p.sections))
        .map((p) => p.id),
    );
  }
  const valueOf = (look: Json, at: string) => (at ? (JSON.stringify(valueAtPlace(look, at)) ?? '') : '');

  function go(to: string) {
    const found = partOf(groups, to);
    if (!found) return;
    chosenId = found.id;
    // The panel is there after the next drawing.
    requestAnimationFrame(() => {
      const row = document.querySelector<HTMLElement>(`[data-setting="${CSS.escape(to)}"]`);
      row?.closest('details')?.setAttribute('open', '');
      row?.scrollIntoView({ block: 'nearest' });
      row?.querySelector<HTMLElement>('input, select, button')?.focus();
    });
  }

  async function keep(over = false) {
    keeping = true;
    await opened.act(async () => {
      const done = await draft.keep(over);
      return done ?? { act: 0, words: '', refused: `“${worn?.name}” is not worn so: ${draft.faults[0]?.says ?? ''}` };
    });
    keeping = false;
    await read();
    if (!draft.changed && others.length > 0) everywhere = draft.base;
  }

  async function keepOnShelf() {
    if (!worn) return;
    try {
      const done = await api.lookAct({ do: 'keep', manual: manualId });
      if (done.refused) throw new Error(done.refused);
      shelf = await api.looks();
      notices.tell(`“${done.name}” is on the shelf of looks, version ${shelf.find((l) => l.name === done.name)?.version ?? 1}.`);
    } catch (e) {
      notices.problem(e);
    }
  }

  async function seeNewer() {
    if (!worn) return;
    try {
      const answer = await fetch(address(`/api/looks/file?name=${encodeURIComponent(worn.name)}`));
      draft.become(JSON.parse(await answer.text()) as Json);
    } catch (e) {
      notices.problem(e);
    }
  }

  async function tryOn(name: string) {
    trying = null;
    try {
      const answer = await fetch(address(`/api/looks/file?name=${encodeURIComponent(name)}`));
      draft.become(JSON.parse(await answer.text()) as Json);
    } catch (e) {
      notices.problem(e);
    }
  }

  async function takeFile(input: HTMLInputElement) {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    if (file.size > 20_000_000) return notices.problem(new Error(`${file.name} is too large for a look.`));
    try {
      const text = await openedParcel(await file.text());
      const seen = await api.glimpse(manualId, { file: text, division: null, page: 0 });
      if (seen.faults.length > 0) refused = { file: file.name, said: seen.faults };
      else {
        refused = null;
        draft.become(JSON.parse(text) as Json);
      }
    } catch (e) {
      notices.problem(e);
    }
  }

  function turn(by: 1 | -1) {
    const sheets = draft.pages.map((p) => p.sheet);
    const next = by > 0 ? (sheets.at(-1) ?? 0) + 1 : (sheets[0] ?? 0) - 1;
    if (next < 0 || next >= draft.sheets) return;
    place = '';
    draft.see({ division: null, page: next });
  }

  function goToFolio(text: string) {
    const sheet = proof.pages.findIndex((p) => p.folio === text.trim());
    if (sheet < 0) return;
    place = '';
    draft.see({ division: null, page: sheet });
  }

  function seeDivision(division: string) {
    place = '';
    draft.see({ division, page: 0 });
  }

  function key(event: KeyboardEvent) {
    const inField = (event.target as HTMLElement).closest('input:not([type=checkbox]),textarea,select');
    const letter = event.key.toLowerCase();
    if (event.ctrlKey && !event.altKey && (letter === 'z' || letter === 'y')) {
      // In a field its own letters are taken back; once it is left, the look.
      const typing = inField instanceof HTMLElement && (inField.dataset.typed !== undefined || inField.dataset.search !== undefined);
      if (!typing && draft.undo(letter === 'y' || event.shiftKey)) event.preventDefault();
    } else if (event.key === '/' && !inField) {
      document.querySelector<HTMLElement>('[data-search]')?.focus();
      event.preventDefault();
    } else if (event.ctrlKey && event.key === 'Enter' && draft.changed) {
      void keep();
      event.preventDefault();
    }
  }

  function setUnit(next: Unit) {
    unit = next;
    localStorage.setItem('kivren.unit', next);
  }
</script>

<svelte:window onkeydowncapture={key} />
<ManualScreen {opened} view="look" keys={keysOfLook} where={[worn?.name, part?.name].filter(Boolean).join(' › ')}>
  {#if view && forms && draft.look !== null && part}
    <div class="look">
      <header>
        <div class="name">
          <b>{worn?.name ?? ''}</b>
          <span class="acts">
            <button class="link" onclick={(e) => (trying = e.currentTarget)}>Try on another …</button>
            <button class="link" onclick={() => chooser?.click()}>from a file …</button>
            {#if worn}<a class="link" href={fileAddress(manualId, worn.name) + '&whole=true'} download="{worn.name}.kivrenlook">to a file</a
              >
              {#if shelved?.version !== 0}<button class="link" onclick={() => void keepOnShelf()}>on the shelf</button>{/if}{/if}
          </span>
          <input
            bind:this={chooser}
            type="file"
            accept=".kivrenlook"
            hidden
            aria-label="A look’s file"
            onchange={(e) => void takeFile(e.currentTarget)}
          />
        </div>
        <Edges
          outcome={draft.changed ? draft.outcome : null}
          working={draft.working}
          pages={proof.pages.length}
          divisions={proof.divisions}
          ongo={seeDivision}
        />
        <div class="decide">
          <button class="btn" disabled={!draft.changed} onclick={() => draft.back()}>Back to as it was</button>
          <button class="btn do" disabled={!draft.changed || draft.faults.length > 0 || keeping} onclick={() => void keep()}>Keep</button>
        </div>
        <Verdict
          {draft}
          {refused}
          {isOlder}
          {isOther}
          onnewer={() => void seeNewer()}
          onkeep={() => void keep(true)}
          onclose={() => (refused = null)}
          ongo={go}
          onsee={(sheet) => ((place = ''), draft.see({ division: null, page: sheet }))}
        />
      </header>
      <section class="left" aria-label="Parts">
        <PartList look={draft.look} {forms} {groups} chosen={part.id} {changed} {wrong} onchoose={(p) => (chosenId = p.id)} ongo={go} />
      </section>
      <section class="middle" aria-label="A spread of this manual">
        <div class="which">
          <span class="chips" role="group" aria-label="Which spread">
            {#each places as p (p.name)}<button
                class="chip"
                class:on={p.name === place}
                aria-pressed={p.name === place}
                onclick={() => (place = p.name)}>{p.name}</button
              >{/each}
          </span>
          <span class="turn">
            <button class="btn small" onclick={() => turn(-1)} aria-label="The pages before">←</button>
            <input
              class="field folio"
              aria-label="Page"
              value={draft.pages.map((p) => p.folio || '–').join(' · ')}
              onchange={(e) => goToFolio(e.currentTarget.value)}
            />
            <button class="btn small" onclick={() => turn(1)} aria-label="The pages behind">→</button>
          </span>
        </div>
        <Spread
          {draft}
          {unit}
          chosen={(at) => partOf(groups, at)?.id === part.id}
          onchoose={(at) => (chosenId = partOf(groups, at)?.id ?? chosenId)}
          onturn={turn}
        />
      </section>
      <section class="right" aria-label="Settings of {part.name}">
        {#key part.id}<PartPanel
            {draft}
            {forms}
            {part}
            {unit}
            onunit={setUnit}
            ongo={go}
            isIn={(at) => partOf(groups, at)?.id === part.id}
            roles={(opened.manual?.roles ?? []).map((r) => r.name)}
            {manualId}
            composition={proof.number}
          />{/key}
      </section>
    </div>
    {#if everywhere && worn}
      <Dialog title="This look is worn by others too" onclose={() => (everywhere = null)}>
        <p>It is changed here. The others wear it as it was, until they are given this one.</p>
        <GiveLook name={worn.name} file={everywhere} manuals={others} chosen={others.map((o) => o.id)} ondone={() => (everywhere = null)} />
        <button class="btn" onclick={() => (everywhere = null)}>Here only</button>
      </Dialog>
    {/if}
    {#if trying}
      <Pick
        label="Try on"
        anchor={trying}
        choices={shelf.filter((l) => l.name !== worn?.name).map((l) => ({ name: l.name, note: l.paper }))}
        onchoose={(l) => void tryOn(l.name)}
        onclose={() => (trying = null)}
      />
    {/if}
  {:else}<p class="none soft">Reading the look …</p>{/if}
</ManualScreen>

<style>
  .look {
    display: grid;
    grid-template-columns: 208px minmax(0, 1fr) 312px;
    grid-template-rows: auto minmax(0, 1fr);
    height: 100%;
    min-height: 0;
  }
  header {
    grid-column: 1 / -1;
    display: grid;
    grid-template-columns: 196px minmax(0, 1fr) max-content;
    gap: 4px 16px;
    align-items: center;
    padding: 7px 14px;
    border-bottom: 1px solid var(--rule);
  }
  .name b {
    display: block;
    font: 500 16px/1.2 var(--text);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 0 9px;
  }
  .link {
    color: var(--woad);
    font-size: 12px;
    cursor: pointer;
    text-align: left;
  }
  .link:hover {
    text-decoration: underline;
  }
  .decide {
    display: flex;
    gap: 6px;
  }
  .small {
    padding: 2px 8px;
    font-size: 12px;
  }
  .left,
  .right {
    overflow: auto;
    min-height: 0;
    background: var(--board);
  }
  .left {
    border-right: 1px solid var(--rule);
    padding-bottom: 12px;
  }
  .right {
    border-left: 1px solid var(--rule);
    background: var(--paper);
  }
  .middle {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    min-height: 0;
    min-width: 0;
    background: var(--desk);
  }
  .which {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 12px;
    justify-content: space-between;
    padding: 8px 14px;
  }
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
  }
  .chip {
    padding: 1px 9px;
    border: 1px solid var(--rule);
    border-radius: 10px;
    background: var(--paper);
    font-size: 12px;
    cursor: pointer;
  }
  .chip.on {
    border-color: var(--bottle);
    font-weight: 600;
  }
  .turn {
    display: flex;
    gap: 5px;
    align-items: center;
  }
  .folio {
    width: 86px;
    padding: 2px 6px;
    text-align: center;
    font-size: 12px;
  }
  .soft {
    color: var(--ink-soft);
    font-size: 12.5px;
  }
  .none {
    display: grid;
    place-content: center;
  }
  @media (max-width: 860px) {
    .look {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto 200px minmax(340px, 1fr) auto;
      overflow: auto;
    }
    header {
      grid-template-columns: minmax(0, 1fr);
    }
    .left,
    .right {
      border: 0;
      border-top: 1px solid var(--rule);
    }
    .right {
      overflow: visible;
    }
  }
</style>
