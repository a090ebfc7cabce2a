<script lang="ts">
  import { address, api, type Mapping } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import Dialog from '../ui/Dialog.svelte';

  interface Props {
    onclose: () => void;
  }
  let { onclose }: Props = $props();

  let mappings = $state.raw<Mapping[] | null>(null);
  let fileInput = $state<HTMLInputElement>();

  const load = () => api.mappings().then((m) => (mappings = m), notices.problem);
  void load();

  async function add(file: File) {
    try {
      const added = await api.addMapping(file);
      notices.tell(`The mapping “${added.name}” is on the shelf.`);
      await load();
    } catch (e) {
      notices.problem(e);
    }
  }

  async function remove(mapping: Mapping) {
    try {
      const file = await (await fetch(address(`/api/mappings/${encodeURIComponent(mapping.name)}/file`))).blob();
      await api.deleteMapping(mapping.name);
      await load();
      notices.tell(`The mapping “${mapping.name}” was taken off the shelf.`, () => void add(new File([file], mapping.name)));
    } catch (e) {
      notices.problem(e);
    }
  }
</script>

<Dialog title="Mappings" {onclose}>
  {#if mappings?.length === 0}
    <p>
      No mapping is kept yet. Bring a document in, give its styles their roles, and choose “Keep as…”: the next document that looks alike
      comes in with it.
    </p>
  {/if}
  <ul>
    {#each mappings ?? [] as m (m.name)}
      <li>
        <b>{m.name}</b><span class="soft">{m.roles} styles and look-alikes</span>
        <a class="btn" href={address(`/api/mappings/${encodeURIComponent(m.name)}/file`)} download>Keep as a file</a>
        <button class="btn" onclick={() => remove(m)}>Take off</button>
      </li>
    {/each}
  </ul>
  <div class="acts">
    <button class="btn" onclick={() => fileInput?.click()}>Take from a file…</button>
    <button class="btn do" onclick={onclose}>Done</button>
    <input
      class="hidden"
      type="file"
      accept=".json"
      aria-label="Mapping to take from a file"
      bind:this={fileInput}
      onchange={(e) => {
        const file = e.currentTarget.files?.[0];
        if (file) void add(file);
        e.currentTarget.value = '';
      }}
    />
  </div>
</Dialog>

<style>
  li {
    display: flex;
    gap: 10px;
    align-items: center;
    padding: 5px 0;
  }
  .soft {
    color: var(--ink-soft);
    margin-right: auto;
  }
  .acts {
    display: flex;
    gap: 8px;
    justify-content: end;
    padding-top: 16px;
  }
  .hidden {
    display: none;
  }
</style>
