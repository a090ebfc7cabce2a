<script lang="ts">
  import { address, api, Offline, type ShelfManual } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import Sign from '../frame/Sign.svelte';
  import FirstPage from './FirstPage.svelte';
  import KeepPattern from './KeepPattern.svelte';
  import Looks from './Looks.svelte';
  import Mappings from './Mappings.svelte';
  import NewManual from './NewManual.svelte';
  import Sources from './Sources.svelte';
  import Spine from './Spine.svelte';

  let manuals = $state<ShelfManual[] | null>(null);
  let chosenId = $state<string | null>(sessionStorage.getItem('kivren.left'));
  let order = $state<'worked on' | 'title' | 'thickness'>('worked on');
  let words = $state('');
  let starting = $state(false);
  let keeping = $state(false);
  let mappingsShown = $state(false);
  let looksShown = $state(false);
  let busy = $state('');
  let fileInput = $state<HTMLInputElement>();
  let folderInput = $state<HTMLInputElement>();
  /** Documents, and what one may name; a saved site has much beside them. */
  const mayBeRead = (file: File) => /\.(docx|md|markdown|x?html?|xml|dbk|docbook|ent|mod|png|jpe?g|svg|gif|webp|bmp)$/i.test(file.name);
  let packageInput = $state<HTMLInputElement>();

  const shown = $derived(
    (manuals ?? [])
      .filter((m) => m.title.toLowerCase().includes(words.trim().toLowerCase()))
      .toSorted((a, b) =>
        order === 'title'
          ? a.title.localeCompare(b.title)
          : order === 'thickness'
            ? b.pages - a.pages
            : b.workedOn.localeCompare(a.workedOn),
      ),
  );
  const chosen = $derived(shown.find((m) => m.id === chosenId) ?? shown[0] ?? null);
  /** A shelf of so few has room to show each from the front. */
  const faced = $derived((manuals ?? []).length <= 2);
  const opened = 'kivren.opened';
  const isFirst = localStorage.getItem(opened) === null;
  function open(manual: string) {
    localStorage.setItem(opened, 'yes');
    route.manual(manual);
  }
  const pages = $derived((manuals ?? []).reduce((sum, m) => sum + m.pages, 0));

  // A manual that came just now has no pages yet; its spine grows when it was composed.
  let waits = 0;
  /** Said in the shelf's own place while the server cannot be reached. */
  let away = $state('');
  async function load() {
    try {
      manuals = await api.manuals();
      away = '';
      if (manuals.some((m) => m.pages === 0) && waits++ < 20) setTimeout(load, 800);
    } catch (e) {
      if (!(e instanceof Offline)) return notices.problem(e);
      away = 'The server cannot be reached. What is on the shelf shows as soon as it is back.';
      setTimeout(load, 1500);
    }
  }
  void load();

  async function doing(what: string, work: () => Promise<void>) {
    busy = what;
    try {
      await work();
    } catch (e) {
      notices.problem(e);
    } finally {
      busy = '';
    }
  }

  const sample = () =>
    doing('Bringing the sample manual', async () => {
      const made = await api.sample();
      await load();
      chosenId = made.id;
    });

  /** Packages come straight onto the shelf; other documents by way of their mapping. */
  const bring = (files: File[]) =>
    doing(files.length === 1 ? `Reading ${files[0]!.name}` : `Reading ${files.length} files`, async () => {
      const packages = files.filter((f) => f.name.toLowerCase().endsWith('.kivren'));
      for (const file of packages) {
        const made = await api.openPackage(file);
        await load();
        chosenId = made.id;
        const first = made.problems[0];
        notices.tell(
          first
            ? `${file.name} is on the shelf. ${made.problems.length} places need a look, the first: ${first.where}: ${first.what}`
            : `${file.name} is on the shelf.`,
        );
      }
      const documents = files.filter((f) => !packages.includes(f));
      if (documents.length > 0) route.bringIn((await api.startBringIn(documents)).id);
    });

  const remove = (manual: ShelfManual) =>
    doing('Deleting', async () => {
      await api.deleteManual(manual.id);
      await load();
      notices.tell(`“${manual.title}” was taken off the shelf.`, () =>
        doing('Putting it back', async () => {
          await api.restoreManual(manual.id);
          await load();
          chosenId = manual.id;
        }),
      );
    });

  function walk(event: KeyboardEvent) {
    const at = shown.findIndex((m) => m.id === chosen?.id);
    const next = event.key === 'ArrowRight' ? at + 1 : event.key === 'ArrowLeft' ? at - 1 : -1;
    const manual = shown[next];
    if (manual) {
      chosenId = manual.id;
      document.getElementById('spine-' + manual.id)?.focus();
      event.preventDefault();
    }
    if (event.key === 'Delete' && chosen) remove(chosen);
  }

  const when = (iso: string) =>
    new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'long', year: 'numeric', hour: '2-digit', minute: '2-digit' });
