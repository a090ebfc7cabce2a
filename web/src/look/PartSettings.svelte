<script lang="ts">
  // All settings of one place of a look.
  import type { LookDraft } from './draft.svelte';
  import type { Unit } from './measures';
  import { settingsOf, type Forms } from './parts';
  import Setting from './Setting.svelte';

  interface Props {
    draft: LookDraft;
    forms: Forms;
    of: string;
    place: string;
    only?: readonly string[] | undefined;
    unit: Unit;
    ongo: (place: string) => void;
  }
  let { draft, forms, of, place, only, unit, ongo }: Props = $props();
  const settings = $derived(settingsOf(forms, { title: '', place, of, ...(only ? { only } : {}) }));
</script>

{#each settings as form (form.name)}
  <Setting {draft} {forms} {form} place={place ? `${place}.${form.name}` : form.name} {unit} {ongo} />
{/each}
