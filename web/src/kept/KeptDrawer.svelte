<script lang="ts">
  // What is kept once: variables, conditions, passages, each with where it is used.
  import { tick } from 'svelte';
  import type { KeptOnce } from './kept-once.svelte';
  import type { KeptCondition } from '../shared/api';
  import Drawer from '../ui/Drawer.svelte';
  import { focusFirst } from '../ui/focus';
  import OnShelf from './OnShelf.svelte';
  import Uses from './Uses.svelte';

  interface Props {
    kept: KeptOnce;
    ongo: (division: string, block: string | null) => void;
    onclose: () => void;
  }
  let { kept, ongo, onclose }: Props = $props();

  let variable = $state({ name: '', text: '' });
  let condition = $state({ axis: '', values: '' });
  let list = $state<HTMLElement>();

  // svelte-ignore state_referenced_locally
  void kept.readShelf();
  /** What the shelf keeps and this manual does not have. */
  const offered = $derived(kept.shelf.filter((k) => k.here === 'none'));

  const valuesOf = (typed: string) =>
    typed
      .split(',')
      .map((v) => v.trim())
      .filter(Boolean);

  /** Takes what stands in a field when it is left or Enter is pressed; what was refused goes back to what it was. */
  function field(was: string, keep: (now: string) => Promise<string | null>) {
    return async (event: Event) => {
      const input = event.currentTarget as HTMLInputElement;
      const now = input.value.trim();
      if (now === was) return;
      if ((await keep(now)) === null) input.value = was;
    };
  }

  async function addVariable(event: Event) {
    event.preventDefault();
    if ((await kept.act({ do: 'setVariable', name: variable.name, to: variable.text })) === null) return;
    variable = { name: '', text: '' };
    await tick();
    list?.querySelector<HTMLElement>('#new-variable')?.focus();
  }

  async function addCondition(event: Event) {
    event.preventDefault();
    if ((await kept.act({ do: 'setCondition', name: condition.axis, values: valuesOf(condition.values) })) === null) return;
    condition = { axis: '', values: '' };
  }

  const addValue = (c: KeptCondition, value: string) =>
    kept.act({ do: 'setCondition', name: c.axis, values: [...c.values.map((v) => v.name), value] });
</script>

