<script lang="ts">
  // A setting that is a list: its items in order, each with its own settings; put in, taken out, moved.
  import type { SettingForm } from '../shared/api';
  import type { LookDraft } from './draft.svelte';
  import type { Unit } from './measures';
  import { inWords, newItem, type Forms } from './parts';
  import PartSettings from './PartSettings.svelte';
  import { moved, sourceOf, type Json, type Part } from './tree';

  interface Props {
    draft: LookDraft;
    forms: Forms;
    form: SettingForm;
    place: string;
    unit: Unit;
    ongo: (place: string) => void;
  }
  let { draft, forms, form, place, unit, ongo }: Props = $props();

  const source = $derived(sourceOf(draft.look, place, form.usual));
  const items = $derived((source.value ?? []) as Json[]);
  const simple = $derived(form.of === 'text' || form.of === 'choice');

  /** The item that was put in last, to be filled in at once. */
  let added = $state(-1);

  const put = (next: Json[], kind = '') => draft.set(place, next, kind);
  const without = (at: number) => put(items.filter((_, i) => i !== at));

  function called(item: Json, i: number): string {
    if (item === null || typeof item !== 'object') return String(item);
    const part = item as Part;
    if (part.pattern !== undefined && part.edge !== undefined)
      return `${inWords(String(part.edge))}, ${String(part.place)}: ${String(part.pattern)}`;
    if (part.label !== undefined) return `${String(part.label)}: ${String(part.pattern)}`;
    if (part.kind !== undefined)
      return `${i + 1}: ${inWords(String(part.kind))}${part.level ? ` ${String(part.level).toUpperCase()}` : ''}`;
    if (part.picture || part.grey !== undefined || part.x !== undefined)
      return part.picture ? `Picture ${String(part.picture)}` : `Tint ${i + 1}`;
    if (part.name !== undefined || part.role !== undefined) return inWords(String(part.name ?? part.role));
    return part.position !== undefined ? `Tab stop ${i + 1}` : `${i + 1}`;
  }
</script>

<div class="items" data-setting={place}>
  <p class="head">
    <span>{form.words}</span>
    {#if source.from}<button class="from" onclick={() => source.place && ongo(source.place)}>from {source.from}</button
      >{:else if source.here && form.usual !== null}<button class="from" onclick={() => draft.set(place, undefined)} title="Not said here"
        >✕<span class="hidden"> {form.words} not said here</span></button
      >{/if}
  </p>
  {#if simple}
    <div class="words">
      {#each items as item, i (i)}
        <span class="word">
          <input
            class="field"
            aria-label="{form.words} {i + 1}"
            value={String(item)}
            maxlength="40"
            onchange={(e) => put(items.map((v, at) => (at === i ? e.currentTarget.value : v)))}
          /><button class="from" onclick={() => without(i)} aria-label="Take out {String(item)}">✕</button>
        </span>
      {/each}
    </div>
  {:else}
    {#each items as item, i (i)}
      <details open={i === added}>
        <summary>{called(item, i)}</summary>
        <div class="acts">
          <button class="btn small" disabled={i === 0} onclick={() => put(moved(items, i, -1))}>Up</button>
          <button class="btn small" disabled={i === items.length - 1} onclick={() => put(moved(items, i, 1))}>Down</button>
          <button class="btn small" onclick={() => without(i)}>Take out</button>
        </div>
        {#if source.here}
          <PartSettings {draft} {forms} of={form.of} place="{place}[{i}]" {unit} {ongo} />
        {:else}
          <button class="btn small" onclick={() => put(items)}>Say them here, to change them</button>
        {/if}
      </details>
    {/each}
  {/if}
  <button class="btn small" onclick={() => ((added = items.length), put([...items, newItem(draft.look, form.of, items)]))}>Add one</button>
</div>

<style>
  .items {
    border-top: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
    padding: 4px 0;
  }
  .head {
    display: flex;
    gap: 8px;
    justify-content: space-between;
    font-size: 12.5px;
  }
  .from {
    color: var(--woad);
    font-size: 12px;
    cursor: pointer;
  }
  .words {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    padding: 4px 0;
  }
  .word {
    display: flex;
    align-items: center;
    gap: 2px;
  }
  .word .field {
    width: 76px;
    padding: 3px 6px;
  }
  details {
    padding: 2px 0;
  }
  summary {
    cursor: pointer;
    font-size: 12.5px;
    overflow-wrap: anywhere;
  }
  details > :global(:not(summary)) {
    margin-left: 10px;
  }
  .acts {
    display: flex;
    gap: 4px;
    padding: 3px 0;
  }
  .small {
    padding: 2px 8px;
    font-size: 12px;
  }
  .hidden {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
</style>
