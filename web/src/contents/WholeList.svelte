<script lang="ts">
  // The whole list: on its pages where it stands, else line by line. A line leads to its head, whose title is changed at its source.
  import PrintedPage from '../live/PrintedPage.svelte';
  import type { LiveProof } from '../live/live-proof.svelte';
  import type { ListedList, ListLooked } from '../shared/api';
  import AskWords from '../ui/AskWords.svelte';
  import Rows from '../ui/Rows.svelte';

  type Line = ListLooked['lines'][number];
  interface Props {
    proof: LiveProof;
    list: ListedList;
    looked: ListLooked;
    indents: number[];
    ongo: (line: Line) => void;
    onrename: (line: Line, title: string) => void;
    /** Whether the title of a line can be changed from here. */
    canRename: (line: Line) => boolean;
  }
  let { proof, list, looked, indents, ongo, onrename, canRename }: Props = $props();

  let asPages = $state(true);
  let at = $state(0);
  let renaming = $state.raw<{ line: Line; at: Element } | null>(null);
  let rows = $state<ReturnType<typeof Rows<Line>>>();
  let holder = $state<HTMLElement>();

  const sheets = $derived(
    [...new Set(list.places.slice(0, 12).flatMap((p) => Array.from({ length: p.sheets }, (_, i) => p.firstSheet + i)))].filter(
      (s) => proof.pages[s],
    ),
  );
  const blocks = $derived(new Set(list.places.map((p) => p.block)));
  const shownPages = $derived(asPages && sheets.length > 0);

  function rename(line: Line) {
    const place = holder?.querySelector('[role=option].at') ?? holder;
    if (canRename(line) && place) renaming = { line, at: place };
  }

  function key(event: KeyboardEvent, line: Line | undefined): boolean {
    if (event.key !== 'r' || event.ctrlKey || !line) return false;
    rename(line);
    return true;
  }
</script>

<section class="whole" aria-label="The whole list" bind:this={holder}>
  <header>
    <b>{looked.total} {looked.total === 1 ? 'line' : 'lines'}</b>
    {#if sheets.length > 0}
      <span role="group" aria-label="Show as">
        <button class="chip" class:on={asPages} aria-pressed={asPages} onclick={() => (asPages = true)}>pages</button>
        <button class="chip" class:on={!asPages} aria-pressed={!asPages} onclick={() => (asPages = false)}>lines</button>
      </span>
    {:else}<span class="soft">It stands nowhere yet.</span>{/if}
    {#if !shownPages}<span class="soft right"><kbd class="key">Enter</kbd> go there <kbd class="key">r</kbd> change the title</span>{/if}
  </header>
  {#if shownPages}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="pages" tabindex="0" role="region" aria-label="Pages of the list">
      {#each sheets as sheet (sheet)}
        <PrintedPage
          {proof}
          page={proof.pages[sheet]!}
          block={null}
          lazy
          onpart={(block, part) => {
            const line = looked.lines[part];
            if (line && blocks.has(block)) ongo(line);
          }}
        />
      {/each}
    </div>
  {:else}
    <Rows items={looked.lines} rowHeight={26} label="Lines of the list" bind:this={rows} bind:at onkey={key} onopen={ongo}>
      {#snippet row(l: Line)}
        <div class="line" style:padding-left="{12 + (indents[l.level] ?? 0)}px">
          <span class="number">{l.number}</span><span class="title">{l.title}</span><span class="folio">{l.folio}</span>
        </div>
      {/snippet}
      {#snippet empty()}<p class="none soft">No level of this list takes anything that this manual has.</p>{/snippet}
    </Rows>
  {/if}
</section>
{#if renaming}
  <AskWords
    label="Title, as it stands in the text"
    text={renaming.line.title}
    does="change it there"
    anchor={renaming.at}
    onchoose={(title) => {
      const { line } = renaming!;
      renaming = null;
      if (title && title !== line.title) onrename(line, title);
      rows?.focus();
    }}
    onclose={() => {
      renaming = null;
      rows?.focus();
    }}
  />
{/if}

<style>
  .whole {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    min-height: 0;
    border-left: 1px solid var(--rule);
  }
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 10px;
    min-height: 40px;
    padding: 4px 14px;
    border-bottom: 1px solid var(--rule);
    font-size: 12.5px;
  }
  .chip {
    padding: 2px 9px;
    border: 1px solid transparent;
    border-radius: 10px;
    color: var(--ink-soft);
    cursor: pointer;
  }
  .chip.on {
    border-color: var(--rule);
    background: var(--paper);
    color: var(--ink);
  }
  .pages {
    display: grid;
    gap: 14px;
    align-content: start;
    justify-items: center;
    overflow: auto;
    padding: 14px;
    background: var(--desk);
  }
  .pages > :global(*) {
    width: min(100%, 440px);
    cursor: pointer;
  }
  .line {
    display: grid;
    grid-template-columns: 52px minmax(0, 1fr) auto;
    gap: 8px;
    align-items: baseline;
    height: 100%;
    padding-right: 14px;
    font: 15px/25px var(--text);
    white-space: nowrap;
    border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
  }
  .title {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .number,
  .folio {
    font: 12.5px/1 var(--ui);
    font-variant-numeric: tabular-nums;
  }
  .right {
    margin-left: auto;
  }
  .soft {
    color: var(--ink-soft);
  }
  .none {
    padding: 14px;
  }
</style>
