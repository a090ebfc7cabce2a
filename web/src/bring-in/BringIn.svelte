<script lang="ts">
  import { address, api, type BringInBlock, type BringInChoices, type BringInView } from '../shared/api';
  import { loadFaces, withFaces } from '../shared/faces';
  import { focusFirst } from '../ui/focus';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import { languageChoices, languageName } from '../shared/languages';
  import Sign from '../frame/Sign.svelte';
  import { writer } from '../live/tab';
  import Differences from './Differences.svelte';
  import Incoming from './Incoming.svelte';
  import LeftOut from './LeftOut.svelte';
  import MappingLines from './MappingLines.svelte';
  import Tree from './Tree.svelte';
  import type { TreePlace } from './tree';

  interface Props {
    id: string;
  }
  let { id }: Props = $props();

  let view = $state.raw<BringInView | null>(null);
  let busy = $state('');
  let chosen = $state('');
  let at = $state(0);
  let sheet = $state(0);
  let leftOut = $state(false);
  let naming = $state(false);
  let mappingName = $state('');
  let gone = $state('');
  let takes = $state.raw(new Set<string>());
  let lastWords = $state('');
  let svg = $state('');
  /** Which of the two is seen at the left where the files are one book. */
  let left = $state<'order' | 'roles'>('order');

  const newer = $derived(view?.differences !== null && view?.differences !== undefined);
  /** The order of the book is seen at the left, not the roles. */
  const ordering = $derived(!!view?.tree && !newer && left === 'order');
  const tinted = $derived(ordering ? '' : chosen);
  const line = $derived(view?.lines.find((l) => l.key === tinted) ?? null);
  const page = $derived(view?.pages[Math.max(0, Math.min(sheet, (view?.pages.length ?? 1) - 1))] ?? null);

  async function look() {
    try {
      view = await api.bringInView(id);
      if (view.state === 'Reading') setTimeout(look, 250);
      else if (view.state === 'Ready') {
        chosen = view.lines[0]?.key ?? '';
        takes = new Set((view.differences ?? []).map((d) => d.id));
      }
    } catch (e) {
      gone = e instanceof Error ? e.message : String(e);
    }
  }
  void look();

  $effect(() => {
    const key = page?.key;
    if (!key) return;
    loadFaces()
      .then(() => fetch(address(`/api/bring-in/${id}/pages/${key}.svg`)))
      .then((r) => (r.ok ? r.text() : ''))
      .then(
        (text) => {
          if (key === page?.key) svg = text;
        },
        () => undefined,
      );
  });

  // What is chosen on the left is tinted on the page too.
  let ofLine = $state.raw(new Set<string>());
  let sheetOf = $state<HTMLElement>();
  let bars = $state.raw<{ top: number; left: number; width: number; height: number }[]>([]);
  $effect(() => {
    const key = tinted;
    void view?.version;
    if (!key) ofLine = new Set();
    if (view?.state !== 'Ready' || !key || newer) return;
    api.blocksOfLine(id, key).then(
      (ids) => {
        if (key === tinted) ofLine = new Set(ids);
      },
      () => undefined,
    );
  });
  $effect(() => {
    void svg;
    const found: typeof bars = [];
    const root = sheetOf?.querySelector('svg');
    if (root) {
      const { width, height } = root.viewBox.baseVal;
      for (const text of root.querySelectorAll<SVGTextElement>('text[data-block]')) {
        if (!ofLine.has(text.getAttribute('data-block')!)) continue;
        const box = text.getBBox();
        found.push({
          top: (box.y / height) * 100,
          left: (box.x / width) * 100,
          width: (box.width / width) * 100,
          height: (box.height / height) * 100,
        });
      }
    }
    bars = found;
  });

  async function choose(choices: BringInChoices, words: string) {
    if (busy) return;
    busy = 'Setting anew';
    try {
      view = await api.choose(id, choices);
      lastWords = words;
    } catch (e) {
      notices.problem(e);
    } finally {
      busy = '';
    }
  }

  const plural = (n: number, one: string, many = one + 's') => `${n} ${n === 1 ? one : many}`;

  function becomes(file: number, kind: string) {
    if (!view) return;
    void choose({ becomes: view.files.filter((f) => !f.problem).map((f, i) => (i === file ? kind : f.becomes)) }, '');
  }

  function reorder(file: number, by: number) {
    if (!view) return;
    const order = view.files.filter((f) => !f.problem).map((_, i) => i);
    const [own] = order.splice(file, 1);
    order.splice(file + by, 0, own!);
    void choose({ order }, '');
  }

  /** In the order that stands, whatever it was read from; none for each file by itself. */
  const places = (tree: readonly TreePlace[]) => tree.map(({ file, depth, kind, title }) => ({ file, depth, kind, title }));

  /** The first page that is made of a file. */
  function show(place: TreePlace) {
    const division = view?.tree?.places.filter((p) => p.kind !== 'section' && p.kind !== 'leftOut').indexOf(place) ?? -1;
    const first = view?.pages.findIndex((p) => p.division === division) ?? -1;
    if (division >= 0 && first >= 0) sheet = first;
  }

  async function keep() {
    try {
      view = await api.keepMapping(id, mappingName);
      notices.tell(`The mapping “${view.mapping}” is kept on the shelf and will be proposed for documents that look alike.`);
      naming = false;
    } catch (e) {
      notices.problem(e);
    }
  }

  // Whoever has gone elsewhere meanwhile is not called back by an answer that comes late.
  let here = true;
  $effect(() => () => {
    here = false;
  });

  function notNow() {
    void api.cancelBringIn(id).catch(() => undefined);
    if (view?.manual) route.open(view.manual, 'plan');
    else route.shelf();
  }

  async function take() {
    if (!view || busy || view.state !== 'Ready') return;
    busy = 'Taking it in';
    try {
      const into = view.manual;
      const done = await api.take(id, writer, newer ? [...takes] : null);
      notices.tell(
        newer
          ? `${plural(takes.size, 'difference')} taken.`
          : into
            ? `${plural(done.blocks, 'block')} came in.`
            : 'The new manual is on the shelf.',
        into && done.act > 0
          ? () =>
              void api.takeBack(into, writer, false).then(
                () => location.reload(),
                (e) => notices.problem(e),
              )
          : undefined,
      );
      if (!here) return;
      if (done.division) route.manual(done.manual, done.division);
      else route.manual(done.manual);
    } catch (e) {
      notices.problem(e);
    } finally {
      busy = '';
    }
  }

  function onblock(block: BringInBlock, index: number) {
    at = index;
    if (block.line) chosen = block.line;
    if (block.sheet >= 0) sheet = block.sheet;
  }

  function key(event: KeyboardEvent) {
    if (event.ctrlKey && event.key === 'Enter') void take();
    else if (event.key === 'Escape' && view?.state === 'Reading') notNow();
  }
