<script lang="ts">
  import type { BringInView, MappingLine } from '../shared/api';
  import Pick from '../ui/Pick.svelte';

  interface Props {
    view: BringInView;
    chosen: string;
    busy: boolean;
    online: (key: string) => void;
    onrole: (line: MappingLine, role: string) => void;
    oncleaning: (name: string, on: boolean) => void;
  }
  let { view, chosen, busy, online, onrole, oncleaning }: Props = $props();

  let panel = $state.raw<{ line: MappingLine; anchor: Element } | null>(null);
  let holder = $state<HTMLElement>();

  function open(line: MappingLine) {
    online(line.key);
    const row = document.getElementById('line-' + view.lines.indexOf(line));
    if (row) panel = { line, anchor: row.querySelector('.role') ?? row };
  }

  function walk(event: KeyboardEvent) {
    const at = view.lines.findIndex((l) => l.key === chosen);
    const line = view.lines[at];
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      const next = view.lines[Math.max(0, Math.min(view.lines.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)))];
      if (next) {
        online(next.key);
        document.getElementById('line-' + view.lines.indexOf(next))?.scrollIntoView({ block: 'nearest' });
      }
      event.preventDefault();
    } else if ((event.key === 'Enter' || event.key === ' ') && line && event.target === event.currentTarget) {
      open(line);
      event.preventDefault();
    }
  }

  const choices = $derived(
    panel ? view.roles.filter((r) => r.span === panel!.line.span).map((r) => ({ name: r.label, role: r.name })) : [],
  );
</script>

<div class="side" bind:this={holder}>
  <div
    class="lines"
    role="grid"
    tabindex="0"
    aria-label="Styles and look-alikes"
    aria-activedescendant={'line-' + view.lines.findIndex((l) => l.key === chosen)}
    onkeydown={walk}
  >
    {#each view.lines as line, i (line.key)}
      <!-- The list itself takes the keys. -->
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <div
        class="line"
        class:on={line.key === chosen}
        id={'line-' + i}
        role="row"
        tabindex="-1"
        aria-selected={line.key === chosen}
        onclick={() => online(line.key)}
      >
        <span class="name" role="gridcell"><b>{line.label}</b><q>{line.sample}</q></span>
        <span class="count" role="gridcell">{line.count} <i aria-hidden="true">→</i></span>
        <span role="gridcell"
          ><button
            class="role"
            class:loose={!line.certain}
            disabled={busy}
            tabindex="-1"
            aria-label={`${line.label} becomes ${line.roleLabel}`}
            onclick={() => open(line)}>{line.certain ? '' : '○ '}{line.roleLabel}</button
          ></span
        >
        <span class="why" role="gridcell">{line.chosen && !view.mapping ? 'your choice' : line.why}</span>
      </div>
    {/each}
  </div>
  <div class="cleaning" role="group" aria-label="Cleaning">
    {#each view.cleaning as c (c.name)}
      <label class:none={c.count === 0}>
        <input type="checkbox" checked={c.on} disabled={busy} onchange={(e) => oncleaning(c.name, e.currentTarget.checked)} />
        <span>{c.label}</span><span class="soft">{c.on ? c.does : 'left as they are'}</span><span class="count">{c.count}</span>
      </label>
    {/each}
  </div>
  {#if panel}
    <Pick
      label="Becomes"
      {choices}
      anchor={panel.anchor}
      onchoose={(c) => {
        const line = panel!.line;
        panel = null;
        onrole(line, c.role);
        holder?.querySelector<HTMLElement>('.lines')?.focus();
      }}
      onclose={() => {
        panel = null;
        holder?.querySelector<HTMLElement>('.lines')?.focus();
      }}
    />
  {/if}
</div>

<style>
  .side {
    position: relative;
    display: grid;
    grid-template-rows: minmax(0, 1fr) auto;
    min-height: 0;
    border-right: 1px solid var(--rule);
    background: var(--paper);
  }
  .lines {
    overflow: auto;
    min-height: 0;
  }
  .lines:focus-visible {
    outline-offset: -2px;
  }
  .line {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 52px 112px 98px;
    gap: 10px;
    align-items: center;
    padding: 6px 14px;
    border-bottom: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
    cursor: default;
  }
  .line.on {
    background: var(--bottle-tint);
    box-shadow: inset 3px 0 0 var(--bottle);
  }
  .name b {
    display: block;
    font-weight: 600;
    line-height: 1.25;
  }
  .name q {
    display: block;
    font: 13px/1.25 var(--text);
    color: var(--ink-soft);
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .count {
    text-align: right;
    font-variant-numeric: tabular-nums;
    white-space: nowrap;
  }
  .count i {
    font-style: normal;
    color: var(--ink-soft);
    padding-left: 4px;
  }
  .role {
    justify-self: start;
    color: var(--bottle);
    border-bottom: 1px solid currentcolor;
    cursor: pointer;
    text-align: left;
    line-height: 1.3;
  }
  .role.loose {
    color: var(--madder);
  }
  .why {
    font-size: 11.5px;
    color: var(--ink-soft);
  }
  .cleaning {
    border-top: 1px solid var(--rule);
    background: var(--board);
    padding: 8px 14px;
  }
  label {
    min-height: 24px;
    display: grid;
    grid-template-columns: 18px 190px 1fr 50px;
    gap: 6px;
    align-items: center;
    padding: 1.5px 0;
  }
  label.none span {
    color: var(--ink-soft);
  }
  input {
    accent-color: var(--bottle);
  }
  .soft {
    color: var(--ink-soft);
    font-size: 12px;
  }
</style>
