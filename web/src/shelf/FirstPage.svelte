<script lang="ts">
  // The first page of a manual, as it is composed now.
  import { address } from '../shared/api';
  import { loadFaces, withFaces } from '../shared/faces';

  interface Props {
    manual: string;
  }
  let { manual }: Props = $props();

  let svg = $state('');
  $effect(() => {
    const id = manual;
    svg = '';
    // Without it the shelf is whole: what cannot be shown is told where the manual is opened.
    void Promise.all([fetch(address(`/api/manuals/${id}/first-page.svg`)), loadFaces()])
      .then(async ([answer]) => {
        const drawn = answer.ok ? await answer.text() : '';
        if (id === manual) svg = drawn;
      })
      .catch(() => undefined);
  });
</script>

<div class="first drawn" aria-hidden="true">
  <!-- Drawn by the server from the composed page. -->
  {#if svg}{@html withFaces(svg)}{/if}
</div>

<style>
  .first {
    aspect-ratio: 148 / 210;
    overflow: hidden;
    box-shadow: 0 1px 3px rgb(60 50 30 / 0.35);
  }
</style>
