<script lang="ts">
  // The text of a passage, typed where it is used: a manuscript of its own inside the manuscript.
  import type { DeskClient } from '../../live/desk-client.svelte';
  import type { KeptOnce } from '../../kept/kept-once.svelte';
  import { sendLeftOver } from '../../live/left-over';
  import type { Unsent } from '../../live/unsent';
  import { api, type DeskDivision } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import type { CaretPlace } from './caret-place';
  import Manuscript from './Manuscript.svelte';
  import type { NodeViewActs } from './node-views';

  interface Props {
    kept: KeptOnce;
    passage: string;
    acts: NodeViewActs;
    oncaret: (place: CaretPlace) => void;
    onleave: () => void;
  }
  let { kept, passage, acts, oncaret, onleave }: Props = $props();

  let open = $state.raw<DeskDivision | null>(null);
  let left = $state.raw<Unsent[]>([]);
  let client: DeskClient | null = null;
  let manuscript = $state<ReturnType<typeof Manuscript>>();

  async function load() {
    try {
      left = await sendLeftOver(acts.manual, passage, '');
      open = await api.division(acts.manual, passage);
    } catch (e) {
      notices.problem(e);
      onleave();
    }
  }
  void load();

  $effect(() => kept.listen((change) => manuscript?.changedElsewhere(change)));

  export const orderOf = (block: string) => manuscript?.orderOf(block) ?? -1;

  async function leave() {
    client?.hurry();
    for (let tries = 0; client?.state === 'saving' && tries < 40; tries++) await new Promise((then) => setTimeout(then, 25));
    onleave();
  }
</script>

<!-- Escape leaves it, wherever in it the caret is. -->
<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="in-place"
  onkeydown={(e) => {
    if (e.key !== 'Escape' || (e.target as HTMLElement).closest('.popover')) return;
    e.stopPropagation();
    e.preventDefault();
    void leave();
  }}
>
  {#if open}
    <Manuscript
      bind:this={manuscript}
      manualId={acts.manual}
      division={open}
      number=""
      marks={null}
      looseEnds={[]}
      variables={kept.now.variables.map((v) => v.name)}
      {kept}
      after=""
      {oncaret}
      onclient={(own) => {
        client = own;
        setTimeout(() => manuscript?.goTo(null));
      }}
      ontitled={() => undefined}
      {left}
      ontakeback={acts.takeBack}
      onstored={acts.stored}
    />
  {/if}
</div>

<style>
  .in-place {
    border-block: 1px solid var(--bottle);
  }
  .in-place :global(.scroll) {
    contain: none;
    overflow: visible;
  }
  .in-place :global(.role) {
    left: calc(-1 * var(--role-margin));
  }
  .in-place :global(.sheet) {
    padding: 8px 0 10px !important;
    min-height: 0;
    max-width: none;
  }
</style>
