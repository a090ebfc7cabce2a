<script lang="ts">
  import Drawer from '../../ui/Drawer.svelte';
  import { focusFirst } from '../../ui/focus';
  import type { SpellCheck } from './spell-check.svelte';

  interface Props {
    check: SpellCheck;
    accepted: string[];
    /** Goes to the next place of a word. */
    ongo: (word: string) => void;
    /** Writes another word in all its places in the division. */
    onreplace: (word: string, by: string) => void;
    onaccept: (word: string, right: boolean) => void;
    onclose: () => void;
  }
  let { check, accepted, ongo, onreplace, onaccept, onclose }: Props = $props();

  let at = $state(0);
  let own = $state(false);
  let list = $state<HTMLElement>();
  const here = $derived(check.wrong[Math.min(at, check.wrong.length - 1)] ?? null);
  let suggested = $state.raw<{ word: string; words: string[] }>({ word: '', words: [] });

  $effect(() => {
    const word = here?.word;
    if (!word) return;
    check.suggestions(word).then(
      (words) => here?.word === word && (suggested = { word, words }),
      () => undefined,
    );
  });

  function key(event: KeyboardEvent) {
    const word = here?.word;
    const nth = Number(event.key);
    if (event.key === 'ArrowDown') at = Math.min(at + 1, check.wrong.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if (word && event.key === 'Enter') ongo(word);
    else if (word && event.key === 'a') onaccept(word, true);
    else if (word && suggested.word === word && nth >= 1 && suggested.words[nth - 1]) onreplace(word, suggested.words[nth - 1]!);
    else return;
    list?.querySelector(`[data-at="${at}"]`)?.scrollIntoView({ block: 'nearest' });
    event.preventDefault();
  }
</script>

<Drawer label="Spelling" {onclose}>
  {#snippet head()}
    <b>Words that no dictionary has</b>
    <span role="status">{check.why || (check.checked ? `${check.wrong.length} in this division` : 'Reading the dictionary…')}</span>
    {#if accepted.length > 0}
      <button class="turn" aria-pressed={own} onclick={() => (own = !own)}>{accepted.length} accepted in this manual</button>
    {/if}
  {/snippet}
  {#if own}
    <ul class="own">
      {#each accepted as word (word)}
        <li>
          {word} <button aria-label="No longer accept {word}" title="No longer accept it" onclick={() => onaccept(word, false)}>✕</button>
        </li>
      {/each}
    </ul>
  {:else}
    <!-- The list itself takes the keys; its rows are reached by them. -->
    <div
      class="words"
      role="grid"
      tabindex="0"
      aria-label="Words that no dictionary has"
      aria-activedescendant={here ? `wrong-${at}` : undefined}
      bind:this={list}
      onkeydown={key}
      {@attach focusFirst}
    >
      {#each check.wrong as wrong, i (wrong.word)}
        <!-- svelte-ignore a11y_click_events_have_key_events -->
        <div id="wrong-{i}" data-at={i} role="row" tabindex="-1" aria-selected={wrong === here} onclick={() => (at = i)}>
          <span class="word" role="gridcell">{wrong.word}</span><span class="soft" role="gridcell"
            >{wrong.count === 1 ? '' : `${wrong.count} places`}</span
          >
          {#if wrong === here}
            <span class="does" role="gridcell">
              {#each suggested.word === wrong.word ? suggested.words : [] as by, n (by)}
                <button tabindex="-1" onclick={() => onreplace(wrong.word, by)}>{by} <kbd class="key">{n + 1}</kbd></button>
              {/each}
              <button tabindex="-1" onclick={() => onaccept(wrong.word, true)}>Accept <kbd class="key">a</kbd></button>
              <button tabindex="-1" onclick={() => ongo(wrong.word)}>Go there <kbd class="key">Enter</kbd></button>
            </span>
          {/if}
        </div>
      {:else}<p class="soft">{check.why || (check.checked ? 'Nothing is misspelt here.' : '')}</p>{/each}
    </div>
  {/if}
</Drawer>

<style>
  [role='row'] {
    display: flex;
    align-items: center;
    gap: 10px;
    min-height: 28px;
    padding: 0 8px;
    border-radius: var(--r);
    cursor: pointer;
  }
  [aria-selected='true'] {
    background: var(--bottle-tint);
  }
  .word {
    min-width: 170px;
    font: 15px/1.4 var(--text);
  }
  .soft {
    color: var(--ink-soft);
    min-width: 60px;
  }
  .does {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
  }
  .does button,
  .turn {
    padding: 2px 7px;
    min-height: 24px;
    border-radius: var(--r);
    cursor: pointer;
  }
  .does button:hover,
  .turn:hover {
    background: var(--paper);
  }
  .own {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 16px;
    align-content: start;
  }
  .own button {
    min-width: 24px;
    min-height: 24px;
    color: var(--ink-soft);
    cursor: pointer;
  }
</style>
