<script lang="ts">
  // Editions: every way the manual goes out, what each takes, told in sentences; its contents, and what was produced of it.
  import ManualScreen from '../frame/ManualScreen.svelte';
  import { OpenedManual } from '../live/opened-manual.svelte';
  import { writer } from '../live/tab';
  import { api, type ComparedEditions, type Edition, type EditionsView, type Output, type SeenEdition } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import Compared from './Compared.svelte';
  import Pick from '../ui/Pick.svelte';
  import AskWords from '../ui/AskWords.svelte';
  import EditionList from './EditionList.svelte';
  import { keysOfEditions } from './keys-of-editions';
  import { newEdition, wholeManual } from './output-words';
  import Outputs from './Outputs.svelte';
  import Sentences from './Sentences.svelte';
  import Takes from './Takes.svelte';

  interface Props {
    manualId: string;
  }
  let { manualId }: Props = $props();

  // svelte-ignore state_referenced_locally
  const opened = new OpenedManual(manualId);
  const proof = opened.proof;
  let view = $state.raw<EditionsView | null>(null);
  let name = $state('');
  let seen = $state.raw<Record<string, SeenEdition>>({});
  let outputs = $state.raw<Output[]>([]);
  let asking = $state.raw<{ kind: 'new' | 'rename' | 'copy'; at: Element } | null>(null);

  const edition = $derived(view?.editions.find((e) => e.name === name) ?? null);

  void opened.start();
  $effect(() => () => opened.stop());
  route.begin();
  proof.onoutput = (output) => (outputs = [output, ...outputs.filter((o) => o.id !== output.id)]);

  let reading = false;
  $effect(() => {
    if (opened.overtakes(view?.composition) && !reading) void read();
  });
  async function read() {
    reading = true;
    try {
      for (let composition = -1; composition < proof.number;) {
        const begun = puts;
        const answer = await api.editions(manualId);
        // It is older than what the screen shows: it is read again once all is put.
        if (unanswered > 0) return;
        if (begun !== puts) continue;
        view = answer;
        composition = answer.composition;
        if (!answer.editions.some((e) => e.name === name))
          name = answer.editions.find((e) => e.name === answer.proofed)?.name ?? answer.editions[0]?.name ?? '';
      }
      outputs = await api.outputs(manualId);
      void look();
    } catch (e) {
      notices.problem(e);
    } finally {
      reading = false;
    }
  }

  /** What comes out of each, the one in sight first; given up when something changes meanwhile. */
  async function look() {
    const asked = view;
    if (!asked) return;
    const names = [name, '', ...asked.editions.map((e) => e.name)].filter((n, i, all) => all.indexOf(n) === i);
    for (const n of names) {
      const one = await api.seenEdition(manualId, n).catch(() => null);
      if (view !== asked) return;
      if (one) seen = { ...seen, [n]: one };
    }
  }

  /** Changes are put one after another, and seen at once: the next is made from what is seen. */
  let last: Promise<unknown> = Promise.resolve();
  let unanswered = 0;
  let puts = 0;
  async function put(next: Edition, was: Edition | null) {
    if (was) show(was, next);
    unanswered++;
    puts++;
    const putting = last.then(() =>
      opened.act(() => api.editionAct(manualId, writer, { do: 'put', edition: next, ...(was ? { name: was.name, was } : {}) })),
    );
    last = putting;
    const done = await putting;
    unanswered--;
    if (done) name = next.name;
    else if (was) show(next, was);
    if (unanswered === 0) await read();
  }
  function show(before: Edition, edition: Edition) {
    if (!view) return;
    view = { ...view, editions: view.editions.map((e) => (e.name === before.name ? edition : e)) };
    name = edition.name;
  }

  function named(words: string) {
    const ask = asking;
    asking = null;
    const called = words.trim();
    if (!called || !ask) return;
    if (ask.kind === 'rename' && edition) void put({ ...edition, name: called }, edition);
    else if (ask.kind === 'copy' && edition) void put({ ...edition, name: called }, null);
    else void put(newEdition(called), null);
  }

  async function takeOut() {
    if (edition && (await opened.act(() => api.editionAct(manualId, writer, { do: 'takeOut', name: edition.name })))) await read();
  }

  async function proofIn() {
    if (!edition) return;
    try {
      await api.proofIn(manualId, edition.name);
      notices.tell(`Pages are shown in “${edition.name}” now, here and in Write.`);
    } catch (e) {
      notices.problem(e);
    }
  }

  const whole = wholeManual();
  const wholeWords = 'the whole manual';
  let comparing = $state.raw<Element | null>(null);
  let compared = $state.raw<{ second: string; found: ComparedEditions } | null>(null);
  async function compare(second: string) {
    (comparing as HTMLElement | null)?.focus();
    comparing = null;
    try {
      compared = { second, found: await api.compareEditions(manualId, name, second === wholeWords ? '' : second) };
    } catch (e) {
      notices.problem(e);
    }
  }

  async function produce(asked: { edition?: string; kind?: string; all?: boolean }) {
    try {
      const made = await api.produce(manualId, asked);
      outputs = [...made, ...outputs.filter((o) => !made.some((m) => m.id === o.id))];
    } catch (e) {
      notices.problem(e);
    }
  }

  const asks = {
    new: { label: 'Name of the new edition', does: 'add it: the whole manual, for everyone' },
    rename: { label: 'Name of the edition', does: 'rename' },
    copy: { label: 'Name of the copy', does: 'copy' },
  } as const;
