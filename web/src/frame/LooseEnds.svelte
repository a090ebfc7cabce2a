<script lang="ts">
  import Drawer from '../ui/Drawer.svelte';
  import type { LooseEnd, ProofDivision, ProofPage } from '../shared/api';

  interface Props {
    looseEnds: LooseEnd[];
    divisions: ProofDivision[];
    pages: ProofPage[];
    ongo: (l: LooseEnd) => void;
    onclose: () => void;
    /** Makes a head of the paragraph that looks like one, where that can be done from here. */
    onmend?: (l: LooseEnd) => void;
    /** Takes what another manual says now into references, by their ids. */
    ontake?: (references: string[]) => void;
  }
  let { looseEnds, divisions, pages, ongo, onclose, onmend, ontake }: Props = $props();
  const old = $derived(looseEnds.flatMap((l) => l.reference ?? []));
  const title = (l: LooseEnd) => divisions.find((d) => d.id === l.division)?.title ?? '';
</script>

<Drawer label="Loose ends" {onclose}>
  {#snippet head()}<b>Loose ends</b>{#if ontake && old.length > 1}<button class="btn" onclick={() => ontake(old)}
        >Take all {old.length} from other manuals</button
      >{/if}{/snippet}
  {#if looseEnds.length === 0}
    <p class="soft">Nothing would print wrong.</p>
  {:else}
    <ul>
      {#each looseEnds as l, i (i)}
        <li>
          <button onclick={() => ongo(l)}>
            <span class="m" aria-hidden="true">○</span>
            <span class="where">{title(l)}{l.sheet >= 0 ? `, page ${pages[l.sheet]?.folio ?? ''}` : ''}</span>
            <span
              >{l.message}{#if l.words}&ensp;<span class="soft">“{l.words.slice(0, 60)}”</span>{/if}</span
            >
          </button>
          {#if ontake && l.reference}<button class="btn mend" onclick={() => ontake([l.reference!])}>Take what it says now</button>{/if}
          {#if onmend && l.kind === 'LooksLikeHead'}<button class="btn mend" onclick={() => onmend(l)}>Make it a head</button>{/if}
        </li>
      {/each}
    </ul>
  {/if}
</Drawer>

<style>
  li {
    display: flex;
    align-items: center;
  }
  li button.mend {
    display: inline-flex;
    width: auto;
    white-space: nowrap;
  }
  li button {
    display: grid;
    grid-template-columns: 16px 220px 1fr;
    gap: 8px;
    text-align: left;
    width: 100%;
    padding: 3px 4px;
    cursor: pointer;
    border-radius: var(--r);
  }
  li button:hover {
    background: var(--bottle-tint);
  }
  .m {
    color: var(--madder);
  }
  .where {
    font-weight: 600;
  }
  .soft {
    color: var(--ink-soft);
  }
</style>
