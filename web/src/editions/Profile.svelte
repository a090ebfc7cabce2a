<script lang="ts">
  // The printing condition of a print file: the one that ships, or the printer's own profile, given as a file.
  import { api, type OutputChoice } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { writer } from '../live/tab';
  import Pick from '../ui/Pick.svelte';
  import Word from './Word.svelte';

  interface Props {
    manualId: string;
    output: OutputChoice;
    profiles: readonly string[];
    onchange: (by: Partial<OutputChoice>) => void;
  }
  let { manualId, output, profiles, onchange }: Props = $props();

  let choosing = $state.raw<Element | null>(null);
  let fileInput = $state<HTMLInputElement>();

  const usual = 'offset on coated paper';
  const give = 'Give the printer’s profile…';
  const choices = $derived([
    { name: usual, note: output.profile ? '' : '✓' },
    ...profiles.map((name) => ({ name, note: output.profile === name ? '✓' : '' })),
    { name: give, note: '.icc' },
  ]);

  function choose(name: string) {
    choosing = null;
    if (name === give) fileInput?.click();
    else onchange({ profile: name === usual ? '' : name });
  }

  async function take(file: File) {
    try {
      const given = await api.giveProfile(manualId, file, writer);
      notices.tell(`The printer’s profile calls itself “${given.says}”.`);
      onchange({ profile: given.name });
    } catch (e) {
      notices.problem(e);
    }
  }
</script>

<Word onclick={(e) => (choosing = e.currentTarget)}>{output.profile ? `the printer’s “${output.profile}”` : usual}</Word><input
  class="hidden"
  type="file"
  accept=".icc,.icm"
  aria-label="Printer’s profile"
  tabindex="-1"
  bind:this={fileInput}
  onchange={(e) => {
    const file = e.currentTarget.files?.[0];
    e.currentTarget.value = '';
    if (file) void take(file);
  }}
/>{#if choosing}
  <Pick
    label="Printing condition"
    {choices}
    anchor={choosing}
    onchoose={(c) => choose(c.name)}
    onclose={() => {
      (choosing as HTMLElement | null)?.focus();
      choosing = null;
    }}
  />
{/if}

<style>
  .hidden {
    display: none;
  }
</style>
