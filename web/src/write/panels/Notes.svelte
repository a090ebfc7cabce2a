<script lang="ts">
  // What writers left for one another, in the order of the text.
  import { api, type ProofDivision, type StandingNote } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import Drawer from '../../ui/Drawer.svelte';
  import { focusFirst } from '../../ui/focus';

  interface Props {
    manualId: string;
    divisions: ProofDivision[];
    /** The composition that is shown: notes are read again with each. */
    number: number;
    ongo: (division: string, note: string) => void;
    onclose: () => void;
  }
  let { manualId, divisions, number, ongo, onclose }: Props = $props();

  type State = 'open' | 'answered' | 'done';
  let shown = $state<State | 'all'>('all');
  let notes = $state.raw<StandingNote[]>([]);
  let read = $state(false);

  const stateOf = (n: StandingNote): State => (n.done ? 'done' : n.answers > 0 ? 'answered' : 'open');
  const count = (state: State | 'all') => (state === 'all' ? notes.length : notes.filter((n) => stateOf(n) === state).length);
  const listed = $derived(notes.filter((n) => shown === 'all' || stateOf(n) === shown));

  $effect(() => {
    void number;
    api
      .notes(manualId)
      .then((found) => {
        notes = found;
        read = true;
      })
      .catch((e: unknown) => notices.problem(e));
  });
</script>

<Drawer label="Notes" {onclose}>
  {#snippet head()}
    <b>Notes to colleagues</b>
    <span role="group" aria-label="Which notes">
      {#each ['all', 'open', 'answered', 'done'] as const as state (state)}
        <button
          aria-pressed={shown === state}
          onclick={() => (shown = state)}
          {@attach (button) => {
            if (state === 'all') focusFirst(button);
          }}>{state} {count(state)}</button
        >
      {/each}
    </span>
  {/snippet}
  <ul>
    {#each listed as note (note.id)}
      <li>
        <button onclick={() => ongo(note.division, note.id)}>
          <span class="where">{divisions.find((d) => d.id === note.division)?.title ?? ''}{note.folio ? `, page ${note.folio}` : ''}</span>
          <span class="said"
            >{note.by ? `${note.by}: ` : ''}{note.text}{#if note.words}<i>&ensp;“{note.words}”</i>{/if}</span
          >
          <span class="state"
            >{note.done ? '✓' : '✎'}
            {stateOf(note)}{note.answers > 0 ? `, ${note.answers === 1 ? '1 answer' : `${note.answers} answers`}` : ''}</span
          >
        </button>
      </li>
    {:else}<li class="none">{read ? 'None. Select words, then Ctrl ; and m.' : 'Reading…'}</li>{/each}
  </ul>
</Drawer>

<style>
  span[role='group'] button {
    padding: 3px 9px;
    min-height: 24px;
    border-radius: var(--r);
    cursor: pointer;
  }
  span[role='group'] button[aria-pressed='true'] {
    background: var(--bottle-tint);
    font-weight: 600;
  }
  li button {
    display: grid;
    grid-template-columns: 220px minmax(0, 1fr) auto;
    gap: 12px;
    width: 100%;
    min-height: 26px;
    align-items: center;
    text-align: left;
    padding: 2px 6px;
    border-radius: var(--r);
    cursor: pointer;
  }
  li button:hover {
    background: var(--bottle-tint);
  }
  .where,
  .state,
  .none,
  i {
    color: var(--ink-soft);
  }
  @media (max-width: 860px) {
    li button {
      grid-template-columns: minmax(0, 1fr);
      gap: 0;
    }
  }
</style>
