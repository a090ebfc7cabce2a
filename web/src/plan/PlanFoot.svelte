<script lang="ts">
  // What stands at the foot of the plan: the row that is chosen, the last change and what it did to the pages, the manual's language.
  import type { OpenedManual } from '../live/opened-manual.svelte';
  import type { PlanRow } from '../shared/api';
  import { languageName } from '../shared/languages';

  interface Props {
    opened: OpenedManual;
    current: PlanRow | null;
    /** Of the manual; none while it is not known. */
    language: string | undefined;
    /** Tab leaves the list. */
    released: boolean;
    onlanguage: (button: Element) => void;
  }
  let { opened, current, language, released, onlanguage }: Props = $props();

  const changed = $derived([opened.last, opened.proof.effectWords].filter(Boolean).join(' · '));
</script>

<footer>
  <span
    >{#if current}<b>{`${current.number} ${current.title}`.trim()}</b> · page {current.folio}{/if}</span
  >
  {#if changed}<span data-effect>Last change: {changed}</span>{/if}
  <span class="right">{released ? 'Tab leaves the list' : ''}</span>
  <!-- Last, where what is said before it cannot move it away from under a press. -->
  {#if language}<button class="tongue" title="The language of the whole manual" onclick={(e) => onlanguage(e.currentTarget)}
      >{languageName(language)}</button
    >{/if}
</footer>

<style>
  footer {
    grid-row: 6;
    display: flex;
    align-items: center;
    gap: 18px;
    padding: 0 16px;
    border-top: 1px solid var(--rule);
    font-size: 12px;
    color: var(--ink-soft);
    white-space: nowrap;
    overflow: hidden;
  }
  b {
    color: var(--ink);
    font-weight: 600;
  }
  .right {
    margin-left: auto;
  }
  .tongue {
    cursor: pointer;
    text-decoration: underline;
    text-underline-offset: 3px;
  }
</style>
