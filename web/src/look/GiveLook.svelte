<script lang="ts">
  // One look for several manuals: what it comes to in each, before it is put on.
  import { api, type LookGiven } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { writer } from '../live/tab';

  interface Props {
    name: string;
    /** Null for the one of this name that the shelf keeps, or that ships. */
    file: string | null;
    manuals: readonly { id: string; title: string }[];
    /** Ids that are chosen to begin with. */
    chosen: readonly string[];
    ondone: () => void;
  }
  let { name, file, manuals, chosen, ondone }: Props = $props();

  // svelte-ignore state_referenced_locally
  let picked = $state<string[]>([...chosen]);
  let foreseen = $state.raw<LookGiven[] | null>(null);
  let busy = $state(false);

  async function ask(does: () => Promise<LookGiven[]>): Promise<LookGiven[] | null> {
    busy = true;
    try {
      return await does();
    } catch (e) {
      notices.problem(e);
      return null;
    } finally {
      busy = false;
    }
  }

  const foresee = async () => (foreseen = await ask(() => api.foreseeLook(writer, name, file, picked)));

  async function give() {
    const done = await ask(() => api.giveLook(writer, name, file, picked));
    if (!done) return;
    const refused = done.filter((d) => d.refused);
    if (refused.length > 0) notices.problem(new Error(refused.map((r) => `${r.title}: ${r.refused}`).join(' ')));
    else notices.tell(`“${name}” is worn by ${done.length} ${done.length === 1 ? 'manual' : 'manuals'}. Ctrl Z in each takes it back.`);
    ondone();
  }

  const before = (id: string) => foreseen?.find((f) => f.manual === id);
  const signed = (n: number) => (n > 0 ? `+${n}` : n < 0 ? `−${-n}` : 'as many');
</script>

<fieldset>
  <legend>Give “{name}” to</legend>
  {#each manuals as m (m.id)}
    {@const f = before(m.id)}
    <label>
      <input type="checkbox" value={m.id} bind:group={picked} onchange={() => (foreseen = null)} />
      <span>{m.title}</span>
      {#if f}<i>{f.refused ?? `${f.pagesBefore} → ${f.pagesAfter} pages, ${signed(f.looseEndsMore)} loose ends`}</i>{/if}
    </label>
  {:else}<p class="soft">There is no other manual on the shelf.</p>{/each}
  <div class="acts">
    <button class="btn" disabled={picked.length === 0 || busy} onclick={() => void foresee()}
      >{busy ? 'Composing …' : 'See what it comes to'}</button
    >
    <button class="btn do" disabled={picked.length === 0 || busy} onclick={() => void give()}
      >Put on in {picked.length} {picked.length === 1 ? 'manual' : 'manuals'}</button
    >
  </div>
</fieldset>

<style>
  legend {
    font-weight: 600;
    padding: 6px 0;
  }
  label {
    display: flex;
    gap: 8px;
    align-items: baseline;
    padding: 3px 0;
  }
  label i {
    margin-left: auto;
    color: var(--ink-soft);
    font-style: normal;
    font-size: 12.5px;
  }
  .acts {
    display: flex;
    gap: 8px;
    padding-top: 8px;
  }
  .soft {
    color: var(--ink-soft);
  }
</style>
