<script lang="ts">
  // The look that the manual wears: a spread of this manual in it, and the looks it could wear, tried on by one press and taken off by one.
  import ManualScreen from '../frame/ManualScreen.svelte';
  import PrintedPage from '../live/PrintedPage.svelte';
  import { OpenedManual } from '../live/opened-manual.svelte';
  import { writer } from '../live/tab';
  import { address, api, type LookView, type PutOn } from '../shared/api';
  import { loadFaces } from '../shared/faces';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import { keysOfLook } from './keys-of-look';
  import { spreadOf, tellingPlaces } from './spreads';

  interface Props {
    manualId: string;
  }
  let { manualId }: Props = $props();

  // svelte-ignore state_referenced_locally
  const opened = new OpenedManual(manualId);
  const proof = opened.proof;
  let view = $state.raw<LookView | null>(null);
  let place = $state('a chapter opens');
  let sheet = $state<number | null>(null);
  /** What there was in the look before. */
  let before = $state.raw<{ look: string; file: string | null; pages: number; loose: number } | null>(null);
  let faults = $state.raw<{ file: string; said: PutOn['faults'] } | null>(null);
  let chooser = $state<HTMLInputElement>();

  const places = $derived(tellingPlaces(proof.divisions));
  const chosen = $derived(sheet ?? places.find((p) => p.name === place)?.sheet ?? places[0]?.sheet ?? 0);
  const spread = $derived(spreadOf(chosen, proof.pages.length));
  const worn = $derived(view?.looks.find((l) => l.isWorn));

  void opened.start();
  void loadFaces();
  $effect(() => () => opened.stop());
  route.begin();

  let reading = false;
  $effect(() => {
    if (opened.overtakes(view?.composition) && !reading) void read();
  });
  async function read() {
    reading = true;
    try {
      do view = await api.look(manualId);
      while (view.composition < proof.number);
    } catch (e) {
      notices.problem(e);
    } finally {
      reading = false;
    }
  }

  const fileOf = (look: string) => address(`/api/manuals/${manualId}/look/file?name=${encodeURIComponent(look)}`);

  async function putOn(look: { name: string } | { file: string }, file = '') {
    const was = worn && {
      look: worn.name,
      file: worn.isOwn ? await (await fetch(fileOf(worn.name))).text() : null,
      pages: proof.pages.length,
      loose: proof.told.length,
    };
    faults = null;
    await opened.act(async () => {
      const done = await api.putOn(manualId, writer, look);
      if (done.faults.length > 0) faults = { file, said: done.faults };
      else if (!done.refused) before = was ?? null;
      return done;
    });
  }

  async function takeFile(input: HTMLInputElement) {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    if (file.size > 1_000_000) return notices.problem(new Error(`${file.name} is too large for a look.`));
    await putOn({ file: await file.text() }, file.name);
  }

  function walk(event: KeyboardEvent) {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    const buttons = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('button.look')];
    const next = buttons[buttons.indexOf(document.activeElement as HTMLElement) + (event.key === 'ArrowDown' ? 1 : -1)];
    if (!next) return;
    event.preventDefault();
    next.focus();
  }

  function turn(by: 1 | -1) {
    const next = by > 0 ? (spread.at(-1) ?? 0) + 1 : (spread[0] ?? 0) - 1;
    if (next >= 0 && next < proof.pages.length) sheet = next;
  }

  function turnByKey(event: KeyboardEvent) {
    if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
    event.preventDefault();
    turn(event.key === 'ArrowRight' ? 1 : -1);
  }

  const many = (count: number, one: string) => `${count} ${one}${count === 1 ? '' : 's'}`;
</script>

