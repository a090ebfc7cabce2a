<script lang="ts">
  import { api, type BringInBlock, type BringInChoices, type BringInView } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import { plural } from '../shared/plural';
  import Sign from '../frame/Sign.svelte';
  import { writer } from '../live/tab';
  import Differences from './Differences.svelte';
  import FilesStrip from './FilesStrip.svelte';
  import Incoming from './Incoming.svelte';
  import LeftOut from './LeftOut.svelte';
  import MappingLines from './MappingLines.svelte';
  import ProofPage from './ProofPage.svelte';
  import Sum from './Sum.svelte';
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
  let gone = $state('');
  let takes = $state.raw(new Set<string>());
  let lastWords = $state('');
  /** Which of the two is seen at the left where the files are one book. */
  let left = $state<'order' | 'roles'>('order');

  const newer = $derived(view?.differences !== null && view?.differences !== undefined);
  /** The order of the book is seen at the left, not the roles. */
  const ordering = $derived(!!view?.tree && !newer && left === 'order');
  const tinted = $derived(ordering ? '' : chosen);
  const line = $derived(view?.lines.find((l) => l.key === tinted) ?? null);

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

  /** In the order that stands, whatever it was read from; none for each file by itself. */
  const places = (tree: readonly TreePlace[]) => tree.map(({ file, depth, kind, title }) => ({ file, depth, kind, title }));

  /** The first page that is made of a file. */
  function show(place: TreePlace) {
    const division = view?.tree?.places.filter((p) => p.kind !== 'section' && p.kind !== 'leftOut').indexOf(place) ?? -1;
    const first = view?.pages.findIndex((p) => p.division === division) ?? -1;
    if (division >= 0 && first >= 0) sheet = first;
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
    <FilesStrip
      {view}
      {newer}
      busy={busy !== ''}
      bind:left
      onchoose={choose}
      onkept={(next) => {
        view = next;
        notices.tell(`The mapping “${next.mapping}” is kept on the shelf and will be proposed for documents that look alike.`);
      }}
    />
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
      <ProofPage {id} {view} tinted={newer ? '' : tinted} bind:sheet />
    </main>
    <Sum {view} {newer} taken={takes.size} busy={busy !== ''} bind:leftOut onnotnow={notNow} ontake={() => void take()} />
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
  .work {
    grid-row: 3;
    display: grid;
    grid-template-columns: minmax(430px, 38%) minmax(0, 1fr) minmax(220px, 27%);
    min-height: 0;
  }
  .work.newer {
    grid-template-columns: minmax(0, 1fr) minmax(220px, 28%);
  }
  /* In a narrow window the parts stand one under the other and are scrolled. */
  @media (max-width: 860px) {
    .screen {
      grid-template-rows: auto auto minmax(0, 1fr) auto auto;
    }
    header {
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
  }
</style>
