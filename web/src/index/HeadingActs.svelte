<script lang="ts">
  // The heading that is chosen: where it files, what it says, what can be done to it, what is loose in it.
  import type { Heading } from './headings';

  interface Props {
    heading: Heading;
    /** Where what is asked stands. */
    bar: HTMLElement | undefined;
    onask: (what: 'rename' | 'nest' | 'see' | 'also' | 'files') => void;
    onlift: () => void;
    onrespell: (button: Element) => void;
    onsweep: () => void;
    ontakeout: () => void;
    /** With the heading that is nearly alike. */
    onmerge: () => void;
    /** An open range ends with its section. */
    onend: (entry: string) => void;
  }
  let { heading, bar = $bindable(), onask, onlift, onrespell, onsweep, ontakeout, onmerge, onend }: Props = $props();
</script>

<div class="what">
  <h2>
    {#each heading.path as step, i (i)}{i > 0 ? ' › ' : ''}{step}{/each}
  </h2>
  <p class="soft">
    files under <b>{heading.row.files ?? heading.row.text}</b>
    {#if heading.row.locators}· {heading.row.locators}{/if}
    {#if heading.row.seeAlso}· <i>see also</i> {heading.row.seeAlso}{/if}
    {#if heading.row.see}· <i>see</i> {heading.row.see}{/if}
  </p>
  <div class="acts" bind:this={bar}>
    <button class="btn small" onclick={() => onask('rename')}>Rename, merge <kbd class="key">r</kbd></button>
    <button class="btn small" onclick={() => onask('nest')}>Nest under … <kbd class="key">n</kbd></button>
    {#if heading.path.length > 1}<button class="btn small" onclick={onlift}>Lift <kbd class="key">l</kbd></button>{/if}
    <button class="btn small" onclick={() => onask('see')}>Turn into <i>see</i> … <kbd class="key">e</kbd></button>
    <button class="btn small" onclick={() => onask('also')}><i>See also</i> … <kbd class="key">a</kbd></button>
    <button class="btn small" onclick={() => onask('files')}>Files under … <kbd class="key">f</kbd></button>
    <button class="btn small" onclick={(e) => onrespell(e.currentTarget)}>Another form <kbd class="key">w</kbd></button>
    <button class="btn small" onclick={onsweep}>Sweep <kbd class="key">s</kbd></button>
    <button class="btn small" onclick={ontakeout}>Take out</button>
  </div>
  {#each heading.row.loose as l, i (i)}
    <p class="loose">
      <span class="m">○</span>
      {l.message}
      {#if l.kind === 'HeadingNearlyAlike'}<button class="btn small" onclick={onmerge}>Merge <kbd class="key">m</kbd></button>{/if}
      {#if l.kind === 'RangeUnclosed'}<button class="btn small" onclick={() => onend(l.subject)}>Close it at the end of its section</button
        >{/if}
    </p>
  {/each}
</div>

<style>
  .what {
    padding: 10px 14px 6px;
    border-bottom: 1px solid var(--rule);
  }
  h2 {
    font: 500 20px/1.3 var(--text);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 5px;
    padding: 7px 0 4px;
  }
  .small {
    padding: 2px 8px;
    font-size: 12px;
  }
  .loose {
    padding: 3px 0;
    font-size: 12.5px;
  }
  .m {
    color: var(--madder);
  }
  .soft {
    color: var(--ink-soft);
    font-size: 12.5px;
  }
</style>
