<script lang="ts">
  // Asks for the other heading of an act, and shows what the act would come to before it is done.
  import Popover, { type Anchor } from '../ui/Popover.svelte';
  import { focusFirst } from '../ui/focus';
  import { api, type IndexForeseen, type IndexOrder } from '../shared/api';
  import { saidPath, type Heading } from './headings';

  interface Props {
    manualId: string;
    anchor: Anchor;
    label: string;
    does: string;
    /** As it is offered at first. */
    text: string;
    headings: Heading[];
    /** The act for what was typed; null while it is none. */
    order: (typed: string) => IndexOrder | null;
    onact: (order: IndexOrder) => void;
    onclose: () => void;
  }
  let { manualId, anchor, label, does, text, headings, order, onact, onclose }: Props = $props();

  // svelte-ignore state_referenced_locally
  let typed = $state(text);
  let at = $state(-1);
  let foreseen = $state.raw<IndexForeseen | null>(null);
  let problem = $state('');
  const wanted = $derived(order(typed));
  const offered = $derived.by(() => {
    const words = typed.trim().toLocaleLowerCase();
    if (!words) return headings.filter((h) => h.row.depth === 0).slice(0, 7);
    const all = headings.filter((h) => saidPath(h.path).toLocaleLowerCase().includes(words));
    return [
      ...all.filter((h) => h.row.text.toLocaleLowerCase().startsWith(words)),
      ...all.filter((h) => !h.row.text.toLocaleLowerCase().startsWith(words)),
    ].slice(0, 7);
  });

  // What it would come to, a moment after the last letter.
  $effect(() => {
    const asked = wanted;
    foreseen = null;
    problem = '';
    if (!asked) return;
    const timer = setTimeout(() => {
      api.foreseeIndex(manualId, asked).then(
        (f) => {
          if (asked !== wanted) return;
          foreseen = f.refused ? null : f;
          problem = f.refused ?? '';
        },
        (e: Error) => (problem = e.message),
      );
    }, 180);
    return () => clearTimeout(timer);
  });

  const pages = (n: number) => `${n} ${n === 1 ? 'page' : 'pages'}`;

  function key(event: KeyboardEvent) {
    if (event.key === 'Escape') onclose();
    else if (event.key === 'ArrowDown') at = Math.min(at + 1, offered.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, -1);
    else if (event.key === 'Enter') {
      const heading = offered[at];
      if (heading) {
        typed = saidPath(heading.path);
        at = -1;
      } else if (wanted && !problem) onact(wanted);
    } else {
      at = -1;
      return;
    }
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<Popover {label} {anchor} width={440} {onclose}>
  <label for="act-heading">{label}</label>
  <input
    id="act-heading"
    class="field"
    autocomplete="off"
    bind:value={typed}
    onfocus={(e) => e.currentTarget.select()}
    onkeydown={key}
    {@attach focusFirst}
  />
  <ul role="listbox" aria-label="Headings there are">
    {#each offered as h, i (h.index)}
      <li role="option" aria-selected={i === at}>
        <button
          class:on={i === at}
          tabindex="-1"
          onmousedown={(e) => {
            e.preventDefault();
            typed = saidPath(h.path);
          }}><span>{saidPath(h.path)}</span><i>{h.row.locators.slice(0, 30)}</i></button
        >
      </li>
    {/each}
  </ul>
  <div class="foreseen" aria-live="polite">
    {#if problem}<p class="m">○ {problem}</p>
    {:else if foreseen}
      {#each foreseen.gone.slice(0, 6) as line, i (i)}<p><s>{line}</s></p>{/each}
      {#each foreseen.new.slice(0, 6) as line, i (i)}<p class="new">{line}</p>{/each}
      {#if foreseen.gone.length + foreseen.new.length > 12}<p class="soft">
          and {foreseen.gone.length + foreseen.new.length - 12} lines more
        </p>{/if}
      <p class="soft">
        Index: {pages(foreseen.indexPages)}{foreseen.indexPages === foreseen.indexPagesNow ? ' as now' : `, ${foreseen.indexPagesNow} now`} ·
        manual:
        {pages(foreseen.pages)}{foreseen.pages === foreseen.pagesNow ? ' as now' : `, ${foreseen.pagesNow} now`}
      </p>
    {:else if wanted}<p class="soft">Looking what it comes to …</p>{/if}
  </div>
  <div class="row">
    <button class="btn" onclick={onclose}>Leave it</button>
    <button class="btn do" disabled={!wanted || !!problem} onclick={() => wanted && onact(wanted)}
      >{does} <kbd class="key">Enter</kbd></button
    >
  </div>
</Popover>

<style>
  label {
    display: block;
    padding: 2px 4px 5px;
    font-size: 12px;
    font-weight: 600;
  }
  ul {
    margin: 4px 0;
    max-height: 150px;
    overflow: auto;
  }
  li button {
    display: flex;
    justify-content: space-between;
    gap: 8px;
    width: 100%;
    padding: 2px 8px;
    cursor: pointer;
    border-radius: var(--r);
    text-align: left;
  }
  li button.on,
  li button:hover {
    background: var(--bottle-tint);
  }
  i {
    font-style: normal;
    color: var(--ink-soft);
  }
  .foreseen {
    border-top: 1px solid var(--rule);
    padding: 6px 4px;
    max-height: 200px;
    overflow: auto;
    font: 14px/1.35 var(--text);
    min-height: 44px;
  }
  .new {
    color: var(--bottle);
  }
  .m {
    color: var(--madder);
    font: 12.5px/1.35 var(--ui);
  }
  .soft {
    color: var(--ink-soft);
    font: 12px/1.6 var(--ui);
  }
  .row {
    display: flex;
    justify-content: flex-end;
    gap: 8px;
    padding: 4px;
  }
</style>