<ManualScreen {opened} view="look" keys={keysOfLook} where={worn?.name ?? ''}>
  {#if view}
    <div class="looks">
      <section class="left" aria-label="Looks">
        <div role="toolbar" aria-orientation="vertical" aria-label="Looks to put on" tabindex="-1" onkeydown={walk}>
          {#each view.looks as l (l.name + l.isOwn)}
            <button
              class="look"
              class:on={l.isWorn}
              aria-current={l.isWorn ? 'true' : undefined}
              onclick={() => !l.isWorn && void putOn({ name: l.name })}
            >
              <span>{l.name}</span>
              <i>{l.paper}{l.isOwn ? ' · carried by this manual' : ''}</i>
              {#if l.isWorn}<i class="worn">worn</i>{/if}
            </button>
          {/each}
        </div>
        <div class="acts">
          <button class="btn small" onclick={() => chooser?.click()}>Put on from a file …</button>
          {#if worn}<a class="btn small" href={fileOf(worn.name)} download="{worn.name}.kivrenlook">Give to a file</a>{/if}
          <input
            bind:this={chooser}
            type="file"
            accept=".kivrenlook"
            hidden
            aria-label="A look’s file"
            onchange={(e) => void takeFile(e.currentTarget)}
          />
        </div>
        {#if faults}
          <div class="faults" role="alert">
            <p><b>{faults.file}</b> is not worn: {many(faults.said.length, 'fault')}.</p>
            <ul>
              {#each faults.said.slice(0, 40) as f, i (i)}<li><code>{f.place}</code> {f.says}</li>{/each}
            </ul>
            <button class="btn small" onclick={() => (faults = null)}>Close</button>
          </div>
        {/if}
      </section>
      <section class="middle" aria-label="A spread of this manual">
        <header>
          <span class="chips" role="group" aria-label="Which spread">
            {#each places as p (p.name)}<button
                class="chip"
                class:on={sheet === null && p.name === place}
                aria-pressed={sheet === null && p.name === place}
                onclick={() => ((place = p.name), (sheet = null))}>{p.name}</button
              >{/each}
          </span>
          {#if before && before.look !== worn?.name && !proof.composing}
            <p class="soft" data-compared>
              {before.look}: {many(before.pages, 'page')}, {many(before.loose, 'loose end')}. {worn?.name}: {many(
                proof.pages.length,
                'page',
              )}, {many(proof.told.length, 'loose end')}.
              <button class="btn small" onclick={() => void putOn(before!.file ? { file: before!.file } : { name: before!.look })}
                >Back to {before.look}</button
              >
            </p>
          {/if}
        </header>
        <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
        <div
          class="spread"
          role="group"
          aria-label="Pages {spread.map((s) => proof.pages[s]?.folio).join(' and ')}"
          tabindex="0"
          onkeydown={turnByKey}
        >
          {#each spread as s (s)}
            {#if proof.pages[s]}<div class="page"><PrintedPage {proof} page={proof.pages[s]} block={null} /></div>{/if}
          {/each}
        </div>
        <div class="turn">
          <button class="btn small" onclick={() => turn(-1)} aria-label="The pages before">←</button>
          <span class="soft">{spread.map((s) => proof.pages[s]?.folio || '–').join(' · ')}</span>
          <button class="btn small" onclick={() => turn(1)} aria-label="The pages behind">→</button>
        </div>
      </section>
    </div>
  {:else}<p class="none soft">Reading the look …</p>{/if}
</ManualScreen>

<style>
  .looks {
    display: grid;
    grid-template-columns: 270px minmax(0, 1fr);
    grid-template-rows: minmax(0, 1fr);
    min-height: 0;
  }
  .left {
    overflow: auto;
    border-right: 1px solid var(--rule);
    padding-top: 8px;
  }
  .look {
    display: grid;
    width: 100%;
    padding: 8px 16px;
    text-align: left;
    cursor: pointer;
    border-left: 3px solid transparent;
  }
  .look:focus-visible {
    outline-offset: -3px;
  }
  .look:hover {
    background: var(--board);
  }
  .look span {
    font: 500 16px/1.3 var(--text);
  }
  .look i {
    color: var(--ink-soft);
    font-style: normal;
    font-size: 12px;
  }
  .look i.worn {
    color: var(--bottle);
  }
  .look.on {
    border-left-color: var(--bottle);
    background: rgb(29 90 75 / 0.12);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    padding: 12px 16px;
  }
  .small {
    padding: 3px 9px;
    font-size: 12px;
  }
  .faults {
    margin: 0 12px 12px;
    padding: 8px 10px;
    border: 1px solid var(--madder);
    font-size: 12.5px;
  }
  .faults ul {
    max-height: 260px;
    margin: 6px 0;
    overflow: auto;
  }
  .faults li {
    padding: 3px 0;
  }
  .faults code {
    font-size: 11.5px;
    overflow-wrap: anywhere;
  }
  .middle {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr) auto;
    min-height: 0;
    background: var(--desk);
  }
  header {
    display: grid;
    gap: 6px;
    padding: 10px 16px;
  }
  .chips {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
  }
  .chip {
    padding: 2px 10px;
    border: 1px solid var(--rule);
    border-radius: 10px;
    background: var(--paper);
    font-size: 12.5px;
    cursor: pointer;
  }
  .chip.on {
    border-color: var(--bottle);
    font-weight: 600;
  }
  .spread {
    display: flex;
    justify-content: center;
    min-height: 0;
    padding: 4px 16px 10px;
    overflow: auto;
  }
  .page {
    flex: 0 1 auto;
    min-width: 0;
    height: 100%;
  }
  .page :global(.drawn),
  .page :global(svg) {
    width: auto;
    max-width: 100%;
    height: 100%;
  }
  .turn {
    display: flex;
    gap: 12px;
    justify-content: center;
    align-items: center;
    padding: 6px;
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
    .looks {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: max-content minmax(320px, 1fr);
      overflow: auto;
    }
    .left {
      border-right: 0;
      border-bottom: 1px solid var(--rule);
    }
  }
</style>