</script>

<svelte:head><title>Kivren: Shelf</title></svelte:head>
<svelte:window
  ondragover={(e) => e.preventDefault()}
  ondrop={(e) => {
    e.preventDefault();
    const files = [...(e.dataTransfer?.files ?? [])];
    if (files.length > 0) void bring(files);
  }}
/>
<div class="screen">
  <header>
    <div class="sign"><Sign />Kivren</div>
    <input class="field search" type="search" placeholder="Find a title…" aria-label="Find a title" bind:value={words} />
    <span class="soft right">{busy ? busy + '…' : ''}</span>
  </header>
  <main>
    <section class="wall" aria-label="Shelf">
      <div class="line">
        <h1>Shelf</h1>
        <span class="soft">{manuals ? `${manuals.length} ${manuals.length === 1 ? 'manual' : 'manuals'} · ${pages} pages` : ''}</span>
        <span class="right soft" role="group" aria-label="Order">
          by {#each ['worked on', 'title', 'thickness'] as const as o (o)}<button
              class="order"
              class:on={order === o}
              aria-pressed={order === o}
              onclick={() => (order = o)}>{o === 'worked on' ? 'last worked on' : o}</button
            >{/each}
        </span>
      </div>
      {#if isFirst && shown.length > 0 && !words}
        <p class="begin">
          To look around, open a manual: Enter, or a double click. To begin your own, take <b>New manual…</b>, or drop documents here.
        </p>
      {/if}
      <!-- svelte-ignore a11y_interactive_supports_focus -->
      <div class="shelf" role="listbox" aria-label="Manuals" onkeydown={walk}>
        {#each shown as manual (manual.id)}
          <Spine
            {manual}
            chosen={manual.id === chosen?.id}
            {faced}
            onchoose={() => (chosenId = manual.id)}
            onopen={() => open(manual.id)}
          />
        {/each}
        {#if away && !manuals}<div class="empty" role="status"><p>{away}</p></div>{/if}
        {#if manuals && shown.length === 0}
          <div class="empty">
            {#if words}
              <p>No manual has “{words}” in its title.</p>
            {:else}
              <p>The shelf is empty.</p>
              <p class="soft">
                Begin with a new manual from a pattern, bring in word-processor documents, Markdown, HTML or DocBook (drop them here), or
                put up the sample to look around.
              </p>
            {/if}
          </div>
        {/if}
      </div>
      <div class="line foot-line">
        <button class="btn do" onclick={() => (starting = true)}>New manual…</button>
        <button class="btn" disabled={busy !== ''} onclick={() => fileInput?.click()}>Bring in documents…</button>
        <button class="btn" disabled={busy !== ''} onclick={() => folderInput?.click()}>Bring in a folder…</button>
        <button class="btn" disabled={busy !== ''} onclick={() => packageInput?.click()}>Open a package…</button>
        <button class="btn" disabled={busy !== ''} onclick={sample}>Put up the sample</button>
        <button class="btn right" onclick={() => (looksShown = true)}>Looks…</button>
        <button class="btn" onclick={() => (mappingsShown = true)}>Mappings…</button>
        <input
          class="hidden"
          type="file"
          multiple
          accept=".docx,.md,.markdown,.html,.htm,.shtml,.xhtml,.xml,.dbk,.docbook,.png,.jpg,.jpeg,.svg,.gif"
          aria-label="Documents to bring in"
          bind:this={fileInput}
          onchange={(e) => {
            const files = [...(e.currentTarget.files ?? [])];
            if (files.length > 0) void bring(files);
            e.currentTarget.value = '';
          }}
        />
        <input
          class="hidden"
          type="file"
          webkitdirectory
          aria-label="Folder to bring in"
          bind:this={folderInput}
          onchange={(e) => {
            const files = [...(e.currentTarget.files ?? [])].filter(mayBeRead);
            if (files.length > 0) void bring(files);
            else notices.tell('No file in this folder is of a kind that is read.');
            e.currentTarget.value = '';
          }}
        />
        <input
          class="hidden"
          type="file"
          accept=".kivren"
          aria-label="Package to open"
          bind:this={packageInput}
          onchange={(e) => {
            const files = [...(e.currentTarget.files ?? [])];
            if (files.length > 0) void bring(files);
            e.currentTarget.value = '';
          }}
        />
      </div>
    </section>
    <aside class="card" aria-label="Chosen manual">
      {#if chosen}
        {#if !faced}<div class="page"><FirstPage manual={chosen.id} /></div>{/if}
        <h2>{chosen.title}</h2>
        <span class="soft">{chosen.pages ? `${chosen.pages} pages` : 'not composed yet'}</span>
        <dl>
          <dt>Look</dt>
          <dd>{chosen.look}</dd>
          <dt>Worked on</dt>
          <dd>{when(chosen.workedOn)}</dd>
          <dt>Loose ends</dt>
          <dd class:m={chosen.looseEnds > 0}>
            {chosen.pages === 0 ? 'not known yet' : chosen.looseEnds === 0 ? 'none' : chosen.looseEnds}
          </dd>
        </dl>
        <div class="acts">
          <button class="btn do" onclick={() => chosen && open(chosen.id)}>Open</button>
          <a class="btn" href={address(`/api/manuals/${chosen.id}/package`)} download>Keep as a package</a>
          <button class="btn" onclick={() => chosen && route.open(chosen.id, 'plan')}>Plan</button>
          <button class="btn" onclick={() => (keeping = true)}>Keep as a pattern…</button>
          <button class="btn" onclick={() => chosen && remove(chosen)}>Take off the shelf</button>
        </div>
        {#key chosen.id}<Sources manual={chosen} />{/key}
      {:else}
        <p class="soft">Nothing is chosen.</p>
      {/if}
    </aside>
  </main>
  <footer><b>Shelf</b></footer>
  {#if starting}<NewManual onclose={() => (starting = false)} />{/if}
  {#if keeping && chosen}<KeepPattern manual={chosen} onclose={() => (keeping = false)} />{/if}
  {#if looksShown}<Looks manuals={manuals ?? []} onclose={() => (looksShown = false)} />{/if}
  {#if mappingsShown}<Mappings onclose={() => (mappingsShown = false)} />{/if}
</div>

<style>
  .screen {
    display: grid;
    grid-template-rows: 44px minmax(0, 1fr) 28px;
    height: 100%;
  }
  header,
  footer {
    display: flex;
    align-items: center;
    gap: 18px;
    padding: 0 16px;
  }
  header {
    border-bottom: 1px solid var(--rule);
  }
  footer {
    border-top: 1px solid var(--rule);
    font-size: 12px;
  }
  .sign {
    display: flex;
    gap: 10px;
    align-items: center;
    font: 500 17px/1 var(--text);
  }
  .search {
    width: 340px;
  }
  .soft {
    color: var(--ink-soft);
  }
  .right {
    margin-left: auto;
  }
  .m {
    color: var(--madder);
  }
  main {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 372px;
    min-height: 0;
  }
  .wall {
    background: var(--desk);
    padding: 26px 34px;
    display: grid;
    grid-template-rows: auto auto minmax(0, 1fr) auto;
    min-height: 0;
  }
  .shelf {
    grid-row: 3;
  }
  .begin {
    margin-bottom: 12px;
    font: 15px/1.5 var(--text);
  }
  .line {
    display: flex;
    gap: 18px;
    align-items: baseline;
    padding-bottom: 14px;
  }
  .foot-line {
    align-items: center;
    gap: 10px;
    padding: 20px 0 0;
  }
  h1 {
    font: 500 20px/1 var(--text);
  }
  .order {
    padding: 2px 5px;
    color: var(--ink-soft);
    cursor: pointer;
  }
  .order.on {
    color: var(--ink);
    font-weight: 700;
  }
  .shelf {
    display: flex;
    align-items: flex-end;
    gap: 5px;
    border-bottom: 2px solid var(--ink);
    padding: 30px 0 0;
    max-height: 520px;
    overflow-x: auto;
  }
  .empty {
    align-self: center;
    margin: auto;
    text-align: center;
    font: 17px/1.5 var(--text);
  }
  .empty .soft {
    font: 13px/1.5 var(--ui);
  }
  .hidden {
    display: none;
  }
  .card {
    border-left: 1px solid var(--rule);
    background: var(--paper);
    padding: 22px 24px;
    overflow: auto;
  }
  .card .page {
    width: 150px;
    margin-bottom: 14px;
  }
  .card h2 {
    font: 500 25px/1.2 var(--text);
    margin: 0 0 6px;
  }
  dl {
    display: grid;
    grid-template-columns: 108px 1fr;
    row-gap: 5px;
    margin: 14px 0;
  }
  dt {
    color: var(--ink-soft);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  /* In a narrow window the chosen manual stands under the shelf. */
  @media (max-width: 860px) {
    main {
      grid-template-columns: minmax(0, 1fr);
      grid-auto-rows: max-content;
      overflow: auto;
    }
    .wall {
      padding: 14px 16px;
      grid-template-rows: auto auto 230px auto;
    }
    .line {
      flex-wrap: wrap;
      gap: 4px 12px;
    }
    .card {
      border-left: 0;
      border-top: 1px solid var(--rule);
    }
  }
</style>
