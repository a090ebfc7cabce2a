<script lang="ts">
  import { api, type DeskDivision, type OwnRole, type PlanRow } from '../shared/api';
  import type { KeptOnce } from '../kept/kept-once.svelte';
  import { sendLeftOver } from '../live/left-over';
  import type { Unsent } from '../live/unsent';
  import { notices } from '../shared/notices.svelte';
  import Manuscript from '../write/manuscript/Manuscript.svelte';

  interface Props {
    manualId: string;
    row: PlanRow;
    variables: string[];
    roles: OwnRole[];
    kept: KeptOnce;
    onstored: (act: number) => void;
    onclose: () => void;
    ontakeback: (again: boolean) => void;
  }
  let { manualId, row, variables, roles, kept, onstored, onclose, ontakeback }: Props = $props();

  let part = $state.raw<DeskDivision | null>(null);
  let after = $state('');
  let left = $state.raw<Unsent[]>([]);
  let manuscript = $state<ReturnType<typeof Manuscript>>();

  /** The text right under a head, up to the next head; under a division's title, up to its first. */
  async function load() {
    try {
      const before = row.id === row.division ? '' : row.id;
      left = await sendLeftOver(manualId, row.division, before);
      const division = await api.division(manualId, row.division);
      const blocks = division.blocks ?? [];
      const isHead = (body: string) => (JSON.parse(body) as { type: string }).type === 'head';
      const at = row.id === row.division ? -1 : blocks.findIndex((b) => b.id === row.id);
      let end = at + 1;
      while (end < blocks.length && !isHead(blocks[end]!.body)) end++;
      after = at >= 0 ? row.id : '';
      part = { ...division, blocks: blocks.slice(at + 1, end) };
    } catch (e) {
      notices.problem(e);
      onclose();
    }
  }
  void load();
</script>

<!-- Escape leaves the text, wherever in it the caret is. -->
<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="text"
  onkeydown={(e) => {
    if (e.key === 'Escape' && !(e.target as HTMLElement).closest('.popover')) {
      e.stopPropagation();
      onclose();
    }
  }}
>
  {#if part}
    <Manuscript
      bind:this={manuscript}
      {manualId}
      division={part}
      number=""
      marks={null}
      looseEnds={[]}
      {variables}
      {roles}
      {kept}
      {after}
      oncaret={() => undefined}
      onclient={() => setTimeout(() => manuscript?.goTo(null))}
      ontitled={() => undefined}
      {left}
      {ontakeback}
      {onstored}
    />
  {/if}
</div>

<style>
  .text {
    display: grid;
    height: 100%;
    border-top: 1px solid var(--bottle);
    border-bottom: 1px solid var(--bottle);
    background: var(--paper);
  }
</style>
