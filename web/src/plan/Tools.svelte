<script lang="ts">
  // Over the plan: a head is found or added, the depth set, documents brought in, a division added.
  import type { PlanRow } from '../shared/api';
  import { depths, type Depth } from './outline';

  interface Props {
    rows: PlanRow[];
    current: PlanRow | null;
    depth: Depth;
    ondepth: (depth: Depth) => void;
    onfound: (id: string) => void;
    onadd: (title: string) => void;
    /** Back to the rows. */
    onleave: () => void;
    onbring: (files: File[]) => void;
    ondivision: (button: HTMLElement) => void;
  }
  let { rows, current, depth, ondepth, onfound, onadd, onleave, onbring, ondivision }: Props = $props();

  let words = $state('');
  let finding = $state(false);
  let fileInput = $state<HTMLInputElement>();
  const matches = $derived.by(() => {
    const asked = words.trim().toLowerCase();
    return asked
      ? rows.filter((r) => r.kind !== 'Text' && (r.title.toLowerCase().includes(asked) || r.number.toLowerCase() === asked)).slice(0, 9)
      : [];
  });

  function add() {
    onadd(words.trim());
    words = '';
  }
</script>

<div class="tools">
  <div class="find">
    <input
      id="plan-find"
      class="field"
      placeholder="Find a head, or type a new one…"
      aria-label="Find a head, or type a new one"
      bind:value={words}
      onfocus={() => (finding = true)}
      onblur={() => setTimeout(() => (finding = false), 150)}
      onkeydown={(e) => {
        if (e.key === 'Enter' && words.trim()) {
          const found = matches[0];
          if (found && !e.ctrlKey) {
            onfound(found.id);
            words = '';
            onleave();
          } else add();
          e.preventDefault();
        } else if (e.key === 'Escape') {
          words = '';
          onleave();
        }
      }}
    />
    {#if finding && words.trim()}
      <div class="found">
        {#each matches as m (m.id)}
          <button
            onmousedown={() => {
              onfound(m.id);
              words = '';
            }}><i>{m.number}</i> {m.title} <span class="soft">{m.folio}</span></button
          >
        {/each}
        <button class="new" onmousedown={add}
          >Add “{words.trim()}” after {current ? `${current.number} ${current.title}`.trim() : 'the last'}
          <kbd class="key">{matches.length > 0 ? 'Ctrl Enter' : 'Enter'}</kbd></button
        >
      </div>
    {/if}
  </div>
  <span class="soft">Depth</span>
  <div class="depths" role="group" aria-label="Depth">
    {#each depths as d (d)}<button class:on={d === depth} aria-pressed={d === depth} onclick={() => ondepth(d)}>{d}</button>{/each}
  </div>
  <span class="right">
    <button class="btn" onclick={() => fileInput?.click()}>Bring in…</button>
    <button class="btn" onclick={(e) => ondivision(e.currentTarget)}>New division…</button>
    <input
      class="hidden"
      type="file"
      multiple
      accept=".docx,.md,.markdown,.html,.htm,.shtml,.xhtml,.xml,.dbk,.docbook,.png,.jpg,.jpeg,.svg"
      aria-label="Documents to bring in"
      bind:this={fileInput}
      onchange={(e) => {
        onbring([...(e.currentTarget.files ?? [])]);
        e.currentTarget.value = '';
      }}
    />
  </span>
</div>

<style>
  .tools {
    display: flex;
    align-items: center;
    gap: 18px;
  }
  .soft {
    color: var(--ink-soft);
  }
  .tools {
    padding: 7px 16px;
    border-bottom: 1px solid var(--rule);
  }
  .find {
    position: relative;
    width: 270px;
  }
  .found {
    position: absolute;
    top: 100%;
    left: 0;
    width: 420px;
    z-index: 20;
    background: var(--board);
    border: 1px solid var(--rule);
    border-radius: var(--r);
    padding: 4px;
    box-shadow: 0 8px 24px rgb(60 50 30 / 0.22);
  }
  .found button {
    display: block;
    width: 100%;
    text-align: left;
    padding: 3px 8px;
    cursor: pointer;
  }
  .found button:hover {
    background: var(--bottle-tint);
  }
  .found i {
    font-style: normal;
    color: var(--ink-soft);
  }
  .found .new {
    border-top: 1px solid var(--rule);
    color: var(--bottle);
  }
  .hidden {
    display: none;
  }
  .depths {
    display: flex;
    border: 1px solid var(--rule);
    border-radius: var(--r);
    overflow: hidden;
    background: var(--paper);
  }
  .depths button {
    padding: 4px 10px;
    cursor: pointer;
    border-right: 1px solid var(--rule);
    font-size: 12.5px;
  }
  .depths button:last-child {
    border-right: 0;
  }
  .depths button.on {
    background: var(--bottle-tint);
    font-weight: 600;
  }
  @media (max-width: 860px) {
    .tools {
      flex-wrap: wrap;
      gap: 2px 12px;
      padding: 4px 10px;
    }
    .find {
      width: 220px;
    }
  }
</style>
