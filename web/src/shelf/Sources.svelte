<script lang="ts">
  import { address, api, type KeptSource, type ShelfManual } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';

  interface Props {
    manual: ShelfManual;
  }
  let { manual }: Props = $props();

  let sources = $state.raw<KeptSource[]>([]);
  let input = $state<HTMLInputElement>();
  let newerOf = '';

  // svelte-ignore state_referenced_locally
  api.sources(manual.id).then(
    (s) => (sources = s),
    () => undefined,
  );

  const when = (iso: string) => new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });

  async function bring(file: File) {
    try {
      route.bringIn((await api.startBringIn([file], { newer: newerOf })).id);
    } catch (e) {
      notices.problem(e);
    }
  }
</script>

{#if sources.length > 0}
  <section aria-label="Brought in from">
    <h3>Brought in from</h3>
    <ul>
      {#each sources as s (s.id)}
        <li>
          <a href={address(`/api/sources/${s.id}/file`)} download={s.name}>{s.name}</a><span class="soft">{when(s.broughtInAt)}</span>
          <button
            class="btn"
            aria-label={`Newer version of ${s.name}`}
            onclick={() => {
              newerOf = s.id;
              input?.click();
            }}>Newer version…</button
          >
        </li>
      {/each}
    </ul>
    <input
      class="hidden"
      type="file"
      aria-label="Newer version of a source"
      bind:this={input}
      onchange={(e) => {
        const file = e.currentTarget.files?.[0];
        if (file) void bring(file);
        e.currentTarget.value = '';
      }}
    />
  </section>
{/if}

<style>
  section {
    border-top: 1px solid var(--rule);
    margin-top: 20px;
    padding-top: 14px;
  }
  h3 {
    font-weight: 600;
    padding-bottom: 6px;
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 2px 8px;
    align-items: center;
    padding: 4px 0;
  }
  a {
    color: var(--bottle);
    overflow: hidden;
    text-overflow: ellipsis;
    text-decoration: underline;
  }
  .soft {
    color: var(--ink-soft);
    font-size: 12px;
    grid-row: 2;
  }
  .btn {
    grid-row: 1 / 3;
    grid-column: 2;
  }
  .hidden {
    display: none;
  }
</style>