</script>

<ManualScreen {opened} view="editions" keys={keysOfEditions} where={name || 'no edition yet'}>
  {#if view}
    <div class="editions">
      <EditionList
        {view}
        {seen}
        {outputs}
        act={proof.act}
        bind:name
        onproduce={(edition) => void produce({ edition })}
        onacts={(kind, at) => (asking = { kind, at })}
      />
      {#if edition}
        <div class="opened">
          <Takes {edition} outline={view.outline} seen={seen[name]} whole={seen['']} onchange={(next) => void put(next, edition)} />
          <section class="told" aria-label="The edition {edition.name}">
            <Sentences {edition} {view} {manualId} onchange={(next) => void put(next, edition)} />
            <div class="acts">
              {#if view.proofed === edition.name}<span class="proofed">▸ Its pages are shown in Write</span>
              {:else}<button class="btn" onclick={() => void proofIn()}>Show its pages in Write</button>{/if}
              <button class="btn" onclick={(e) => (asking = { kind: 'rename', at: e.currentTarget })}>Rename …</button>
              <button class="btn" onclick={(e) => (asking = { kind: 'copy', at: e.currentTarget })}>Copy …</button>
              <button class="btn" onclick={(e) => (comparing = e.currentTarget)}>Compare with …</button>
              <button class="btn" onclick={() => void takeOut()}>Take out</button>
            </div>
          </section>
          <Outputs
            {manualId}
            {edition}
            {outputs}
            act={proof.act}
            onproduce={(kind) => void produce({ edition: edition.name, ...(kind ? { kind } : {}) })}
          />
        </div>
      {:else}
        <div class="none">
          <p>No edition yet. The manual goes out whole, in the look that it wears.</p>
          <p>
            An edition takes some of it, in an order of its own, for some readers, in another look, as print, screen, EPUB or web pages.
          </p>
          <button class="btn do" onclick={(e) => (asking = { kind: 'new', at: e.currentTarget })}>Add an edition …</button>
          <p class="whole">The whole manual, as it is:</p>
          <Outputs
            {manualId}
            edition={whole}
            {outputs}
            act={proof.act}
            onproduce={(kind) => void produce({ edition: whole.name, ...(kind ? { kind } : {}) })}
          />
        </div>
      {/if}
    </div>
  {:else}<p class="none">Reading the editions …</p>{/if}
</ManualScreen>
{#if comparing && view}
  <Pick
    label="Compare with"
    choices={[...view.editions.filter((e) => e.name !== name).map((e) => ({ name: e.name })), { name: wholeWords }]}
    anchor={comparing}
    onchoose={(c) => void compare(c.name)}
    onclose={() => (comparing = null)}
  />
{/if}
{#if compared}
  <Compared {manualId} first={name} second={compared.second} compared={compared.found} onclose={() => (compared = null)} />
{/if}
{#if asking}
  <AskWords
    label={asks[asking.kind].label}
    text={asking.kind === 'new' ? '' : name}
    does={asks[asking.kind].does}
    anchor={asking.at}
    onchoose={named}
    onclose={() => (asking = null)}
  />
{/if}

<style>
  .editions {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    min-height: 0;
    min-width: 0;
  }
  .opened {
    display: grid;
    grid-template-columns: minmax(240px, 0.75fr) minmax(320px, 1.1fr) minmax(270px, 0.75fr);
    min-height: 0;
  }
  .told {
    overflow: auto;
    padding: 14px 26px;
    background: var(--paper);
    border-inline: 1px solid var(--rule);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: center;
    margin-top: 20px;
  }
  .proofed {
    color: var(--bottle);
    font-weight: 600;
    font-size: 12px;
  }
  .none {
    display: grid;
    align-content: start;
    justify-items: center;
    gap: 10px;
    text-align: center;
    font: 16px/1.5 var(--text);
    padding: 28px max(20px, 50% - 18em);
    overflow: auto;
  }
  .none :global(.outputs) {
    width: 100%;
    font: 13px/1.5 var(--ui);
    text-align: left;
    overflow: visible;
  }
  .whole {
    margin-top: 18px;
  }
  @media (max-width: 860px) {
    .editions {
      overflow: auto;
      grid-template-rows: auto auto;
    }
    .opened {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: 340px auto auto;
    }
    .told {
      border: 0;
      overflow: visible;
    }
  }
</style>
