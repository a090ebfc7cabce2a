<script lang="ts">
  // How the index is set: tried on the pages at once, and taken back by one press.
  import Popover, { type Anchor } from '../ui/Popover.svelte';
  import { api, type ListsView } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import type { OpenedManual } from '../live/opened-manual.svelte';
  import { writer } from '../live/tab';

  interface Props {
    opened: OpenedManual;
    anchor: Anchor;
    comparing: boolean;
    /** The pages as they are now are to stay in sight beside those that come. */
    oncompare: () => void;
    onclose: () => void;
  }
  let { opened, anchor, comparing, oncompare, onclose }: Props = $props();

  interface LineDress {
    face: string;
    size: number;
    leading: number;
    before?: number;
    tabular?: boolean;
  }
  interface IndexDress {
    text: LineDress;
    group: LineDress;
    columns: number;
    gutter?: number;
    indent?: number;
    runIn?: boolean;
    joins?: boolean;
    elision?: string;
    letterByLetter?: boolean;
    groupHeads?: boolean;
    principalBold?: boolean;
    continued: string;
  }

  let lists = $state.raw<ListsView | null>(null);
  let dress = $state.raw<IndexDress | null>(null);

  async function read() {
    try {
      lists = await api.lists(opened.id);
      dress = JSON.parse(lists.indexDress) as IndexDress;
    } catch (e) {
      notices.problem(e);
    }
  }
  void read();

  async function set(change: Partial<IndexDress>) {
    if (!dress) return;
    const next = { ...dress, ...change };
    if (await opened.act(() => api.listAct(opened.id, writer, { do: 'dressIndex', definition: JSON.stringify(next) }))) dress = next;
  }

  async function like(definition: string | null) {
    if (await opened.act(() => api.listAct(opened.id, writer, { do: 'dressIndex', definition }))) await read();
  }

  const number = (value: string, least: number, most: number) => Math.min(most, Math.max(least, Number(value.replace(',', '.')) || least));
</script>

<Popover label="How the index is set" {anchor} width={380} {onclose}>
  {#if dress && lists}
    <h3>How the index is set</h3>
    <p class="soft">Each change shows on the pages at once; Ctrl Z takes it back.</p>
    {#if comparing}<p class="soft">The index as it was stands beside it.</p>{:else}<div class="row">
        <button class="btn small" onclick={oncompare}>Keep it as it is in sight, to compare</button>
      </div>{/if}
    <dl>
      <dt>Columns</dt>
      <dd>
        <input
          class="field n"
          type="number"
          min="1"
          max="4"
          aria-label="Columns"
          value={dress.columns}
          onchange={(e) => void set({ columns: number(e.currentTarget.value, 1, 4) })}
        />
      </dd>
      <dt>Subheadings</dt>
      <dd>
        <select
          class="field"
          aria-label="Subheadings"
          value={dress.runIn ? 'run' : 'own'}
          onchange={(e) => void set({ runIn: e.currentTarget.value === 'run' })}
        >
          <option value="own">on lines of their own</option>
          <option value="run">run on in the heading’s paragraph</option>
        </select>
      </dd>
      <dt>Letters of</dt>
      <dd>
        <input
          class="field n"
          aria-label="Size of letters in points"
          value={dress.text.size}
          onchange={(e) => {
            const size = number(e.currentTarget.value, 4, 20);
            void set({ text: { ...dress!.text, size, leading: Math.max(dress!.text.leading, Math.round(size * 12) / 10) } });
          }}
        />
        pt, lines
        <input
          class="field n"
          aria-label="Distance of lines in points"
          value={dress.text.leading}
          onchange={(e) => void set({ text: { ...dress!.text, leading: number(e.currentTarget.value, 4, 40) } })}
        />
        pt apart
      </dd>
      <dt>Indent, gutter</dt>
      <dd>
        <input
          class="field n"
          aria-label="Indent in points"
          value={dress.indent ?? 0}
          onchange={(e) => void set({ indent: number(e.currentTarget.value, 0, 60) })}
        />
        <input
          class="field n"
          aria-label="Gutter in points"
          value={dress.gutter ?? 0}
          onchange={(e) => void set({ gutter: number(e.currentTarget.value, 0, 100) })}
        /> pt
      </dd>
      <dt>Page ranges</dt>
      <dd>
        <select
          class="field"
          aria-label="Page ranges"
          value={dress.elision ?? 'whole'}
          onchange={(e) => void set({ elision: e.currentTarget.value })}
        >
          <option value="whole">123–125</option>
          <option value="twoDigits">123–25</option>
          <option value="changed">123–5</option>
        </select>
      </dd>
      <dt>Sorted</dt>
      <dd>
        <select
          class="field"
          aria-label="Sorted"
          value={dress.letterByLetter ? 'letter' : 'word'}
          onchange={(e) => void set({ letterByLetter: e.currentTarget.value === 'letter' })}
        >
          <option value="word">word by word</option>
          <option value="letter">letter by letter</option>
        </select>
      </dd>
      <dt>“Continued”</dt>
      <dd>
        <input
          class="field"
          aria-label="Word for continued"
          value={dress.continued}
          onchange={(e) => void set({ continued: e.currentTarget.value.trim() || 'continued' })}
        />
      </dd>
    </dl>
    <div class="ticks">
      <label
        ><input type="checkbox" checked={dress.groupHeads ?? false} onchange={(e) => void set({ groupHeads: e.currentTarget.checked })} /> letters
        over the groups</label
      >
      <label
        ><input type="checkbox" checked={dress.joins ?? false} onchange={(e) => void set({ joins: e.currentTarget.checked })} /> pages that follow
        one another join to a range</label
      >
      <label
        ><input
          type="checkbox"
          checked={dress.principalBold ?? false}
          onchange={(e) => void set({ principalBold: e.currentTarget.checked })}
        /> principal locators bold</label
      >
    </div>
    <div class="row">
      <span class="soft">As in</span>
      {#each lists.looks as look (look.name)}<button class="btn small" onclick={() => void like(look.indexDress)}>{look.name}</button
        >{/each}
      {#if lists.ownIndexDress}<button class="btn small" onclick={() => void like(null)}>As the look says</button>{/if}
    </div>
  {:else}<p class="soft">Reading …</p>{/if}
</Popover>

<style>
  h3 {
    padding: 4px 6px 0;
    font-weight: 600;
  }
  .soft {
    padding: 2px 6px;
    color: var(--ink-soft);
    font-size: 12px;
  }
  dl {
    display: grid;
    grid-template-columns: 110px 1fr;
    gap: 5px 8px;
    align-items: center;
    padding: 6px;
  }
  dt {
    color: var(--ink-soft);
  }
  dd {
    display: flex;
    gap: 5px;
    align-items: center;
  }
  .field {
    padding: 3px 6px;
  }
  .n {
    width: 58px;
  }
  .ticks {
    display: grid;
    gap: 4px;
    padding: 4px 6px 8px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 5px;
    align-items: center;
    padding: 4px 0;
  }
  .small {
    padding: 1px 7px;
    font-size: 11.5px;
  }
</style>
