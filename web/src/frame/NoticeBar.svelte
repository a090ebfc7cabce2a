<script lang="ts">
  import { notices } from '../shared/notices.svelte';
</script>

<div class="place" role="status" aria-live="polite">
  {#if notices.current}
    <div class="notice" class:problem={notices.current.kind === 'problem'}>
      {#if notices.current.kind === 'problem'}<span aria-hidden="true">○</span>{/if}
      <span>{notices.current.text}</span>
      {#if notices.current.undo}
        <button
          class="btn"
          onclick={() => {
            notices.current?.undo?.();
            notices.dismiss();
          }}>{notices.current.does}</button
        >
      {/if}
      <button class="btn" onclick={() => notices.dismiss()}>Close</button>
    </div>
  {/if}
</div>

<style>
  /* Over the foot strip, never over what is worked on. */
  .place {
    position: fixed;
    left: 50%;
    bottom: 0;
    max-width: 62vw;
    transform: translateX(-50%);
    z-index: 40;
  }
  .notice {
    display: flex;
    align-items: center;
    gap: 12px;
    min-height: 28px;
    padding: 2px 4px 2px 12px;
    font-size: 12px;
    background: var(--ink);
    color: var(--paper);
    border-radius: var(--r) var(--r) 0 0;
  }
  .notice .btn {
    padding: 1px 8px;
  }
  .problem {
    background: var(--madder);
    color: light-dark(#fff, #2a0d10);
  }
</style>
