<script lang="ts">
  // Dress for one more role, wherever it stands or only in some place; and a dress taken out again.
  import type { LookDraft } from './draft.svelte';
  import { inWords } from './parts';
  import { stepsOf, valueAt, type Json, type Part } from './tree';

  interface Props {
    draft: LookDraft;
    /** The part that is chosen: a role's dress, or the place for one more. */
    part: string;
    /** Roles of the manual's own. */
    roles: readonly string[];
    onmade: (place: string) => void;
  }
  let { draft, part, roles, onmade }: Props = $props();

  const shipped = ['body', 'lead', 'quotation', 'title', 'subtitle', 'imprint', 'result', 'bullet', 'clause'];
  const places = ['list', 'admonition', 'aside', 'example', 'definition'];
  const rules = $derived(((draft.look as Part).dresses ?? []) as Part[]);
  const kinds = $derived(Object.keys(((draft.look as Part).sequences ?? {}) as Part));
  let role = $state('');
  let within = $state('');
  let division = $state('');
  const isThere = $derived(rules.some((r) => r.role === role && (r.within ?? '') === within && (r.division ?? '') === division));

  function add(event: Event) {
    event.preventDefault();
    const rule: Part = { role, ...(within ? { within } : {}), ...(division ? { division } : {}), dress: {} };
    const at = rules.length;
    draft.set('dresses', [...rules, rule] as Json);
    onmade(`dresses[${at}]`);
  }
  const at = $derived(part === 'dresses' ? null : Number(stepsOf(part)[1]));
  const own = $derived(at === null ? null : (valueAt(draft.look ?? {}, part) as Part | undefined));
  // All others build on the text's own dress.
  const isFoundation = $derived(own?.role === 'body' && !own.within && !own.division);
</script>

{#if at === null}
  <form onsubmit={add}>
    <label>role <input class="field" list="roles-to-dress" bind:value={role} maxlength="60" required /></label>
    <datalist id="roles-to-dress"
      >{#each [...roles, ...shipped] as r (r)}<option value={r}></option>{/each}</datalist
    >
    <label
      >within <select class="field" bind:value={within}
        ><option value="">anything</option>{#each places as p (p)}<option value={p}>{inWords(p)}</option>{/each}</select
      ></label
    >
    <label
      >in divisions <select class="field" bind:value={division}
        ><option value="">of every kind</option>{#each kinds as k (k)}<option value={k}>{inWords(k)}</option>{/each}</select
      ></label
    >
    {#if isThere}<p class="soft">This has its dress already.</p>{/if}
    <button class="btn" disabled={!role.trim() || isThere}>Dress it</button>
  </form>
{:else if own && !isFoundation}
  <button
    class="btn small"
    onclick={() => {
      draft.set('dresses', rules.filter((_, i) => i !== at) as Json);
      onmade('dresses[0]');
    }}>Take this dress out</button
  >
{/if}

<style>
  form {
    display: grid;
    gap: 8px;
    padding: 6px 0;
    font-size: 12.5px;
  }
  label {
    display: grid;
    gap: 2px;
  }
  .field {
    padding: 3px 6px;
    font-size: 12.5px;
  }
  .small {
    margin: 6px 0;
    padding: 2px 8px;
    font-size: 12px;
  }
  .soft {
    color: var(--ink-soft);
  }
</style>
