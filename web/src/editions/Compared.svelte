<script lang="ts">
  // Two editions beside each other: pages, loose ends, the text that only one has, what reads otherwise.
  import type { ComparedEditions } from '../shared/api';
  import { route } from '../shared/route.svelte';
  import Dialog from '../ui/Dialog.svelte';

  interface Props {
    manualId: string;
    first: string;
    second: string;
    compared: ComparedEditions;
    onclose: () => void;
  }
  let { manualId, first, second, compared, onclose }: Props = $props();

  const parts = $derived([
    { title: `Only in “${first}”`, blocks: compared.onlyFirst },
    { title: `Only in “${second}”`, blocks: compared.onlySecond },
    { title: 'Reads otherwise', blocks: compared.otherwise },
  ]);
  /** Blocks of one division stand under its title. */
  const byDivision = (blocks: ComparedEditions['onlyFirst']) =>
    blocks.first.reduce<{ title: string; blocks: typeof blocks.first }[]>((groups, block) => {
      const last = groups.at(-1);
      if (last?.title === block.title) last.blocks.push(block);
      else groups.push({ title: block.title, blocks: [block] });
      return groups;
    }, []);
  const same = $derived(parts.every((p) => p.blocks.count === 0) && !compared.otherOrder);
</script>

<Dialog title="“{first}” and “{second}”" wide {onclose}>
  <table>
    <thead><tr><td></td><th scope="col">{first}</th><th scope="col">{second}</th></tr></thead>
    <tbody>
      <tr
        ><th scope="row">pages</th>{#each compared.pages as n, i (i)}<td>{n}</td>{/each}</tr
      >
      <tr
        ><th scope="row">loose ends</th>{#each compared.looseEnds as n, i (i)}<td>{n}</td>{/each}</tr
      >
    </tbody>
  </table>
  {#if same}<p>Both say the same, in the same order.</p>{/if}
  {#if compared.otherOrder}<p>What both have stands in another order.</p>{/if}
  {#each parts.filter((p) => p.blocks.count > 0) as part (part.title)}
    <section>
      <h3>{part.title}: {part.blocks.count === 1 ? 'one piece of text' : `${part.blocks.count} pieces of text`}</h3>
      {#each byDivision(part.blocks) as group, g (g)}
        <h4>{group.title}</h4>
        <ul>
          {#each group.blocks as block (block.block)}<li>
              <button onclick={() => route.manual(manualId, block.division, block.block === block.division ? null : block.block)}
                >{block.words || 'without words'}</button
              >
            </li>{/each}
        </ul>
      {/each}
      {#if part.blocks.count > part.blocks.first.length}<p class="soft">and {part.blocks.count - part.blocks.first.length} more.</p>{/if}
    </section>
  {/each}
  <p class="acts"><button class="btn" onclick={onclose}>Close</button></p>
</Dialog>

<style>
  table {
    border-collapse: collapse;
    margin-bottom: 10px;
  }
  th,
  td {
    text-align: left;
    font-weight: 500;
    padding: 2px 22px 2px 0;
    font-variant-numeric: tabular-nums;
  }
  h3 {
    font-size: 14px;
    font-weight: 600;
    margin: 14px 0 4px;
  }
  h4 {
    font: 500 14px/1.3 var(--text);
    color: var(--ink-soft);
    margin: 6px 0 2px;
  }
  li button {
    text-align: left;
    cursor: pointer;
    padding: 1px 0;
    font: 14px/1.35 var(--text);
  }
  li button:hover {
    text-decoration: underline;
  }
  .soft {
    color: var(--ink-soft);
  }
  .acts {
    margin-top: 14px;
  }
</style>
