<script lang="ts" module>
  export interface ColleagueNote {
    by: string;
    text: string;
    words: string;
    done: boolean;
    answers: { by: string; text: string }[] | null;
  }

  const nameKey = 'kivren.name';
  /** Who writes notes in this browser. */
  export const ownName = () => localStorage.getItem(nameKey) ?? '';
</script>

<script lang="ts">
  import { untrack } from 'svelte';
  import { focusFirst } from '../../ui/focus';
  import Popover, { type Anchor } from '../../ui/Popover.svelte';

  interface Props {
    anchor: Anchor;
    /** Text "" for a new one. */
    note: ColleagueNote;
    onkeep: (note: ColleagueNote) => void;
    onclose: () => void;
  }
  let { anchor, note, onkeep, onclose }: Props = $props();

  const isNew = untrack(() => note.text === '');
  let words = $state('');
  let name = $state(ownName());
  const asked = ownName() === '';

  function keep(done: boolean) {
    const by = name.trim();
    if (by) localStorage.setItem(nameKey, by);
    const text = words.trim();
    if (isNew) {
      if (text) onkeep({ ...note, by, text });
      else onclose();
      return;
    }
    onkeep({ ...note, done, answers: text ? [...(note.answers ?? []), { by, text }] : note.answers });
  }
</script>

<Popover label="Note to a colleague" {anchor} width={360} {onclose}>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      keep(note.done && !words.trim());
    }}
  >
    {#if note.words}<p class="about">“{note.words}”</p>{/if}
    {#if !isNew}
      <p>
        {#if note.by}<b>{note.by}</b>&ensp;{/if}{note.text}
      </p>
      {#each note.answers ?? [] as answer, i (i)}<p class="answer">
          {#if answer.by}<b>{answer.by}</b>&ensp;{/if}{answer.text}
        </p>{/each}
    {/if}
    <textarea
      class="field"
      rows="3"
      aria-label={isNew ? 'Note' : 'Answer'}
      placeholder={isNew ? 'What your colleague is to know or do' : 'Answer'}
      bind:value={words}
      onkeydown={(e) => {
        if (e.key !== 'Enter' || e.shiftKey) return;
        e.preventDefault();
        keep(note.done && !words.trim());
      }}
      {@attach focusFirst}></textarea>
    {#if asked}<label>Your name <input class="field" autocomplete="off" bind:value={name} /></label>{/if}
    <div class="end">
      <span>It is never printed.</span>
      {#if !isNew}<button type="button" class="btn" onclick={() => keep(!note.done)}>{note.done ? 'Open again' : 'Done'}</button>{/if}
      <button type="submit" class="btn do">{isNew ? 'Put in' : 'Answer'}</button>
    </div>
  </form>
</Popover>

<style>
  form {
    display: grid;
    gap: 6px;
    padding: 4px 6px;
    font-size: 12.5px;
  }
  .about {
    color: var(--ink-soft);
    font: italic 14px/1.3 var(--text);
    max-height: 60px;
    overflow: auto;
  }
  .answer {
    padding-left: 14px;
    border-left: 2px solid var(--rule);
  }
  label {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 8px;
    align-items: center;
    font-weight: 600;
  }
  .end {
    display: flex;
    justify-content: flex-end;
    align-items: center;
    gap: 8px;
    font-size: 11.5px;
    color: var(--ink-soft);
  }
  .end span {
    margin-right: auto;
  }
</style>
