<script lang="ts">
  // What can be set of a block or an atom: its fields, one under the other.
  import { untrack, type Snippet } from 'svelte';
  import { focusFirst } from '../../ui/focus';
  import Popover, { type Anchor } from '../../ui/Popover.svelte';
  import { drawnEquation, showEquation } from '../manuscript/equation-view';
  import type { Settings, Value } from '../manuscript/settings';

  interface Props {
    anchor: Anchor;
    settings: Settings;
    values: Record<string, Value>;
    /** Keeps them; what is wrong with them is an error in words. */
    onkeep: (values: Record<string, Value>) => void;
    onclose: () => void;
    /** More that can be done with it. */
    further?: Snippet;
  }
  let { anchor, settings, values: begun, onkeep, onclose, further }: Props = $props();

  let values = $state(untrack(() => ({ ...begun })));
  let wrong = $state('');

  function keep(event: Event) {
    event.preventDefault();
    try {
      onkeep({ ...values });
    } catch (e) {
      wrong = e instanceof Error ? e.message : String(e);
    }
  }

  /** Draws the equation as it is typed. */
  function preview(source: string) {
    return (dom: HTMLElement) => {
      const timer = setTimeout(async () => {
        try {
          const drawn = await drawnEquation(source, settings.title === 'Equation');
          wrong = drawn.problem ? `It cannot be read: ${drawn.problem}.` : '';
          if (!drawn.problem) showEquation(dom, drawn, false);
        } catch (e) {
          wrong = e instanceof Error ? e.message : String(e);
        }
      }, 60);
      return () => clearTimeout(timer);
    };
  }
</script>

<Popover label={settings.title} {anchor} width={370} {onclose}>
  <form onsubmit={keep}>
    {#each settings.fields as field, i (field.name)}
      {@const id = `set-${field.name}`}
      {#if field.kind === 'tick'}
        <label class="tick"
          ><input
            type="checkbox"
            checked={values[field.name] === true}
            onchange={(e) => (values[field.name] = e.currentTarget.checked)}
            {@attach (input) => {
              if (i === 0) focusFirst(input);
            }}
          />
          {field.label}</label
        >
      {:else if field.kind === 'long' || field.kind === 'source'}
        <label for={id}>{field.label}</label>
        <textarea
          {id}
          class={['field', field.kind === 'source' && 'source']}
          rows={field.kind === 'source' ? 2 : 3}
          placeholder={field.hint}
          value={String(values[field.name] ?? '')}
          oninput={(e) => (values[field.name] = e.currentTarget.value)}
          onkeydown={(e) => e.key === 'Enter' && keep(e)}
          {@attach (input) => {
            if (i === 0) focusFirst(input);
          }}></textarea>
        {#if field.kind === 'source'}<div class="preview" aria-hidden="true" {@attach preview(String(values[field.name]))}></div>{/if}
      {:else}
        <div class="row">
          <label for={id}>{field.label}</label>
          {#if field.kind === 'choice'}
            <select
              {id}
              class="field"
              bind:value={values[field.name]}
              onkeydown={(e) => e.key === 'Enter' && keep(e)}
              {@attach (input) => {
                if (i === 0) focusFirst(input);
              }}
            >
              {#each field.choices ?? [] as [value, name] (value)}<option {value}>{name}</option>{/each}
            </select>
          {:else}
            <input
              {id}
              class="field"
              type={field.kind === 'number' ? 'number' : 'text'}
              min={field.least}
              max={field.most}
              placeholder={field.hint}
              autocomplete="off"
              bind:value={values[field.name]}
              {@attach (input) => {
                if (i === 0) focusFirst(input);
              }}
            />
          {/if}
        </div>
      {/if}
    {/each}
    {#if wrong}<p class="wrong" role="alert">{wrong}</p>{/if}
    <div class="end">
      {@render further?.()}
      <button type="submit" class="btn do">Keep</button>
    </div>
  </form>
</Popover>

<style>
  form {
    display: grid;
    gap: 6px;
    padding: 4px 6px;
    font-size: 12px;
  }
  label {
    font-weight: 600;
  }
  .tick {
    display: flex;
    gap: 7px;
    align-items: center;
    min-height: 24px;
  }
  .row {
    display: grid;
    grid-template-columns: 1fr 170px;
    align-items: center;
    gap: 8px;
  }
  .source {
    font: 13px/1.4 var(--mono);
  }
  .preview {
    display: grid;
    place-items: center;
    min-height: 44px;
    padding: 4px;
    background: var(--paper);
    border: 1px solid var(--rule);
    overflow: auto;
  }
  .preview :global(svg),
  :global(.manuscript .equation svg) {
    fill: var(--ink);
  }
  .wrong {
    color: var(--madder);
  }
  .end {
    display: flex;
    justify-content: flex-end;
    gap: 8px;
    padding-top: 2px;
  }
</style>
