<script lang="ts">
  import { notices } from './notices.svelte';
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
          }}>Take back</button
        >
      {/if}
      <button class="btn" onclick={() => notices.dismiss()}>Close</button>
    </div>
  {/if}
</div>

<style>
  .place {
    position: fixed;
    left: 50%;
    bottom: 40px;
    transform: translateX(-50%);
    z-index: 40;
  }
  .notice {
    display: flex;
    align-items: center;
    gap: 12px;
    max-width: 720px;
    padding: 8px 12px;
    background: var(--ink);
    color: var(--paper);
    border-radius: var(--r);
    box-shadow: 0 6px 18px rgb(0 0 0 / 0.25);
  }
  .problem {
    background: var(--madder);
    color: light-dark(#fff, #2a0d10);
  }
</style>
