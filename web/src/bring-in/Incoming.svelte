<script lang="ts">
  import { tick, untrack } from 'svelte';
  import { address, api, type BringInBlock, type BringInView } from '../shared/api';
  import Pick from '../ui/Pick.svelte';
  import { incomingBlock } from './incoming-blocks';
  import '../write/manuscript/manuscript.css';

  interface Props {
    view: BringInView;
    chosen: string;
    at: number;
    onblock: (block: BringInBlock, index: number) => void;
    onexception: (block: BringInBlock, role: string) => void;
  }
  let { view, chosen, at, onblock, onexception }: Props = $props();

  const window_ = 120;
  let blocks = $state.raw<BringInBlock[]>([]);
  let total = $state(0);
  let from = $state(0);
  let loading = false;
  let scroller = $state<HTMLElement>();
  let panel = $state.raw<{ block: BringInBlock; anchor: Element } | null>(null);

  async function load(start: number, count: number, keep: boolean) {
    if (loading) return;
    loading = true;
    try {
      const found = await api.bringInBlocks(view.id, start, count);
      total = found.total;
      if (keep) blocks = [...blocks, ...found.blocks];
      else {
        blocks = found.blocks;
        from = start;
      }
    } catch {
      // The view itself tells when the documents are gone.
    } finally {
      loading = false;
    }
  }

  // A new shaping: what is shown is read again where the writer is.
  $effect(() => {
    void view.version;
    untrack(() => void load(from, Math.max(window_, blocks.length), false));
  });

  // A place that was chosen elsewhere is read when it is not here, and shown.
  $effect(() => {
    const index = at;
    untrack(async () => {
      if (index < from || index >= from + blocks.length) await load(Math.max(0, index - 12), window_, false);
      const block = blocks[index - from];
      if (!block || index !== at) return;
      onblock(block, index);
      await tick();
      document.getElementById('in-' + block.id)?.scrollIntoView({ block: 'nearest' });
    });
  });

  /** What stands above the first block that was read. */
  const earlier = () => load(Math.max(0, from - window_), blocks.length + Math.min(window_, from), false);

  // A line chosen on the left shows its first paragraph here.
  $effect(() => {
    const key = chosen;
    untrack(() => {
      const first = blocks.find((b) => b.line === key);
      if (first && key) document.getElementById('in-' + first.id)?.scrollIntoView({ block: 'nearest' });
    });
  });

  function more() {
    if (!scroller) return;
    if (scroller.scrollHeight - scroller.scrollTop - scroller.clientHeight < 900 && from + blocks.length < total)
      void load(from + blocks.length, window_, true);
  }

  const roleOf = (key: string) => view.lines.find((l) => l.key === key)?.roleLabel ?? '';

  function render(body: string) {
    return (element: HTMLElement) => {
      element.replaceChildren(incomingBlock(body, (name) => address(`/api/bring-in/${view.id}/pictures/${encodeURIComponent(name)}`)));
    };
  }

  function open(block: BringInBlock) {
    const element = document.getElementById('in-' + block.id);
    if (element) panel = { block, anchor: element };
  }

  function key(event: KeyboardEvent) {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    const here = at - from;
    if (step !== 0) {
      const next = blocks[Math.max(0, Math.min(blocks.length - 1, here + step))];
      if (next) {
        onblock(next, from + blocks.indexOf(next));
        document.getElementById('in-' + next.id)?.scrollIntoView({ block: 'nearest' });
      }
      event.preventDefault();
    } else if (event.key === 'Enter' && event.target === event.currentTarget) {
      const block = blocks[here];
      if (block && block.place > 0) open(block);
      event.preventDefault();
    }
  }
</script>

<div
  class="scroll"
  bind:this={scroller}
  onscroll={more}
  onkeydown={key}
  role="grid"
  tabindex="0"
  aria-label="The text as it will come in"
  aria-activedescendant={blocks[at - from] ? 'in-' + blocks[at - from]!.id : undefined}
>
  <div class="incoming manuscript">
    {#if from > 0}<button class="btn small" onclick={earlier}>{from} blocks above</button>{/if}
    {#each blocks as block, i (block.id)}
      <!-- The list itself takes the keys. -->
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <div
        id={'in-' + block.id}
        class="block"
        class:tinted={block.line !== '' && block.line === chosen}
        class:here={from + i === at}
        role="row"
        tabindex="-1"
        aria-selected={from + i === at}
        onclick={() => onblock(block, from + i)}
      >
        <div role="gridcell">
          {#if (block.line !== '' && block.line === chosen) || from + i === at}
            <button class="label" tabindex="-1" disabled={block.place === 0} title="Change this paragraph alone" onclick={() => open(block)}
              >{roleOf(block.line) || (block.body.startsWith('{"type":"title"') ? 'Title' : '')}</button
            >
          {/if}
          <div class="set" {@attach render(block.body)}></div>
        </div>
      </div>
    {/each}
    {#if total === 0}<p class="soft">Nothing of these files would come in. Look at what is left out, or change a role on the left.</p>{/if}
    {#if from + blocks.length < total}<p class="soft">… {total - from - blocks.length} more blocks below</p>{/if}
  </div>
  {#if panel}
    <Pick
      label="This paragraph alone"
      choices={view.roles.filter((r) => !r.span).map((r) => ({ name: r.label, role: r.name }))}
      anchor={panel.anchor}
      onchoose={(c) => {
        const block = panel!.block;
        panel = null;
        onexception(block, c.role);
        scroller?.focus();
      }}
      onclose={() => {
        panel = null;
        scroller?.focus();
      }}
    />
  {/if}
</div>

<style>
  .scroll {
    position: relative;
    overflow: hidden auto;
    background: var(--paper);
    min-width: 0;
  }
  .scroll:focus-visible {
    outline-offset: -2px;
  }
  .incoming {
    padding: 14px 16px 40px 88px;
    font-size: 16px;
    line-height: 1.45;
    white-space: normal;
  }
  .incoming :global(.block .set > *) {
    white-space: pre-wrap;
    margin-bottom: 7px;
  }
  .incoming :global(.block .set > h2) {
    font-size: 22px;
    margin-block: 12px 7px;
  }
  .incoming :global(.block .set > h3) {
    font-size: 17px;
    margin-block: 9px 5px;
  }
  .incoming :global(.block .set > h4) {
    margin-block: 5px 4px;
  }
  .block {
    position: relative;
    border-radius: 2px;
  }
  .block.tinted {
    background: var(--bottle-tint);
  }
  .block.here {
    box-shadow: -3px 0 0 var(--bottle);
  }
  .label {
    position: absolute;
    right: calc(100% + 8px);
    top: 4px;
    width: 74px;
    text-align: right;
    font: 11.5px/1.2 var(--ui);
    color: var(--bottle);
    cursor: pointer;
  }
  .soft {
    font: 13px/1.5 var(--ui);
    color: var(--ink-soft);
  }
  .incoming :global(.division-title) {
    font: 500 26px/1.25 var(--text);
    margin: 6px 0 10px;
  }
  .incoming :global(.figure img) {
    max-height: 150px;
    max-width: 100%;
    background: #fff;
  }
  .incoming :global(.alternative) {
    font: 11.5px/1.4 var(--ui);
    color: var(--ink-soft);
  }
  .incoming :global(.alternative.loose) {
    color: var(--madder);
  }
</style>
