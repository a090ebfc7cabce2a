<script lang="ts">
  // The shelf of looks: each as a small spread, with its paper and who wears it; copied, renamed, given away, taken in.
  import GiveLook from '../look/GiveLook.svelte';
  import { address, api, type EarlierLook, type ShelfLook, type ShelfLookOrder, type ShelfManual } from '../shared/api';
  import { loadFaces, withFaces } from '../shared/faces';
  import { notices } from '../shared/notices.svelte';
  import Dialog from '../ui/Dialog.svelte';

  interface Props {
    manuals: readonly ShelfManual[];
    onclose: () => void;
  }
  let { manuals, onclose }: Props = $props();

  let looks = $state.raw<ShelfLook[] | null>(null);
  let spreads = $state.raw<Record<string, string>>({});
  let chosenName = $state('');
  let naming = $state<'copy' | 'rename' | null>(null);
  let wanted = $state('');
  let giving = $state(false);
  let faults = $state.raw<{ file: string; said: readonly { place: string; says: string }[] } | null>(null);
  let earlier = $state.raw<{ name: string; versions: EarlierLook[] } | null>(null);
  let report = $state.raw<{ name: string; lines: readonly string[] } | null>(null);
  let fileInput = $state<HTMLInputElement>();
  const chosen = $derived(looks?.find((l) => l.name === chosenName) ?? looks?.[0]);

  void loadFaces();
  /** @param chosenNow the look to choose when the list has it: before that the first would seem chosen */
  async function load(chosenNow?: string) {
    try {
      looks = await api.looks();
      if (chosenNow !== undefined) chosenName = chosenNow;
      for (const l of looks)
        if (spreads[`${l.name} ${l.version}`] === undefined) {
          const answer = await fetch(address(`/api/looks/spread?name=${encodeURIComponent(l.name)}`));
          spreads = { ...spreads, [`${l.name} ${l.version}`]: answer.ok ? await answer.text() : '' };
        }
    } catch (e) {
      notices.problem(e);
    }
  }
  void load();

  async function showEarlier(name: string) {
    try {
      earlier = earlier?.name === name ? null : { name, versions: await api.earlierLooks(name) };
    } catch (e) {
      notices.problem(e);
    }
  }

  async function bringBack(name: string, version: number) {
    earlier = null;
    await act({ do: 'bringBack', name, version });
  }

  const fileOf = (name: string) => address(`/api/looks/file?name=${encodeURIComponent(name)}`);

  async function act(order: Partial<ShelfLookOrder> & { do: string }, file = ''): Promise<boolean> {
    try {
      const done = await api.lookAct(order);
      faults = done.faults.length > 0 ? { file, said: done.faults } : null;
      if (done.refused) {
        if (done.faults.length === 0) notices.problem(new Error(done.refused));
        return false;
      }
      naming = null;
      await load(done.name);
      return true;
    } catch (e) {
      notices.problem(e);
      return false;
    }
  }

  async function takeOut(look: ShelfLook) {
    const text = await (await fetch(fileOf(look.name))).text();
    if (await act({ do: 'takeOut', name: look.name })) {
      chosenName = '';
      notices.tell(`The look “${look.name}” was taken off the shelf.`, () => void act({ do: 'keep', file: text }));
    }
  }

  async function takeFile(input: HTMLInputElement) {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    report = null;
    if (/\.(docx|dotx)$/i.test(file.name)) {
      try {
        const taken = await api.lookOfDocument(file);
        await load(taken.name);
        report = { name: taken.name, lines: taken.report };
      } catch (e) {
        notices.problem(e);
      }
    } else if (file.size > 20_000_000) notices.problem(new Error(`${file.name} is too large for a look.`));
    else await act({ do: 'keep', file: await file.text() }, file.name);
  }

  function name(kind: 'copy' | 'rename') {
    naming = kind;
    wanted = kind === 'copy' ? `${chosen?.name ?? ''}, ours` : (chosen?.name ?? '');
  }
</script>

