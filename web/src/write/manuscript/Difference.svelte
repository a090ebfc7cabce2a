<script lang="ts">
  import { wordDifference, wordsOf } from './difference';

  interface Props {
    /** Bodies of a block; null where it was not there. */
    before: string | null;
    after: string | null;
  }
  let { before, after }: Props = $props();
  const stretches = $derived(
    before !== null && after !== null
      ? wordDifference(wordsOf(before), wordsOf(after))
      : [{ text: wordsOf(before ?? after), kind: before === null ? ('new' as const) : ('gone' as const) }],
  );
</script>

{#each stretches as s, n (n)}{#if s.kind === 'same'}{s.text}{:else if s.kind === 'gone'}<del>{s.text}</del>{:else}<ins>{s.text}</ins
    >{/if}{/each}

<style>
  ins {
    text-decoration: none;
    background: color-mix(in srgb, var(--bottle) 22%, transparent);
    border-bottom: 2px solid var(--bottle);
  }
  del {
    color: var(--madder);
  }
</style>
