<script lang="ts">
  // One setting of a look: what it is, what it counts as and where that comes from, changed by typing or by arrows.
  import type { SettingForm } from '../shared/api';
  import type { LookDraft } from './draft.svelte';
  import ItemsSetting from './ItemsSetting.svelte';
  import { shown, stepped, typed, inPoints, type Unit } from './measures';
  import FontSetting from './FontSetting.svelte';
  import { coloursOf, facesOf, inWords, type Forms } from './parts';
  import PartSettings from './PartSettings.svelte';
  import { sourceOf, withValue, type Part } from './tree';

  interface Props {
    draft: LookDraft;
    forms: Forms;
    form: SettingForm;
    place: string;
    unit: Unit;
    /** Goes to where an inherited value is said. */
    ongo: (place: string) => void;
  }
  let { draft, forms, form, place, unit, ongo }: Props = $props();

  const source = $derived(sourceOf(draft.look, place, form.usual));
  const was = $derived(draft.changed ? sourceOf(draft.before, place, form.usual).value : source.value);
  const differs = $derived(JSON.stringify(was) !== JSON.stringify(source.value));
  const fault = $derived(draft.faults.find((f) => f.place === place));
  const layouts = $derived((((draft.look as Part).masters ?? []) as Part[]).map((m) => String(m.name)));
  const id = $derived(`set-${place}`);
  const label = $derived(form.words);

  function put(value: Parameters<LookDraft['set']>[1], kind = '') {
    draft.set(place, value, kind);
  }

  function arrows(event: KeyboardEvent) {
    const by = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
    if (by === 0 || event.ctrlKey || event.altKey) return;
    event.preventDefault();
    const steps = by * (event.shiftKey ? 10 : 1);
    if (form.kind === 'measure') {
      const next = stepped(source.value ?? 0, steps, form.step, unit);
      if (inPoints(next) >= form.least && inPoints(next) <= form.most) put(next, 'turned');
    } else {
      const next = Math.min(form.most, Math.max(form.least, Number(source.value ?? 0) + steps));
      put(next, 'turned');
    }
  }

  function take(input: HTMLInputElement) {
    delete input.dataset.typed;
    const text = input.value.trim();
    if (text === shownValue) return;
    if (form.kind === 'measure') {
      const leading = inPoints(sourceOf(draft.look, 'dresses[0].dress.leading', null).value) || 12;
      const value = typed(text, unit, leading);
      if (value === null) input.value = shownValue;
      else put(value);
    } else if (form.kind === 'number') {
      const number = Number(text.replace(',', '.'));
      if (text === '' || Number.isNaN(number)) input.value = shownValue;
      else put(Math.round(number));
    } else put(input.value);
  }

  const shownValue = $derived(
    form.kind === 'measure' ? shown(source.value, unit) : source.value === undefined || source.value === null ? '' : String(source.value),
  );
  const wasShown = $derived(
    form.kind === 'measure' ? shown(was, unit) : typeof was === 'string' || typeof was === 'number' ? inWords(String(was)) : '',
  );
</script>

