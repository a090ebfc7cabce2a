<script lang="ts">
  // A division's title and its short title, written as text and as long as they are.
  interface Props {
    title: string;
    shortTitle: string | null;
    number: string;
    onrename: (title: string) => void;
    onshorten: ((shortTitle: string) => void) | undefined;
    /** On into the text. */
    onleave: () => void;
  }
  let { title, shortTitle, number, onrename, onshorten, onleave }: Props = $props();

  const oneLine = (words: string) => words.replace(/\s+/g, ' ').trim();

  /** A title stands whole, however long it is. */
  function tall(title: HTMLTextAreaElement) {
    title.style.height = 'auto';
    title.style.height = `${title.scrollHeight}px`;
  }

  /** As tall as its words need, at every width. */
  function asTall(title: HTMLTextAreaElement) {
    let width = 0;
    const watch = new ResizeObserver(() => {
      if (title.clientWidth === width) return;
      width = title.clientWidth;
      tall(title);
    });
    watch.observe(title);
    return () => watch.disconnect();
  }

  function key(event: KeyboardEvent) {
    if (event.key !== 'Enter') return;
    event.preventDefault();
    onleave();
  }
</script>

{#snippet written(label: string, placeholder: string, words: string, change: (words: string) => void)}
  <textarea
    rows="1"
    aria-label={label}
    {placeholder}
    value={words}
    oninput={(e) => tall(e.currentTarget)}
    onchange={(e) => {
      const now = oneLine(e.currentTarget.value);
      if (now !== words) change(now);
    }}
    onkeydown={key}
    {@attach asTall}></textarea>
{/snippet}

<div class="titles">
  <div class="title">
    {#if number}<span class="number">{number}</span>{/if}
    {@render written('Title of the division', 'Title', title, onrename)}
  </div>
  {#if onshorten}
    <div class="short">
      {@render written('Short title for running heads', 'Short title, where running heads need one', shortTitle ?? '', onshorten)}
    </div>
  {/if}
</div>

<style>
  .titles {
    margin-bottom: 18px;
  }
  .title {
    display: flex;
    align-items: baseline;
    gap: 12px;
    font: 500 27px/1.2 var(--text);
  }
  .number {
    color: var(--ink-soft);
  }
  .short {
    display: flex;
    margin-top: 3px;
    font: 12.5px/1.4 var(--ui);
    color: var(--ink-soft);
  }
  textarea {
    flex: 1;
    resize: none;
    overflow: hidden;
    min-width: 0;
    background: none;
    border-bottom: 1px solid transparent;
  }
  textarea:hover,
  textarea:focus {
    border-bottom-color: var(--rule);
    outline: none;
  }
</style>
