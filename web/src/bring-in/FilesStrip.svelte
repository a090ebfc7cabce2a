<script lang="ts">
  // Which files came, what each becomes, and what holds for all of them: the language, the mapping.
  import { api, type BringInChoices, type BringInView } from '../shared/api';
  import { languageChoices, languageName } from '../shared/languages';
  import { notices } from '../shared/notices.svelte';
  import { plural } from '../shared/plural';
  import { focusFirst } from '../ui/focus';

  interface Props {
    view: BringInView;
    /** A newer version of what came in before: nothing is chosen about it here. */
    newer: boolean;
    busy: boolean;
    /** Which of the two is seen at the left where the files are one book. */
    left: 'order' | 'roles';
    onchoose: (choices: BringInChoices, words: string) => Promise<void>;
    /** The mapping was kept. */
    onkept: (view: BringInView) => void;
  }
  let { view, newer, busy, left = $bindable(), onchoose, onkept }: Props = $props();

  let naming = $state(false);
  let mappingName = $state('');

  const read = $derived(view.files.filter((f) => !f.problem));

  function becomes(file: number, kind: string) {
    void onchoose({ becomes: read.map((f, i) => (i === file ? kind : f.becomes)) }, '');
  }

  function reorder(file: number, by: number) {
    const order = read.map((_, i) => i);
    const [own] = order.splice(file, 1);
    order.splice(file + by, 0, own!);
    void onchoose({ order }, '');
  }

  async function keep() {
    try {
      onkept(await api.keepMapping(view.id, mappingName));
      naming = false;
    } catch (e) {
      notices.problem(e);
    }
  }
</script>

<div class="files">
  {#if view.tree && !newer}
    <span class="file">
      <b>{plural(read.length, 'file')} as one book</b>
      <span class="soft">read from {view.tree.from}</span>
      <button class="btn small" disabled={busy} onclick={() => onchoose({ tree: [] }, 'Each file comes in by itself')}
        >Each by itself</button
      >
    </span>
    {#each view.files.filter((f) => f.problem) as file (file.name)}<span class="file m"
        ><b>{file.name}</b><span>○ not read: {file.problem}</span></span
      >{/each}
    <span class="seen" role="group" aria-label="At the left">
      <button class="btn small" aria-pressed={left === 'order'} onclick={() => (left = 'order')}>Order</button>
      <button class="btn small" aria-pressed={left === 'roles'} onclick={() => (left = 'roles')}>Roles</button>
    </span>
  {/if}
  {#each view.tree && !newer ? [] : view.files as file, i (file.name)}
    <span class="file" class:m={file.problem !== null}>
      <b>{file.name}</b>
      {#if file.problem}<span>○ not read: {file.problem}</span>
      {:else if !newer}
        <label class="soft"
          >becomes
          <select
            value={file.becomes}
            disabled={busy}
            onchange={(e) => becomes(i, e.currentTarget.value)}
            aria-label={`${file.name} becomes`}
          >
            <option value="chapter">{file.divisions === 1 ? '1 chapter' : `${file.divisions} divisions`}</option>
            <option value="appendix">{file.divisions === 1 ? '1 appendix' : `${file.divisions} appendices`}</option>
            <option value="preface">a preface</option>
          </select></label
        >
        {#if i > 0}<button class="btn small" disabled={busy} aria-label={`${file.name} earlier`} onclick={() => reorder(i, -1)}>←</button
          >{/if}
      {/if}
    </span>
  {/each}
  {#if !newer}<span class="mapping">
      <label class="soft"
        >Language
        <select
          aria-label="Language"
          value={view.language}
          disabled={busy}
          onchange={(e) => onchoose({ language: e.currentTarget.value }, `All of it is ${languageName(e.currentTarget.value)}`)}
        >
          {#each languageChoices(view.language) as l (l.tag)}<option value={l.tag}>{l.name}</option>{/each}
        </select></label
      >
      <label class="soft"
        >Mapping
        <select
          aria-label="Mapping"
          value={view.mapping}
          disabled={busy}
          onchange={(e) => onchoose({ mapping: e.currentTarget.value }, '')}
        >
          <option value="">as proposed</option>
          {#each view.mappings as m (m.name)}<option value={m.name}>{m.name}</option>{/each}
        </select></label
      >
      {#if view.mapping}<span class="soft">fits {view.mappings.find((m) => m.name === view.mapping)?.fits ?? 0} of {view.lines.length}</span
        >{/if}
      {#if naming}
        <form
          onsubmit={(e) => {
            e.preventDefault();
            void keep();
          }}
        >
          <input
            class="field"
            aria-label="Name of the mapping"
            placeholder="Name of the mapping"
            bind:value={mappingName}
            {@attach focusFirst}
          />
          <button class="btn do" disabled={!mappingName.trim()}>Keep</button>
          <button class="btn" type="button" onclick={() => (naming = false)}>Leave it</button>
        </form>
      {:else}
        <button
          class="btn"
          onclick={() => {
            mappingName = view.mapping ?? '';
            naming = true;
          }}>Keep as…</button
        >
      {/if}
    </span>{/if}
</div>

<style>
  .files {
    grid-row: 2;
    display: flex;
    flex-wrap: wrap;
    gap: 6px 26px;
    align-items: center;
    padding: 8px 16px;
    background: var(--paper);
    border-bottom: 1px solid var(--rule);
  }
  .file {
    display: flex;
    gap: 10px;
    align-items: baseline;
  }
  .file b {
    font: 500 15.5px/1.2 var(--text);
  }
  .soft {
    color: var(--ink-soft);
  }
  .m {
    color: var(--madder);
  }
  .seen {
    display: flex;
    gap: 4px;
  }
  .seen [aria-pressed='true'] {
    background: var(--bottle-tint);
    border-color: var(--bottle);
  }
  .mapping {
    margin-left: auto;
    display: flex;
    gap: 12px;
    align-items: center;
  }
  .mapping form {
    display: flex;
    gap: 6px;
  }
  .mapping .field {
    width: 200px;
  }
  select {
    background: var(--paper);
    color: var(--ink);
    border: 1px solid var(--rule);
    border-radius: var(--r);
    padding: 3px 6px;
    font-size: 12.5px;
  }
  .small {
    padding: 1px 8px;
  }
</style>
