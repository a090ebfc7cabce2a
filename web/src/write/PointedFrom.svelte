<script lang="ts">
  // Who points at a block, asked in the margin beside it.
  import { api, type UsePlace } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import Pick from '../ui/Pick.svelte';

  interface Props {
    manualId: string;
    ongo: (division: string, block: string) => void;
    onleave: () => void;
  }
  let { manualId, ongo, onleave }: Props = $props();
  let asked = $state.raw<{ at: Element; places: UsePlace[] } | null>(null);

  export async function ask(target: string, at: Element) {
    try {
      asked = { at, places: await api.pointing(manualId, target) };
    } catch (e) {
      notices.problem(e);
    }
  }
</script>

{#if asked}
  <Pick
    label="Who points here"
    choices={asked.places.map((p) => ({ name: `${p.title}: ${p.words || '…'}`, place: p }))}
    anchor={asked.at}
    onchoose={({ place }) => {
      asked = null;
      ongo(place.division, place.block);
    }}
    onclose={() => {
      asked = null;
      onleave();
    }}
  />
{/if}
