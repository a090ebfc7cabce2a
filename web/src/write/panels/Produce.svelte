<script lang="ts">
  import { address, api } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import type { LiveProof } from '../../live/live-proof.svelte';

  interface Props {
    manualId: string;
    proof: LiveProof;
  }
  let { manualId, proof }: Props = $props();

  const output = $derived(proof.output);
  const busy = $derived(output !== null && (output.state === 'Waiting' || output.state === 'Running'));

  async function produce() {
    try {
      proof.output = (await api.produce(manualId, { kind: 'screenPdf' }))[0] ?? null;
    } catch (e) {
      notices.problem(e);
    }
  }

  async function cancel() {
    if (!output) return;
    try {
      await api.cancelOutput(manualId, output.id);
      if (output.state === 'Waiting') proof.output = { ...output, state: 'Cancelled' };
    } catch (e) {
      notices.problem(e);
    }
  }
</script>

{#if busy && output}
  <span class="stage" role="status">
    {output.stage || 'Waiting'}{output.total ? ` ${output.done}/${output.total}` : ''}
    <progress max={output.total || 1} value={output.total ? output.done : undefined} aria-label="Producing the PDF"></progress>
  </span>
  <button class="btn" onclick={cancel}>Cancel</button>
{:else}
  {#if output?.state === 'Done'}
    <a class="btn" href={address(`/api/manuals/${manualId}/outputs/${output.id}/file`)} download>Take the PDF ({output.pages} pages)</a>
  {:else if output?.state === 'Failed'}
    <span class="m" role="status">○ {output.problem}</span>
  {/if}
  <button class="btn" onclick={produce}>Produce PDF</button>
{/if}

<style>
  .stage {
    font-size: 12px;
    color: var(--ink-soft);
    display: inline-flex;
    align-items: center;
    gap: 6px;
  }
  progress {
    width: 70px;
    height: 4px;
    accent-color: var(--bottle);
  }
  .m {
    color: var(--madder);
    font-size: 12px;
  }
</style>
