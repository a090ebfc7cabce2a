<script lang="ts">
  import { untrack } from 'svelte';
  import type { AppliesTo, KeptCondition } from '../shared/api';
  import { focusFirst } from '../ui/focus';
  import Popover, { type Anchor } from '../ui/Popover.svelte';

  /** Something that can apply to some readers only: these words, this step, the table. */
  interface Carrier {
    name: string;
    applies: AppliesTo;
  }
  interface Props {
    anchor: Anchor;
    conditions: KeptCondition[];
    /** From the innermost outwards. */
    carriers: Carrier[];
    onkeep: (carrier: number, applies: AppliesTo) => void;
    /** Opens where conditions are made. */
    onmake: () => void;
    onclose: () => void;
  }
  let { anchor, conditions, carriers, onkeep, onmake, onclose }: Props = $props();

  let at = $state(
    untrack(() =>
      Math.max(
        0,
        carriers.findIndex((c) => Object.keys(c.applies).length > 0),
      ),
    ),
  );
  let applies = $derived<AppliesTo>({ ...carriers[at]?.applies });

  function turn(axis: string, value: string) {
    const has = applies[axis] ?? [];
    const values = has.includes(value) ? has.filter((v) => v !== value) : [...has, value];
    const others = Object.fromEntries(Object.entries(applies).filter(([name]) => name !== axis));
    applies = values.length > 0 ? { ...others, [axis]: values } : others;
  }
</script>

<Popover label="Applies to" {anchor} width={330} {onclose}>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      onkeep(at, applies);
    }}
  >
    {#if carriers.length > 1}
      <label class="what"
        >What
        <select class="field" bind:value={at}>
          {#each carriers as carrier, i (i)}<option value={i}>{carrier.name}</option>{/each}
        </select></label
      >
    {:else}<b>{carriers[0]?.name}</b>{/if}
    {#each conditions as condition, c (condition.axis)}
      <fieldset>
        <legend>{condition.axis}</legend>
        {#each condition.values as value, v (value.name)}
          <label
            ><input
              type="checkbox"
              checked={applies[condition.axis]?.includes(value.name) ?? false}
              onchange={() => turn(condition.axis, value.name)}
              {@attach (input) => {
                if (c === 0 && v === 0) focusFirst(input);
              }}
            />
            {value.name}</label
          >
        {/each}
      </fieldset>
    {:else}
      <p>This manual has no conditions yet, such as <i>model: 6, 6E</i>.</p>
    {/each}
    <div class="end">
      {#if conditions.length > 0}<span>Nothing ticked: all readers</span>{/if}
      <button
        type="button"
        class="btn"
        onclick={onmake}
        {@attach (button) => {
          if (conditions.length === 0) focusFirst(button);
        }}>Conditions…</button
      >
      {#if conditions.length > 0}<button type="submit" class="btn do">Keep</button>{/if}
    </div>
  </form>
</Popover>

<style>
  form {
    display: grid;
    gap: 7px;
    padding: 4px 6px;
    font-size: 12px;
  }
  .what {
    display: grid;
    grid-template-columns: auto 1fr;
    align-items: center;
    gap: 8px;
    font-weight: 600;
  }
  fieldset {
    display: flex;
    flex-wrap: wrap;
    gap: 3px 14px;
    border: 0;
    padding: 0;
  }
  legend {
    font-weight: 600;
    padding-bottom: 2px;
  }
  .end {
    display: flex;
    align-items: center;
    justify-content: flex-end;
    gap: 8px;
    color: var(--ink-soft);
    font-size: 11.5px;
  }
  .end span {
    margin-right: auto;
  }
</style>
