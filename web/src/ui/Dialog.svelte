<script lang="ts">
  import type { Snippet } from 'svelte';
  import { Dialog } from 'bits-ui';

  interface Props {
    title: string;
    wide?: boolean;
    onclose: () => void;
    children: Snippet;
  }
  let { title, wide = false, onclose, children }: Props = $props();
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="dialog-over" />
    <Dialog.Content class={wide ? 'dialog-sheet wide' : 'dialog-sheet'}>
      <Dialog.Title class="dialog-title">{title}</Dialog.Title>
      {@render children()}
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>

<style>
  :global(.dialog-over) {
    position: fixed;
    inset: 0;
    background: rgb(30 25 15 / 0.28);
    z-index: 30;
  }
  :global(.dialog-sheet) {
    position: fixed;
    left: 50%;
    top: 12%;
    transform: translateX(-50%);
    width: 520px;
    max-height: 78%;
    overflow: auto;
    z-index: 31;
    background: var(--paper);
    border-radius: var(--r);
    padding: 22px 26px;
    box-shadow: 0 18px 60px rgb(40 30 10 / 0.35);
  }
  :global(.dialog-sheet.wide) {
    width: 860px;
  }
  :global(.dialog-title) {
    font: 500 21px/1.2 var(--text);
    margin-bottom: 14px;
  }
</style>