{#if form.kind === 'dress' || form.kind === 'part'}
  <details class="inner" open={form.kind === 'part' && source.value !== undefined && source.value !== null}>
    <summary>{label}</summary>
    {#if form.mayBeNull}
      <label class="yes"
        ><input
          type="checkbox"
          checked={source.value !== undefined && source.value !== null}
          onchange={(e) =>
            put(
              e.currentTarget.checked
                ? form.of === 'masterChoice'
                  ? { recto: layouts[0] ?? '' }
                  : { text: '', dress: { face: 'sans', size: 8, leading: 10 } }
                : undefined,
            )}
        /> said here</label
      >
    {/if}
    {#if source.value !== undefined && source.value !== null}
      <PartSettings {draft} {forms} of={form.of} {place} unit={form.kind === 'dress' ? 'pt' : unit} {ongo} />
    {/if}
  </details>
{:else if form.kind === 'list'}
  <ItemsSetting {draft} {forms} {form} {place} {unit} {ongo} />
{:else}
  <div class="row" class:differs class:inherited={!source.here} data-setting={place}>
    <label for={id}>{label}</label>
    <span class="value">
      {#if form.kind === 'yes'}
        <input {id} type="checkbox" checked={source.value === true} onchange={(e) => put(e.currentTarget.checked)} />
      {:else if form.kind === 'choice' || form.kind === 'layout'}
        <select
          {id}
          class="field"
          value={source.value === undefined || source.value === null ? '' : String(source.value)}
          onchange={(e) => put(e.currentTarget.value === '' ? undefined : e.currentTarget.value)}
        >
          {#if form.mayBeNull}<option value="">{form.kind === 'layout' ? (form.name === 'basedOn' ? 'nothing' : '–') : 'none'}</option>{/if}
          {#each form.kind === 'layout' ? layouts : form.choices as choice (choice)}<option value={choice}
              >{form.kind === 'layout' ? choice : inWords(choice)}</option
            >{/each}
        </select>
      {:else if form.kind === 'face' || form.kind === 'colour'}
        {@const colours = form.kind === 'colour' ? coloursOf(draft.look ?? {}) : []}
        <select
          {id}
          class="field"
          value={source.value === undefined || source.value === null ? '' : String(source.value)}
          onchange={(e) => put(e.currentTarget.value === '' ? undefined : e.currentTarget.value)}
        >
          {#if form.mayBeNull}<option value="">{form.kind === 'colour' ? 'none named' : 'that of the text'}</option>{/if}
          {#each form.kind === 'face' ? facesOf(draft.look ?? {}) : colours as choice (choice.name)}<option value={choice.name}
              >{'words' in choice ? choice.words : choice.name}</option
            >{/each}
        </select>
        {#if form.kind === 'colour'}
          {@const seen = colours.find((c) => c.name === source.value)}
          {#if seen}<span class="swatch" style:background={seen.screen} aria-hidden="true"></span>
          {:else if colours.length === 0}<button class="from" onclick={() => ongo('colours')}>name colours first</button>{/if}
        {/if}
      {:else if form.kind === 'ink'}
        <input
          {id}
          type="color"
          class="ink"
          value={String(source.value ?? '#000000')}
          oninput={(e) => put(e.currentTarget.value, 'turned')}
        /><input
          class="field n"
          aria-label="{label}, six digits"
          value={shownValue}
          maxlength="7"
          onchange={(e) => put(e.currentTarget.value.trim())}
        />
      {:else if form.kind === 'font'}
        <FontSetting {id} value={source.value} onchoose={(font) => put(font)} />
      {:else if form.kind === 'text'}
        <input
          {id}
          class="field"
          value={shownValue}
          maxlength={form.most}
          oninput={(e) => (e.currentTarget.dataset.typed = '')}
          onchange={(e) => take(e.currentTarget)}
        />
      {:else}
        <input
          {id}
          class="field n"
          inputmode="decimal"
          value={shownValue}
          aria-invalid={fault ? 'true' : undefined}
          aria-describedby={fault ? `${id}-fault` : undefined}
          onkeydown={arrows}
          oninput={(e) => (e.currentTarget.dataset.typed = '')}
          onchange={(e) => take(e.currentTarget)}
        />{#if form.kind === 'measure'}<span class="unit">{unit}</span>{/if}
      {/if}
      {#if differs && wasShown !== '' && form.kind !== 'yes'}<span class="soft">was {wasShown}</span>{/if}
      {#if source.from}
        <button class="from" onclick={() => source.place && ongo(source.place)} title="Go to where it is said">from {source.from}</button>
      {:else if source.here && (form.mayBeNull || sourceOf(withValue(draft.look, place, undefined), place, form.usual).value !== undefined)}
        <button class="from" onclick={() => put(undefined)} title="Not said here: inherited, or as usual"
          >✕<span class="hidden"> not said here</span></button
        >
      {/if}
    </span>
    {#if fault}<p class="fault" id="{id}-fault">{fault.says}</p>{/if}
  </div>
{/if}

<style>
  .row {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.25fr);
    gap: 2px 8px;
    align-items: center;
    padding: 3px 0;
    border-top: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
  }
  label {
    color: var(--ink-soft);
    font-size: 12.5px;
    line-height: 1.25;
  }
  .row:not(.inherited) label {
    color: var(--ink);
  }
  .differs label {
    font-weight: 600;
  }
  .differs label::before {
    content: '● ';
    color: var(--bottle);
    font-size: 9px;
    vertical-align: 2px;
  }
  .value {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 6px;
    align-items: center;
  }
  .field {
    width: 100%;
    flex: 1 1 90px;
    min-width: 0;
    padding: 3px 6px;
    font-size: 12.5px;
  }
  .n {
    flex: 0 0 66px;
    width: 66px;
    font-variant-numeric: tabular-nums;
  }
  .unit,
  .soft {
    color: var(--ink-soft);
    font-size: 12px;
  }
  .swatch,
  .ink {
    width: 22px;
    height: 22px;
    padding: 0;
    border: 1px solid var(--rule);
    border-radius: var(--r);
  }
  .ink {
    width: 34px;
    height: 26px;
    background: none;
    cursor: pointer;
  }
  .from {
    color: var(--woad);
    font-size: 12px;
    cursor: pointer;
  }
  .fault {
    grid-column: 1 / -1;
    color: var(--madder);
    font-size: 12px;
  }
  .hidden {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
  .inner {
    border-top: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
    padding: 3px 0;
  }
  .inner > summary {
    cursor: pointer;
    font-size: 12.5px;
  }
  .inner > :global(:not(summary)) {
    margin-left: 10px;
  }
  .yes {
    display: flex;
    gap: 6px;
    align-items: center;
  }
</style>