<Dialog title="Looks" wide {onclose}>
  <div class="looks">
    <ul>
      {#each looks ?? [] as l (l.name)}
        <li>
          <button
            class="look"
            class:on={l.name === chosen?.name}
            aria-current={l.name === chosen?.name ? 'true' : undefined}
            onclick={() => ((chosenName = l.name), (naming = null), (giving = false))}
          >
            <span class="spread" aria-hidden="true">{@html withFaces(spreads[`${l.name} ${l.version}`] ?? '')}</span>
            <b>{l.name}</b>
            <i
              >{l.paper}{l.version > 0 ? ` · version ${l.version}` : ''} · {l.wearers.length === 0
                ? 'worn by none'
                : `worn by ${l.wearers.length}`}</i
            >
          </button>
        </li>
      {/each}
    </ul>
    {#if chosen}
      <section aria-label={chosen.name}>
        <h3>{chosen.name}</h3>
        {#if chosen.wearers.length > 0}
          <p class="soft">
            Worn by {chosen.wearers.map((w) => w.title + (w.isPinned ? ' (another version)' : '')).join(', ')}.
          </p>
        {/if}
        <div class="acts">
          <button class="btn" onclick={() => name('copy')}>Copy …</button>
          {#if chosen.version > 0}
            <button class="btn" onclick={() => name('rename')}>Rename …</button>
            <button class="btn" onclick={() => void takeOut(chosen)}>Take off</button>
            {#if chosen.version > 1}
              <button class="btn" aria-expanded={earlier?.name === chosen.name} onclick={() => void showEarlier(chosen.name)}
                >Earlier versions …</button
              >
            {/if}
          {/if}
          <a class="btn" href={fileOf(chosen.name)} download="{chosen.name}.kivrenlook">To a file</a>
          <button class="btn" aria-expanded={giving} onclick={() => (giving = !giving)}>Give to manuals …</button>
        </div>
        {#if naming}
          <form
            onsubmit={(e) => {
              e.preventDefault();
              void act({ do: naming!, name: chosen.name, to: wanted });
            }}
          >
            <label for="look-name">{naming === 'copy' ? 'Name of the copy' : 'New name'}</label>
            <input id="look-name" class="field" maxlength="80" bind:value={wanted} />
            <button class="btn do">{naming === 'copy' ? 'Copy' : 'Rename'}</button>
          </form>
        {/if}
        {#if earlier?.name === chosen.name}
          <ul class="earlier" aria-label="Earlier versions">
            {#each earlier.versions as v (v.version)}
              <li>
                <span>version {v.version}, {new Date(v.keptAt).toLocaleDateString()}{v.next ? `; then ${v.next}` : ''}</span>
                <button class="btn small" onclick={() => void bringBack(chosen.name, v.version)}>Bring back</button>
              </li>
            {/each}
          </ul>
        {/if}
        {#if giving}
          {#key chosen.name}<GiveLook
              name={chosen.name}
              file={null}
              {manuals}
              chosen={chosen.wearers.filter((w) => w.isPinned).map((w) => w.id)}
              ondone={() => ((giving = false), void load())}
            />{/key}
        {/if}
      </section>
    {/if}
  </div>
  {#if faults}
    <div role="alert" class="faults">
      <b>{faults.file}</b> is no look that can be worn:
      <ul>
        {#each faults.said.slice(0, 40) as f, i (i)}<li><code>{f.place}</code> {f.says}</li>{/each}
      </ul>
    </div>
  {/if}
  {#if report}
    <div class="report" role="status">
      <b>“{report.name}” was made of the document.</b>
      <ul>
        {#each report.lines as line, i (i)}<li>{line}</li>{/each}
      </ul>
    </div>
  {/if}
  <div class="acts">
    <button class="btn" onclick={() => fileInput?.click()}>Take from a file or a document …</button>
    <button class="btn do" onclick={onclose}>Done</button>
    <input
      class="hidden"
      type="file"
      accept=".kivrenlook,.docx,.dotx"
      aria-label="File to take a look from"
      bind:this={fileInput}
      onchange={(e) => void takeFile(e.currentTarget)}
    />
  </div>
</Dialog>

<style>
  .looks {
    display: grid;
    grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr);
    gap: 18px;
  }
  .looks > ul {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
    gap: 10px;
    align-content: start;
  }
  .look {
    display: grid;
    width: 100%;
    gap: 2px;
    padding: 8px;
    border: 1px solid transparent;
    border-radius: var(--r);
    text-align: left;
    cursor: pointer;
  }
  .look.on {
    border-color: var(--bottle);
    background: var(--bottle-tint);
  }
  .earlier li {
    display: flex;
    gap: 8px;
    align-items: baseline;
    justify-content: space-between;
    padding: 3px 0;
    font-size: 12.5px;
  }
  .small {
    padding: 2px 8px;
    font-size: 12px;
  }
  .spread {
    display: grid;
    place-items: center;
    height: 104px;
    background: var(--desk);
    padding: 6px;
  }
  .spread :global(> svg) {
    max-width: 100%;
    height: 92px;
  }
  .look b {
    font: 500 15px/1.25 var(--text);
  }
  .look i,
  .soft {
    color: var(--ink-soft);
    font-style: normal;
    font-size: 12px;
  }
  h3 {
    font: 500 18px/1.25 var(--text);
  }
  .acts,
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    align-items: center;
    padding: 8px 0;
  }
  form .field {
    flex: 1 1 160px;
    width: auto;
  }
  .faults {
    padding: 8px 0;
    color: var(--madder);
    font-size: 12.5px;
  }
  .faults ul,
  .report ul {
    max-height: 150px;
    overflow: auto;
  }
  .report {
    padding: 8px 0;
    font-size: 12.5px;
  }
  .hidden {
    display: none;
  }
  @media (max-width: 760px) {
    .looks {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
