<script lang="ts" module>
  /** A file that is no look, or none that can be worn. */
  export interface RefusedFile {
    file: string;
    said: readonly { place: string; says: string }[];
  }
</script>

<script lang="ts">
  // What the look that is tried comes to, in words: what cannot be, what changes, loose ends that come and go.
  import type { LookDraft } from './draft.svelte';
  import type { Part } from './tree';

  interface Props {
    draft: LookDraft;
    refused: RefusedFile | null;
    /** The shelf has another version than the one that is worn. */
    isOlder: boolean;
    /** Not the look that is worn with a change, but another one. */
    isOther: boolean;
    onnewer: () => void;
    /** Puts it on over what somebody else made of it meanwhile. */
    onkeep: () => void;
    onclose: () => void;
    ongo: (place: string) => void;
    onsee: (sheet: number) => void;
  }
  let { draft, refused, isOlder, isOther, onnewer, onkeep, onclose, ongo, onsee }: Props = $props();

  let endsShown = $state(false);
  let faultsShown = $state(false);
  const changes = $derived.by(() => {
    const said = draft.outcome?.changes ?? [];
    if (isOther) return `${String((draft.look as Part).name)} instead of ${String((draft.before as Part).name)}`;
    return said.slice(0, 3).join(' · ') + (said.length > 3 ? ` · ${said.length - 3} more` : '');
  });
  const many = (count: number, one: string) => `${count} ${one}${count === 1 ? '' : 's'}`;
  const pages = $derived.by(() => {
    const by = (draft.outcome?.pageCount ?? 0) - (draft.outcome?.pagesWorn ?? 0);
    return by === 0 ? 'as many pages' : `${by > 0 ? '+' : '−'}${many(Math.abs(by), 'page')}`;
  });
</script>

{#if isOlder && !draft.changed}
  <p class="told">
    The shelf has another version of this look. <button class="link" onclick={onnewer}>See what it changes</button>
  </p>
{:else if draft.overtaken}
  <p class="told wrong" role="alert">
    Somebody else changed this look meanwhile; yours is held here.
    <button class="btn small" onclick={onkeep}>Put mine over theirs</button>
    <button class="btn small" onclick={() => draft.back()}>Take theirs</button>
  </p>
{:else if refused}
  <div class="told wrong" role="alert">
    <b>{refused.file}</b> is not worn: {many(refused.said.length, 'fault')}.
    <ul>
      {#each refused.said.slice(0, 40) as f, i (i)}<li><code>{f.place}</code> {f.says}</li>{/each}
    </ul>
    <button class="btn small" onclick={onclose}>Close</button>
  </div>
{:else if draft.faults.length > 0}
  <div class="told wrong" role="alert">
    This cannot be worn: <button class="link" onclick={() => ongo(draft.faults[0]!.place)}>{draft.faults[0]!.says}</button>
    {#if draft.faults.length > 1}
      <button class="link" aria-expanded={faultsShown} onclick={() => (faultsShown = !faultsShown)}>
        {draft.faults.length - 1} more
      </button>
      {#if faultsShown}
        <ul>
          {#each draft.faults.slice(1, 40) as f, i (i)}<li><button class="link" onclick={() => ongo(f.place)}>{f.says}</button></li>{/each}
        </ul>
      {/if}
    {/if}
  </div>
{:else if draft.changed && draft.outcome}
  <p class="told" data-compared>
    {changes}: {pages},
    {#if draft.outcome.cameCount > 0}<button class="link" aria-expanded={endsShown} onclick={() => (endsShown = !endsShown)}
        >{many(draft.outcome.cameCount, 'loose end')} more</button
      >{:else}no new loose ends{/if}{draft.outcome.goneCount > 0 ? `, ${draft.outcome.goneCount} gone` : ''}.
  </p>
  {#if endsShown && draft.outcome.cameCount > 0}
    <ul class="told ends">
      {#each draft.outcome.come as end, i (i)}
        <li>
          {#if end.sheet !== null}<button class="link" onclick={() => onsee(end.sheet!)}>{end.message}</button>{:else}{end.message}{/if}
        </li>
      {/each}
    </ul>
  {/if}
{:else}
  <p class="told">
    {draft.changed
      ? 'All of the manual is composed in it …'
      : 'Change a setting, or press something on a page: here stands what it comes to in all of the manual.'}
  </p>
{/if}

<style>
  /* The line is always there: what an answer says moves nothing that is being pressed. */
  .told {
    grid-column: 1 / -1;
    min-height: 25px;
    line-height: 25px;
    font-size: 12.5px;
    color: var(--ink-soft);
  }
  .told.wrong {
    color: var(--madder);
  }
  .told ul {
    max-height: 130px;
    overflow: auto;
  }
  .ends {
    max-height: 110px;
    overflow: auto;
  }
  .link {
    color: var(--woad);
    font-size: 12.5px;
    cursor: pointer;
    text-align: left;
  }
  .link:hover {
    text-decoration: underline;
  }
  .wrong .link {
    color: inherit;
  }
  .small {
    padding: 2px 8px;
    font-size: 12px;
  }
</style>
