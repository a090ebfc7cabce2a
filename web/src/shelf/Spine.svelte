<script lang="ts">
  import type { ShelfManual } from '../shared/api';
  import FirstPage from './FirstPage.svelte';

  interface Props {
    manual: ShelfManual;
    chosen: boolean;
    /** It stands with its first page to the front. */
    faced: boolean;
    onchoose: () => void;
    onopen: () => void;
  }
  let { manual, chosen, faced, onchoose, onopen }: Props = $props();

  // Cloth colours of their own, none that means something elsewhere.
  const cloths = [
    ['#3f4a3a', '#fdfbf6'],
    ['#d8cdb5', '#22262b'],
    ['#2d3138', '#fdfbf6'],
    ['#6b5d4a', '#fdfbf6'],
    ['#4c5a63', '#fdfbf6'],
    ['#cfc6b1', '#22262b'],
    ['#746a55', '#ffffff'],
  ] as const;
  // A manual keeps its cloth, wherever it stands.
  const tone = $derived([...manual.id].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) % 9973, 7));
  const cloth = $derived(cloths[tone % cloths.length] ?? cloths[0]);
  const width = $derived(Math.max(38, Math.min(150, 26 + manual.pages * 0.36)));
  const height = $derived([396, 366, 420, 382][tone % 4]);
</script>

<button
  id={'spine-' + manual.id}
  class="book"
  class:chosen
  role="option"
  aria-selected={chosen}
  tabindex={chosen ? 0 : -1}
  style:height="{height}px"
  onclick={onchoose}
  ondblclick={onopen}
  onkeydown={(e) => e.key === 'Enter' && onopen()}
>
  {#if manual.looseEnds > 0}<span class="loose" title="{manual.looseEnds} loose ends">○ {manual.looseEnds}</span>{/if}
  <span class="spine" style:width="{width}px" style:background={cloth[0]} style:color={cloth[1]}>
    <span class="title" class:narrow={width < 64}>{manual.title}</span>
    <span class="pages">{manual.pages || ''}</span>
  </span>
  {#if faced}<span class="front"><FirstPage manual={manual.id} /></span>{/if}
</button>

<style>
  .book {
    position: relative;
    display: flex;
    flex: none;
    max-height: 100%;
    cursor: pointer;
  }
  .front {
    height: 100%;
    aspect-ratio: 148 / 210;
  }
  .spine {
    position: relative;
    flex: none;
    height: 100%;
    border-radius: 2px 2px 0 0;
    box-shadow:
      inset 3px 0 0 rgb(255 255 255 / 0.16),
      inset -3px 0 0 rgb(0 0 0 / 0.14);
  }
  .chosen {
    translate: 0 -8px;
  }
  .title {
    position: absolute;
    left: 50%;
    top: 20px;
    writing-mode: vertical-rl;
    transform: translateX(-50%);
    font: 500 19px/1.15 var(--text);
    max-height: calc(100% - 70px);
    text-align: left;
  }
  .narrow {
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    font-size: 17px;
  }
  .pages {
    position: absolute;
    left: 0;
    right: 0;
    bottom: 14px;
    text-align: center;
    font: 600 11px/1 var(--ui);
  }
  .loose {
    position: absolute;
    left: -10px;
    right: -10px;
    top: -18px;
    text-align: center;
    white-space: nowrap;
    font: 600 12px/1 var(--ui);
    color: var(--madder);
  }
</style>
