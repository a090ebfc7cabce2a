<script lang="ts">
  // Where the caret is, what the last change did to the pages, who else is here, and whether all is stored.
  import type { DeskClient } from '../live/desk-client.svelte';
  import type { LiveProof } from '../live/live-proof.svelte';
  import type { ProofDivision } from '../shared/api';

  interface Props {
    proof: LiveProof;
    client: DeskClient | null;
    /** The part that the open division stands in. */
    part: ProofDivision | null;
    here: ProofDivision | null;
    path: string[];
    division: string | null;
    /** Other divisions with words of an earlier visit. */
    leftElsewhere: string[];
    ongo: (block: string) => void;
    onopen: (division: string) => void;
  }
  let { proof, client, part, here, path, division, leftElsewhere, ongo, onopen }: Props = $props();

  const saveWords = $derived(
    {
      saved: 'Saved',
      saving: 'Saving…',
      offline: 'Offline: kept in this browser, sent when the server is back',
      refused: 'Not all is stored',
    }[client?.state ?? 'saved'],
  );
  const asides = $derived(client ? [...client.unstored.keys()] : []);
  const boths = $derived(client ? [...client.both] : []);
  const others = $derived.by(() => {
    const here = proof.others.filter((o) => o.division === division).length;
    const all = proof.others.length;
    if (all === 0) return '';
    const places = [...new Set(proof.others.map((o) => proof.divisions.find((d) => d.id === o.division)?.title).filter(Boolean))];
    return `${all === 1 ? '1 other writer' : `${all} other writers`} ${here === all ? 'in this division' : places.length > 0 ? 'in ' + places.join(', ') : 'here'}`;
  });
</script>

<footer>
  <span class="path">
    {#if part}{part.number} {part.title} ›{/if}
    <b>{here ? `${here.number ? here.number + ' ' : ''}${here.title}` : ''}</b>{#each path as step, i (i)}<span>&nbsp;› {step}</span>{/each}
  </span>
  {#if proof.effectWords}<span data-effect>Last change: {proof.effectWords}</span>{/if}
  {#if others}<span class="others" data-others>{others}</span>{/if}
  {#if proof.late}<span class="m">{proof.late}</span>{/if}
  {#if leftElsewhere.length > 0}<button class="way m" onclick={() => onopen(leftElsewhere[0]!)}
      >Words of an earlier visit are not stored yet</button
    >{/if}
  {#if boths.length > 0}<button
      class="way m"
      data-both
      onclick={() => {
        ongo(boths[0]!);
        client?.sawBoth(boths[0]!);
      }}>Two texts stand in one place</button
    >{/if}
  {#if client?.unkept}<span class="m">This browser keeps nothing: do not close it before all is saved</span>{/if}
  {#if asides.length > 0}<button class="way save refused" data-save="refused" onclick={() => ongo(asides[0]!)}>{saveWords}</button>
  {:else}<span class="save {client?.state ?? 'saved'}" role="status" data-save={client?.state ?? 'saved'}>{saveWords}</span>{/if}
</footer>

<style>
  footer {
    contain: strict;
    display: flex;
    align-items: center;
    gap: 20px;
    padding: 0 14px;
    border-top: 1px solid var(--rule);
    font-size: 12px;
    color: var(--ink-soft);
    white-space: nowrap;
    overflow: hidden;
  }
  footer b {
    color: var(--ink);
    font-weight: 600;
  }
  .path,
  footer [data-effect] {
    overflow: hidden;
    text-overflow: ellipsis;
    min-width: 0;
  }
  footer :is(.others, .way, .m, .save) {
    flex: none;
  }
  .save {
    margin-left: auto;
  }
  .save.offline,
  .save.refused {
    color: var(--madder);
    font-weight: 600;
  }
  .m {
    color: var(--madder);
  }
  @media (max-width: 860px) {
    footer {
      contain: none;
      flex-wrap: wrap;
      gap: 0 16px;
      padding: 4px 10px;
    }
    footer [data-effect] {
      display: none;
    }
  }
</style>
