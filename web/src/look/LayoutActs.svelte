<script lang="ts">
  // What is done with a page layout: another made from it, turned or not, and itself taken out where no page takes it.
  import type { LookDraft } from './draft.svelte';
  import { inWords, usesOf } from './parts';
  import { freeName, sourceOf, type Json, type Part } from './tree';

  interface Props {
    draft: LookDraft;
    at: number;
    onmade: (at: number) => void;
  }
  let { draft, at, onmade }: Props = $props();

  const masters = $derived(((draft.look as Part).masters ?? []) as Part[]);
  const own = $derived(masters[at]!);
  const uses = $derived(usesOf(draft.look, String(own.name)));
  const bases = $derived(masters.filter((m) => m.basedOn === own.name).map((m) => String(m.name)));

  function put(next: Part) {
    const list: Json[] = [...masters];
    list.splice(at + 1, 0, next);
    draft.set('masters', list);
    onmade(at + 1);
  }

  const counted = (setting: string) => sourceOf(draft.look, `masters[${at}].${setting}`, null).value ?? 0;

  const based = () => put({ name: freeName(`${String(own.name)}, another`, masters), basedOn: own.name! });
  const copy = () => put({ ...own, name: freeName(`${String(own.name)}, copy`, masters) });
  /** What was the inner margin stands at the head. */
  const turned = () =>
    put({
      name: freeName(`${String(own.name)}, landscape`, masters),
      basedOn: own.name!,
      width: counted('height'),
      height: counted('width'),
      inner: counted('foot'),
      outer: counted('top'),
      top: counted('inner'),
      foot: counted('outer'),
      mirrored: false,
      columns: 1,
      sideColumn: 0,
      sideGap: 0,
    });
</script>

<p class="soft">
  {uses.length > 0 ? `Taken by ${uses.map((u) => inWords(u).toLowerCase()).join(', ')}.` : 'No page takes it.'}
  {#if bases.length > 0}{bases.join(', ')} {bases.length === 1 ? 'is' : 'are'} based on it.{/if}
</p>
<div class="acts">
  <button class="btn small" onclick={based}>New one based on it</button>
  <button class="btn small" onclick={copy}>Copy</button>
  <button class="btn small" onclick={turned}>Landscape sister</button>
  <button
    class="btn small"
    disabled={uses.length > 0 || bases.length > 0 || masters.length === 1}
    onclick={() => (draft.set(`masters[${at}]`, undefined), onmade(Math.max(0, at - 1)))}>Take out</button
  >
</div>

<style>
  .soft {
    color: var(--ink-soft);
    font-size: 12.5px;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
    padding: 6px 0;
  }
  .small {
    padding: 2px 8px;
    font-size: 12px;
  }
</style>
