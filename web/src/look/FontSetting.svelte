<script lang="ts">
  // The file of a face: chosen from the house's own, read and judged by the server before a look can name it.
  import { api } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import type { Json, Part } from './tree';

  interface Props {
    id: string;
    value: Json | undefined;
    onchoose: (font: Json) => void;
  }
  let { id, value, onchoose }: Props = $props();

  let input = $state<HTMLInputElement>();
  let reading = $state(false);
  const called = $derived(value ? String((value as Part).called ?? '') : '');

  async function take() {
    const file = input?.files?.[0];
    if (!file) return;
    reading = true;
    try {
      onchoose(await api.fontFile(file));
    } catch (e) {
      notices.problem(e);
    } finally {
      reading = false;
      if (input) input.value = '';
    }
  }
</script>

<button {id} class="btn small" disabled={reading} onclick={() => input?.click()}
  >{reading ? 'Reading …' : called ? 'Another file …' : 'Choose a file …'}</button
>
{#if called}<span class="soft">{called}</span>{/if}
<input bind:this={input} type="file" accept=".ttf,.otf" hidden data-font={id} onchange={() => void take()} />

<style>
  .small {
    padding: 2px 8px;
    font-size: 12px;
  }
  .soft {
    color: var(--ink-soft);
    font-size: 12px;
    overflow-wrap: anywhere;
  }
</style>
