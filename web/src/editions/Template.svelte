<script lang="ts">
  // What a word-processing file is made into: the template that the writer gives, and its style for each role. The styles chosen can be
  // kept by name, as the mappings of bringing in are: one serves both ways.
  import { api, type OutputChoice, type TemplateView } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { writer } from '../live/tab';
  import Dialog from '../ui/Dialog.svelte';
  import Pick from '../ui/Pick.svelte';
  import Word from './Word.svelte';

  interface Props {
    manualId: string;
    output: OutputChoice;
    templates: readonly string[];
    onchange: (by: Partial<OutputChoice>) => void;
  }
  let { manualId, output, templates, onchange }: Props = $props();

  let choosing = $state.raw<Element | null>(null);
  let mapping = $state.raw<TemplateView | null>(null);
  let chosen = $state.raw<Record<string, string>>({});
  let keptAs = $state('');
  let fileInput = $state<HTMLInputElement>();

  const give = 'Give a template…';
  const choices = $derived([
    { name: 'no template', note: output.template ? '' : '✓' },
    ...templates.map((name) => ({ name, note: output.template === name ? '✓' : '' })),
    { name: give, note: '' },
  ]);

  async function choose(name: string) {
    choosing = null;
    if (name === give) fileInput?.click();
    else if (name === 'no template') onchange({ template: '', roleStyles: [] });
    else await wear(() => api.template(manualId, name));
  }

  /** The styles that are proposed for it are seen first: it is worn when the writer has it so. */
  async function wear(read: () => Promise<TemplateView>) {
    try {
      const view = await read();
      show(view, view.proposed);
    } catch (e) {
      notices.problem(e);
    }
  }

  async function edit() {
    try {
      show(await api.template(manualId, output.template), output.roleStyles);
    } catch (e) {
      notices.problem(e);
    }
  }

  function show(view: TemplateView, styles: OutputChoice['roleStyles']) {
    chosen = Object.fromEntries(styles.map((s) => [s.role, s.style]));
    mapping = view;
  }

  const roleStyles = () =>
    Object.entries(chosen)
      .filter(([, style]) => style)
      .map(([role, style]) => ({ role, style }));

  async function keep() {
    const view = mapping;
    if (!view) return;
    const roles = Object.fromEntries(
      roleStyles().map(({ role, style }) => [`${view.roles.find((r) => r.name === role)?.isOfWords ? 'c' : 'p'}:${style}`, role]),
    );
    try {
      await api.addMapping(new File([JSON.stringify({ mapping: 1, name: keptAs.trim(), roles })], 'mapping.json'));
      notices.tell(`Kept as “${keptAs.trim()}”, for templates and for bringing in.`);
      keptAs = '';
    } catch (e) {
      notices.problem(e);
    }
  }

  const count = $derived(output.roleStyles.length);
</script>

<Word onclick={(e) => (choosing = e.currentTarget)}>{output.template ? `into “${output.template}”` : 'in the look’s own styles'}</Word
>{#if output.template}, with
{/if}{#if output.template}<Word onclick={() => void edit()}
    >{count === 0 ? 'no role in a style of it' : count === 1 ? 'one role in a style of it' : `${count} roles in styles of it`}</Word
  >{/if}<input
  class="hidden"
  type="file"
  accept=".docx,.dotx"
  aria-label="Template"
  tabindex="-1"
  bind:this={fileInput}
  onchange={(e) => {
    const file = e.currentTarget.files?.[0];
    e.currentTarget.value = '';
    if (file) void wear(() => api.giveTemplate(manualId, file, writer));
  }}
/>{#if choosing}
  <Pick
    label="Template"
    {choices}
    anchor={choosing}
    onchoose={(c) => void choose(c.name)}
    onclose={() => {
      (choosing as HTMLElement | null)?.focus();
      choosing = null;
    }}
  />
{/if}

{#if mapping}
  <Dialog title="Styles of “{mapping.name}” for roles" wide onclose={() => (mapping = null)}>
    <p class="soft">A role without a style looks as in the look.</p>
    <div class="roles">
      {#each mapping.roles as role (role.name)}
        <label for={`style-${role.name}`}>{role.label}</label>
        <select
          id={`style-${role.name}`}
          class="field"
          value={chosen[role.name] ?? ''}
          onchange={(e) => (chosen = { ...chosen, [role.name]: e.currentTarget.value })}
        >
          <option value="">as in the look</option>
          {#each mapping.styles.filter((s) => s.isOfWords === role.isOfWords) as s (s.name)}<option value={s.name}>{s.name}</option>{/each}
        </select>
      {/each}
    </div>
    <form
      class="keep"
      onsubmit={(e) => {
        e.preventDefault();
        if (keptAs.trim()) void keep();
      }}
    >
      <label for="kept-as">Keep these choices as</label>
      <input id="kept-as" class="field" maxlength="80" placeholder="a name" bind:value={keptAs} />
      <button class="btn" disabled={!keptAs.trim()}>Keep</button>
    </form>
    <p class="acts">
      <button
        class="btn do"
        onclick={() => {
          onchange({ template: mapping!.name, roleStyles: roleStyles() });
          mapping = null;
        }}>Have it so</button
      >
      <button class="btn" onclick={() => (mapping = null)}>Leave it</button>
    </p>
  </Dialog>
{/if}

<style>
  .hidden {
    display: none;
  }
  .soft {
    color: var(--ink-soft);
    margin-bottom: 8px;
  }
  .roles {
    display: grid;
    grid-template-columns: max-content minmax(0, 1fr) max-content minmax(0, 1fr);
    gap: 5px 12px;
    align-items: center;
    font-size: 13px;
  }
  .keep {
    display: flex;
    gap: 8px;
    align-items: center;
    margin: 14px 0 6px;
    font-size: 13px;
  }
  .acts {
    display: flex;
    gap: 8px;
    margin-top: 12px;
  }
</style>
