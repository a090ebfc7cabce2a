<script lang="ts">
  import { api, type Pattern } from '../shared/api';
  import { focusFirst } from '../ui/focus';
  import { notices } from '../shared/notices.svelte';
  import Dialog from '../ui/Dialog.svelte';
  import { route } from '../shared/route.svelte';

  interface Props {
    onclose: () => void;
  }
  let { onclose }: Props = $props();

  let patterns = $state.raw<Pattern[]>([]);
  let chosen = $state('');
  let title = $state('');
  let given = $state<Record<string, string>>({});
  let busy = $state(false);

  const pattern = $derived(patterns.find((p) => p.name === chosen) ?? null);

  api.patterns().then((p) => (patterns = p), notices.problem);

  async function make() {
    busy = true;
    try {
      const made = await api.newManual(title, pattern?.name ?? null, given);
      onclose();
      if (pattern) route.open(made.id, 'plan');
      else route.manual(made.id);
    } catch (e) {
      notices.problem(e);
    } finally {
      busy = false;
    }
  }
</script>

<Dialog title="New manual" wide {onclose}>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      if (title.trim() && !busy) void make();
    }}
  >
    <div class="two">
      <fieldset>
        <legend>What it starts from</legend>
        <label class="pattern" class:on={chosen === ''}>
          <input type="radio" name="pattern" value="" bind:group={chosen} />
          <span><b>Nothing</b><i>A title page, a contents page, one chapter and an index.</i></span>
        </label>
        {#each patterns as p (p.name)}
          <label class="pattern" class:on={chosen === p.name}>
            <input type="radio" name="pattern" value={p.name} bind:group={chosen} />
            <span><b>{p.name}</b><i>{p.says}</i></span>
          </label>
        {/each}
      </fieldset>
      <div class="form">
        <label
          >Title
          <input
            class="field"
            aria-label="Title of the new manual"
            placeholder="Title of the new manual"
            bind:value={title}
            {@attach focusFirst}
          /></label
        >
        {#each pattern?.asks ?? [] as ask (ask.name)}
          <label>{ask.label}<input class="field" bind:value={given[ask.name]} /></label>
        {/each}
        {#if pattern}
          <p class="soft">
            {pattern.look}. {pattern.divisions.join(' · ')}. Text that the pattern fixes is marked and changes only there.
          </p>
        {/if}
      </div>
    </div>
    <div class="acts">
      <button class="btn do" disabled={!title.trim() || busy}>Make it</button>
      <button class="btn" type="button" onclick={onclose}>Leave it</button>
    </div>
  </form>
</Dialog>

<style>
  .two {
    display: grid;
    grid-template-columns: 350px 1fr;
    gap: 30px;
  }
  legend {
    font-weight: 600;
    margin-bottom: 6px;
  }
  .pattern {
    display: grid;
    grid-template-columns: 20px 1fr;
    gap: 6px;
    padding: 8px;
    border-radius: var(--r);
    cursor: pointer;
  }
  .pattern.on {
    background: var(--bottle-tint);
  }
  .pattern input {
    accent-color: var(--bottle);
    align-self: start;
    margin-top: 3px;
  }
  .pattern b {
    display: block;
    font: 500 15.5px/1.3 var(--text);
  }
  .pattern i {
    font-style: normal;
    font-size: 12px;
    color: var(--ink-soft);
  }
  .form {
    display: grid;
    gap: 12px;
    align-content: start;
  }
  .form label {
    display: grid;
    gap: 4px;
  }
  .soft {
    color: var(--ink-soft);
    font-size: 12px;
  }
  .acts {
    display: flex;
    gap: 8px;
    justify-content: end;
    padding-top: 18px;
  }
</style>
