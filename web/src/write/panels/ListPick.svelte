<script lang="ts">
  // Which of the manual's contents lists stands here.
  import { api } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import { listTitle } from '../../contents/list-titles';
  import Pick from '../../ui/Pick.svelte';
  import type { Anchor } from '../../ui/Popover.svelte';

  interface Props {
    manualId: string;
    anchor: Anchor;
    onchoose: (list: string) => void;
    onclose: () => void;
  }
  const { manualId, anchor, onchoose, onclose }: Props = $props();

  let choices = $state.raw<{ name: string; list: string; note: string }[]>([]);
  $effect(() => {
    api
      .lists(manualId)
      .then(
        ({ lists }) =>
          (choices = lists.map((l) => ({ name: listTitle(l.name), list: l.name, note: l.own ? 'of this manual' : 'of its look' }))),
        notices.problem,
      );
  });
</script>

<Pick label="Contents list" {choices} {anchor} onchoose={({ list }) => onchoose(list)} {onclose} />
