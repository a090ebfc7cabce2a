<script lang="ts">
  // The divisions of a kind that begin on another page than their kind does, as Plan says.
  import { beginnings } from '../plan/outline';
  import { api, type PlanRow } from '../shared/api';
  import { route } from '../shared/route.svelte';

  interface Props {
    manualId: string;
    /** As the look's file names it. */
    kind: string;
    /** Number of the composition: with another they may be others. */
    composition: number;
  }
  let { manualId, kind, composition }: Props = $props();

  let rows = $state.raw<readonly PlanRow[]>([]);
  $effect(() => {
    void composition;
    void api.plan(manualId).then(
      (plan) => (rows = plan.rows),
      () => undefined,
    );
  });
  const others = $derived(rows.filter((r) => r.begins && r.begins !== 'ByLook' && r.kind.toLowerCase() === kind.toLowerCase()));
</script>

{#if others.length === 0}
  <p class="soft">In Plan a division may begin otherwise than its kind does; none of this kind does so here.</p>
{:else}
  <p class="soft">As Plan says, these begin otherwise:</p>
  <ul>
    {#each others as row (row.id)}<li>
        <button onclick={() => route.open(manualId, 'plan', row.id)}>{`${row.number} ${row.title}`.trim()}</button>
        {beginnings[row.begins]}
      </li>{/each}
  </ul>
{/if}

<style>
  .soft {
    color: var(--ink-soft);
    font-size: 12.5px;
    margin-top: 12px;
  }
  li {
    font-size: 12.5px;
    margin: 3px 0;
  }
  button {
    text-decoration: underline;
    text-underline-offset: 2px;
    cursor: pointer;
  }
</style>