<Drawer label="Kept once" {onclose}>
  {#snippet head()}<b>Kept once, used in many places</b>{/snippet}
  <div class="kinds" bind:this={list}>
    <section aria-label="Variables">
      <h2>Variables</h2>
      <ul>
        {#each kept.now.variables as v (v.name)}
          <li>
            <input
              class="field name"
              aria-label="Name of the variable {v.name}"
              value={v.name}
              onchange={field(v.name, (to) => kept.act({ do: 'renameVariable', name: v.name, to }))}
            />
            <input
              class="field"
              aria-label="Text of {v.name}"
              value={v.text}
              onchange={field(v.text, (to) => kept.act({ do: 'setVariable', name: v.name, to }))}
            />
            <button
              class="out"
              aria-label="Take out {v.name}"
              title="Take out"
              onclick={() => void kept.act({ do: 'takeOutVariable', name: v.name })}>✕</button
            >
            <Uses of={v.name} uses={v.uses} {ongo} />
            <OnShelf {kept} kind="variable" name={v.name} />
          </li>
        {/each}
      </ul>
      <form onsubmit={addVariable}>
        <input
          id="new-variable"
          class="field name"
          placeholder="New variable"
          aria-label="Name of a new variable"
          bind:value={variable.name}
          {@attach focusFirst}
        />
        <input class="field" placeholder="Its text" aria-label="Text of the new variable" bind:value={variable.text} />
        <button class="btn" disabled={!variable.name.trim()}>Add</button>
      </form>
    </section>
    <section aria-label="Conditions">
      <h2>Conditions</h2>
      <ul>
        {#each kept.now.conditions as c (c.axis)}
          <li class="condition">
            <input
              class="field name"
              aria-label="Name of the condition {c.axis}"
              value={c.axis}
              onchange={field(c.axis, (to) => kept.act({ do: 'renameCondition', name: c.axis, value: null, to }))}
            />
            <button
              class="out"
              aria-label="Take out the condition {c.axis}"
              title="Take out: what named it is for all readers then"
              onclick={() => void kept.act({ do: 'takeOutCondition', name: c.axis })}>✕</button
            >
            {#each c.values as value (value.name)}
              <div class="value">
                <input
                  class="field"
                  aria-label="Value {value.name} of {c.axis}"
                  value={value.name}
                  onchange={field(value.name, (to) => kept.act({ do: 'renameCondition', name: c.axis, value: value.name, to }))}
                />
                <button
                  class="out"
                  aria-label="Take out {c.axis} {value.name}"
                  title="Take out"
                  disabled={c.values.length === 1}
                  onclick={() =>
                    void kept.act({
                      do: 'setCondition',
                      name: c.axis,
                      values: c.values.map((v) => v.name).filter((v) => v !== value.name),
                    })}>✕</button
                >
                <Uses of="{c.axis} {value.name}" uses={value.uses} {ongo} />
              </div>
            {/each}
            <input
              class="field another"
              placeholder="Another value"
              aria-label="Another value of {c.axis}"
              onchange={async (e) => {
                const input = e.currentTarget;
                if (input.value.trim() && (await addValue(c, input.value)) !== null) input.value = '';
              }}
            />
          </li>
        {/each}
      </ul>
      <form onsubmit={addCondition}>
        <input class="field name" placeholder="New condition: model" aria-label="Name of a new condition" bind:value={condition.axis} />
        <input class="field" placeholder="Its values: 6, 6E" aria-label="Values of the new condition" bind:value={condition.values} />
        <button class="btn" disabled={!condition.axis.trim() || valuesOf(condition.values).length === 0}>Add</button>
      </form>
    </section>
    <section aria-label="Passages">
      <h2>Passages</h2>
      <ul>
        {#each kept.now.passages as p (p.id)}
          <li class="passage">
            <input
              class="field"
              aria-label="Name of the passage {p.name}"
              value={p.name}
              onchange={field(p.name, (to) => kept.act({ do: 'renamePassage', rows: [p.id], to }))}
            />
            <button
              class="out"
              aria-label="Take out the passage {p.name}"
              title="Take out"
              onclick={() => void kept.act({ do: 'takeOutPassage', rows: [p.id] })}>✕</button
            >
            <Uses of={p.name} uses={p.uses} {ongo} />
            <OnShelf {kept} kind="passage" name={p.name} />
          </li>
        {:else}<li class="none">Select blocks in the text, then Ctrl . and “A passage”.</li>{/each}
      </ul>
    </section>
    {#if offered.length > 0}
      <section aria-label="On the shelf">
        <h2>On the shelf</h2>
        <ul>
          {#each offered as k (k.kind + k.name)}
            <li class="offered">
              <span><b>{k.name}</b> <span class="soft">{k.words.slice(0, 80)}</span></span>
              <button class="btn" aria-label="Take {k.name} from the shelf" onclick={() => void kept.shelfAct('take', k.kind, k.name)}
                >Take</button
              >
              <button
                class="out"
                aria-label="Take {k.name} off the shelf"
                title="Off the shelf; manuals keep what they have"
                onclick={() => void kept.shelfAct('takeOut', k.kind, k.name)}>✕</button
              >
            </li>
          {/each}
        </ul>
      </section>
    {/if}
  </div>
</Drawer>

<style>
  .kinds {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(290px, 1fr));
    gap: 4px 26px;
    align-items: start;
  }
  h2 {
    font-weight: 600;
    color: var(--ink-soft);
    padding-bottom: 3px;
  }
  li,
  form,
  .value {
    display: grid;
    grid-template-columns: minmax(80px, 2fr) minmax(90px, 3fr) auto auto;
    gap: 2px 4px;
    align-items: center;
    padding-bottom: 3px;
  }
  form {
    grid-template-columns: minmax(80px, 2fr) minmax(90px, 3fr) auto;
  }
  .soft {
    color: var(--ink-soft);
  }
  .condition,
  .offered,
  .passage {
    grid-template-columns: minmax(0, 1fr) auto auto;
  }
  .value {
    grid-column: 1 / -1;
    grid-template-columns: minmax(0, 1fr) auto auto;
    padding: 0 0 0 16px;
  }
  .another {
    margin-left: 16px;
  }
  .none {
    display: block;
    color: var(--ink-soft);
  }
  .out {
    min-width: 24px;
    min-height: 24px;
    border-radius: var(--r);
    color: var(--ink-soft);
    cursor: pointer;
  }
  .out:hover:not(:disabled) {
    background: var(--bottle-tint);
    color: var(--ink);
  }
  .out:disabled {
    opacity: 0.3;
    cursor: default;
  }
</style>