</script>

<svelte:head><title>Bring in documents</title></svelte:head>
<svelte:window onkeydown={key} />
<div class="screen">
  <header>
    <button class="sign" onclick={() => route.shelf()} title="Open the shelf"><Sign /><span>Bring in documents</span></button>
    <span class="soft"
      >{#if view?.manual}{newer ? 'a newer version, into' : 'into'} <b>{view.manualTitle}</b>{:else if view}a new manual{/if}</span
    >
    <span class="soft right">
      {#if busy}{busy}…
      {:else if view?.state === 'Ready'}read {view.files.filter((f) => !f.problem).length} of {plural(view.files.length, 'file')} · {(
          view.milliseconds / 1000
        ).toFixed(1)} s{/if}
    </span>
  </header>
  {#if gone}
    <main class="wait">
      <p>{gone}</p>
      <button class="btn do" onclick={() => route.shelf()}>Open the shelf</button>
    </main>
  {:else if !view || view.state === 'Reading'}
    <main class="wait" aria-live="polite">
      <p>{view?.doing || 'Reading'}…</p>
      <div
        class="bar"
        role="progressbar"
        aria-label="Read so far"
        aria-valuenow={Math.round((view?.progress ?? 0) * 100)}
        aria-valuemin="0"
        aria-valuemax="100"
      >
        <i style:width="{(view?.progress ?? 0) * 100}%"></i>
      </div>
      <button class="btn" onclick={notNow}>Stop reading</button>
    </main>
  {:else if view.state !== 'Ready'}
    <main class="wait">
      <p>{view.problem ?? 'Reading was stopped.'}</p>
      <p class="soft">Nothing in the manual or on the shelf has changed.</p>
      <button class="btn do" onclick={notNow}>Back</button>
    </main>
  {:else}
    <div class="files">
      {#if view.tree && !newer}
        <span class="file">
          <b>{plural(view.files.filter((f) => !f.problem).length, 'file')} as one book</b>
          <span class="soft">read from {view.tree.from}</span>
          <button class="btn small" disabled={busy !== ''} onclick={() => choose({ tree: [] }, 'Each file comes in by itself')}
            >Each by itself</button
          >
        </span>
        {#each view.files.filter((f) => f.problem) as file (file.name)}<span class="file m"
            ><b>{file.name}</b><span>○ not read: {file.problem}</span></span
          >{/each}
        <span class="seen" role="group" aria-label="At the left">
          <button class="btn small" aria-pressed={left === 'order'} onclick={() => (left = 'order')}>Order</button>
          <button class="btn small" aria-pressed={left === 'roles'} onclick={() => (left = 'roles')}>Roles</button>
        </span>
      {/if}
      {#each view.tree && !newer ? [] : view.files as file, i (file.name)}
        <span class="file" class:m={file.problem !== null}>
          <b>{file.name}</b>
          {#if file.problem}<span>○ not read: {file.problem}</span>
          {:else if !newer}
            <label class="soft"
              >becomes
              <select
                value={file.becomes}
                disabled={busy !== ''}
                onchange={(e) => becomes(i, e.currentTarget.value)}
                aria-label={`${file.name} becomes`}
              >
                <option value="chapter">{file.divisions === 1 ? '1 chapter' : `${file.divisions} divisions`}</option>
                <option value="appendix">{file.divisions === 1 ? '1 appendix' : `${file.divisions} appendices`}</option>
                <option value="preface">a preface</option>
              </select></label
            >
            {#if i > 0}<button class="btn small" disabled={busy !== ''} aria-label={`${file.name} earlier`} onclick={() => reorder(i, -1)}
                >←</button
              >{/if}
          {/if}
        </span>
      {/each}
      {#if !newer}<span class="mapping">
          <label class="soft"
            >Language
            <select
              aria-label="Language"
              value={view.language}
              disabled={busy !== ''}
              onchange={(e) => choose({ language: e.currentTarget.value }, `All of it is ${languageName(e.currentTarget.value)}`)}
            >
              {#each languageChoices(view.language) as l (l.tag)}<option value={l.tag}>{l.name}</option>{/each}
            </select></label
          >
          <label class="soft"
            >Mapping
            <select
              aria-label="Mapping"
              value={view.mapping}
              disabled={busy !== ''}
              onchange={(e) => choose({ mapping: e.currentTarget.value }, '')}
            >
              <option value="">as proposed</option>
              {#each view.mappings as m (m.name)}<option value={m.name}>{m.name}</option>{/each}
            </select></label
          >
          {#if view.mapping}<span class="soft"
              >fits {view.mappings.find((m) => m.name === view!.mapping)?.fits ?? 0} of {view.lines.length}</span
            >{/if}
          {#if naming}
            <form
              onsubmit={(e) => {
                e.preventDefault();
                void keep();
              }}
            >
              <input
                class="field"
                aria-label="Name of the mapping"
                placeholder="Name of the mapping"
                bind:value={mappingName}
                {@attach focusFirst}
              />
              <button class="btn do" disabled={!mappingName.trim()}>Keep</button>
              <button class="btn" type="button" onclick={() => (naming = false)}>Leave it</button>
            </form>
          {:else}
            <button
              class="btn"
              onclick={() => {
                mappingName = view?.mapping ?? '';
                naming = true;
              }}>Keep as…</button
            >
          {/if}
        </span>{/if}
    </div>
    <main class="work" class:newer>
      {#if newer}
        <Differences
          {view}
          taken={takes}
          ontake={(d, take_) => {
            const next = new Set(takes);
            if (take_) next.add(d);
            else next.delete(d);
            takes = next;
          }}
        />
      {:else}
        {#if view.tree && ordering}
          <Tree
            tree={view.tree}
            busy={busy !== ''}
            onchange={(next) => choose({ tree: places(next) }, 'the order of the book changed')}
            onplace={show}
          />
        {:else}<MappingLines
            {view}
            {chosen}
            busy={busy !== ''}
            online={(k) => (chosen = k)}
            onrole={(l, role) =>
              choose({ roles: { [l.key]: role } }, `${plural(l.count, l.span ? 'run' : 'paragraph')} of “${l.label}” changed`)}
            oncleaning={(name, on) =>
              choose(
                { off: view!.cleaning.filter((c) => (c.name === name ? !on : !c.on)).map((c) => c.name) },
                `${view!.cleaning.find((c) => c.name === name)?.label}: ${on ? 'cleaned' : 'left as they are'}`,
              )}
          />{/if}
        <Incoming
          {view}
          chosen={tinted}
          {at}
          {onblock}
          onexception={(block, role) => choose({ exceptions: [{ file: block.file, place: block.place, role }] }, 'one paragraph changed')}
        />
      {/if}
      <section class="proof" aria-label="The page it makes">
        <div class="page drawn" style:aspect-ratio="148 / 210" bind:this={sheetOf}>
          {@html withFaces(svg)}
          {#each bars as bar, i (i)}<i
              class="tint"
              style:top="{bar.top}%"
              style:left="{bar.left}%"
              style:width="{bar.width}%"
              style:height="{bar.height}%"
            ></i>{/each}
        </div>
        <div class="turn">
          <button class="btn small" disabled={sheet <= 0} aria-label="Page before" onclick={() => sheet--}>‹</button>
          <span class="soft">page {page?.folio ?? ''} · {sheet + 1} of {view.pages.length}</span>
          <button class="btn small" disabled={sheet >= view.pages.length - 1} aria-label="Page after" onclick={() => sheet++}>›</button>
        </div>
      </section>
    </main>
    <div class="sum">
      {#if newer}
        <span><b>{takes.size}</b> of {plural(view.differences?.length ?? 0, 'difference')} will be taken</span>
      {:else if view.counts}
        <span
          >Will add <b>{plural(view.counts.pages, 'page')}</b>, {plural(view.counts.heads, 'head')}, {plural(
            view.counts.figures,
            'figure',
          )}, {plural(view.counts.tables, 'table')}, {plural(view.counts.notes, 'footnote')}</span
        >
        <span class="m"
          >{#if view.counts.toChoose}<b>○ {plural(view.counts.toChoose, 'style')} to choose</b>{/if}{view.counts.toChoose &&
          view.counts.noAlternative
            ? ' · '
            : ''}{view.counts.noAlternative ? `${plural(view.counts.noAlternative, 'picture')} without alternative text` : ''}{view.counts
            .toNothing
            ? ` · ${plural(view.counts.toNothing, 'reference')} to nothing`
            : ''}</span
        >
      {/if}
      <span class="acts">
        <button class="btn" aria-expanded={leftOut} onclick={() => (leftOut = !leftOut)}
          >What is left out or changed · {view.report.length}</button
        >
        <button class="btn" onclick={notNow}>Not now</button>
        <button class="btn do" disabled={busy !== ''} title="Ctrl Enter" onclick={take}>{newer ? 'Take these' : 'Take it in'}</button>
      </span>
    </div>
    {#if leftOut}<LeftOut report={view.report} onclose={() => (leftOut = false)} onplace={(block) => (at = block)} />{/if}
  {/if}
  <footer>
    <span class="path"
      >Bring in documents{#if view?.tree && !newer}<i>›</i>one book{:else if view?.files[0]}<i>›</i>{view.files[0]
          .name}{/if}{#if line && !newer}<i>›</i><b>{line.label}</b>{/if}</span
    >
    {#if lastWords}<span data-effect>{lastWords}</span>{:else if line && !newer}<span
        >{plural(line.count, line.span ? 'run' : 'paragraph')} become{line.count === 1 ? 's' : ''} {line.roleLabel}</span
      >{/if}
    <span class="right soft"
      >{newer ? 'Space takes or leaves · Ctrl Enter takes these' : 'Enter chooses a role · Ctrl Enter takes it in'}</span
    >
  </footer>
</div>

<style>
  .screen {
    position: relative;
    display: grid;
    grid-template-rows: 44px auto minmax(0, 1fr) auto 28px;
    height: 100%;
  }
  header,
  footer {
    display: flex;
    align-items: center;
    gap: 26px;
    padding: 0 16px;
  }
  header {
    border-bottom: 1px solid var(--rule);
  }
  footer {
    grid-row: 5;
    border-top: 1px solid var(--rule);
    font-size: 12px;
    color: var(--ink-soft);
    white-space: nowrap;
    overflow: hidden;
  }
  footer b {
    color: var(--ink);
  }
  .path i {
    font-style: normal;
    padding: 0 6px;
  }
  .sign {
    display: flex;
    gap: 10px;
    align-items: center;
    font: 500 17px/1 var(--text);
    cursor: pointer;
  }
  .soft {
    color: var(--ink-soft);
  }
  .soft b {
    color: var(--ink);
    font-weight: 600;
  }
  .right {
    margin-left: auto;
  }
  .m {
    color: var(--madder);
  }
  .wait {
    grid-row: 2 / 5;
    display: grid;
    place-content: center;
    justify-items: center;
    gap: 14px;
    font: 17px/1.5 var(--text);
    max-width: 640px;
    margin: auto;
    text-align: center;
  }
  .wait .soft {
    font: 13px/1.5 var(--ui);
  }
  .bar {
    width: 320px;
    height: 4px;
    background: var(--rule);
  }
  .bar i {
    display: block;
    height: 100%;
    background: var(--bottle);
  }
  .files {
    grid-row: 2;
    display: flex;
    flex-wrap: wrap;
    gap: 6px 26px;
    align-items: center;
    padding: 8px 16px;
    background: var(--paper);
    border-bottom: 1px solid var(--rule);
  }
  .file {
    display: flex;
    gap: 10px;
    align-items: baseline;
  }
  .file b {
    font: 500 15.5px/1.2 var(--text);
  }
  .seen {
    display: flex;
    gap: 4px;
  }
  .seen [aria-pressed='true'] {
    background: var(--bottle-tint);
    border-color: var(--bottle);
  }
  .mapping {
    margin-left: auto;
    display: flex;
    gap: 12px;
    align-items: center;
  }
  .mapping form {
    display: flex;
    gap: 6px;
  }
  .mapping .field {
    width: 200px;
  }
  select {
    background: var(--paper);
    color: var(--ink);
    border: 1px solid var(--rule);
    border-radius: var(--r);
    padding: 3px 6px;
    font-size: 12.5px;
  }
  .work {
    grid-row: 3;
    display: grid;
    grid-template-columns: minmax(430px, 38%) minmax(0, 1fr) minmax(220px, 27%);
    min-height: 0;
  }
  .work.newer {
    grid-template-columns: minmax(0, 1fr) minmax(220px, 28%);
  }
  .proof {
    background: var(--desk);
    padding: 16px 20px;
    overflow: auto;
  }
  .page {
    position: relative;
    box-shadow:
      0 1px 2px rgb(60 50 30 / 0.35),
      0 6px 18px rgb(60 50 30 / 0.14);
  }
  .tint {
    position: absolute;
    background: rgb(29 90 75 / 0.16);
    pointer-events: none;
  }
  .turn {
    display: flex;
    justify-content: center;
    align-items: center;
    gap: 12px;
    padding-top: 12px;
  }
  .small {
    padding: 1px 8px;
  }
  .sum {
    grid-row: 4;
    display: flex;
    align-items: center;
    gap: 18px;
    padding: 8px 16px;
    border-top: 1px solid var(--rule);
    background: var(--board);
  }
  .acts {
    display: flex;
    gap: 10px;
    margin-left: auto;
    white-space: nowrap;
  }
  /* In a narrow window the parts stand one under the other and are scrolled. */
  @media (max-width: 860px) {
    .screen {
      grid-template-rows: auto auto minmax(0, 1fr) auto auto;
    }
    header,
    .sum {
      flex-wrap: wrap;
      gap: 2px 14px;
      padding: 6px 10px;
    }
    .work,
    .work.newer {
      grid-template-columns: minmax(0, 1fr);
      overflow: auto;
    }
    .work > :global(*) {
      min-height: 420px;
    }
    .acts {
      flex-wrap: wrap;
    }
  }
</style>
