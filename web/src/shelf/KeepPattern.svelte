<script lang="ts">
  import { api, type ShelfManual } from '../shared/api';
  import { focusFirst } from '../ui/focus';
  import { notices } from '../shared/notices.svelte';
  import Dialog from '../ui/Dialog.svelte';

  interface Props {
    manual: ShelfManual;
    onclose: () => void;
  }
  let { manual, onclose }: Props = $props();

  // svelte-ignore state_referenced_locally
  let name = $state(manual.title);
  let fixed = $state(false);

  async function keep() {
    try {
      await api.keepPattern(manual.id, name, fixed);
      notices.tell(`New manuals can start from “${name}” now.`);
      onclose();
    } catch (e) {
      notices.problem(e);
    }
  }
</script>

<Dialog title="Keep as a pattern" {onclose}>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      void keep();
    }}
  >
    <p>New manuals of this kind start with its divisions, its text and its look, and ask for its variables.</p>
    <label>Name of the pattern<input class="field" bind:value={name} {@attach focusFirst} /></label>
    <label class="check"><input type="checkbox" bind:checked={fixed} /> Its text is fixed: it changes only in the pattern</label>
    <div class="acts">
      <button class="btn do" disabled={!name.trim()}>Keep it</button>
      <button class="btn" type="button" onclick={onclose}>Leave it</button>
    </div>
  </form>
</Dialog>

<style>
  form {
    display: grid;
    gap: 14px;
  }
  label {
    display: grid;
    gap: 4px;
  }
  .check {
    display: flex;
    gap: 8px;
  }
  .check input {
    accent-color: var(--bottle);
  }
  .acts {
    display: flex;
    gap: 8px;
    justify-content: end;
  }
</style>
