<script lang="ts">
  // The settings of the chosen part, with what it inherits.
  import BeginsOtherwise from './BeginsOtherwise.svelte';
  import type { LookDraft } from './draft.svelte';
  import LayoutActs from './LayoutActs.svelte';
  import RoleActs from './RoleActs.svelte';
  import { inPoints, paperOf, papers, shown, type Unit } from './measures';
  import { numbersShown, type Forms, type LookPart } from './parts';
  import PartSettings from './PartSettings.svelte';
  import { sourceOf, withValue, type Part } from './tree';

  interface Props {
    draft: LookDraft;
    forms: Forms;
    part: LookPart;
    unit: Unit;
    onunit: (unit: Unit) => void;
    ongo: (place: string) => void;
    /** Whether a place of the look is of this part. */
    isIn: (place: string) => boolean;
    /** Roles of the manual's own. */
    roles: readonly string[];
    manualId: string;
    /** Number of the composition in sight. */
    composition: number;
  }
  let { draft, forms, part, unit, onunit, ongo, isIn, roles, manualId, composition }: Props = $props();

  const doubts = $derived(draft.doubts.filter((d) => isIn(d.place)));
  const layout = $derived(/^masters\[(\d+)\]$/.exec(part.id)?.[1]);
  const sequence = $derived(/^sequences\.(.+)$/.exec(part.id)?.[1]);
  const counted = (place: string) => sourceOf(draft.look, place, null).value;
  const paper = $derived(layout ? paperOf(counted(`${part.id}.width`), counted(`${part.id}.height`)) : '');
  /** Width of the text in characters, as the body has them: about two for each em. */
  const measure = $derived.by(() => {
    if (!layout) return null;
    const of = (name: string) => inPoints(counted(`${part.id}.${name}`)) || 0;
    const columns = Number(counted(`${part.id}.columns`) ?? 1);
    const gutter = inPoints(counted(`${part.id}.gutter`) ?? 18);
    const width = (of('width') - of('inner') - of('outer') - of('sideColumn') - of('sideGap') - gutter * (columns - 1)) / columns;
    const size = inPoints(counted('dresses[0].dress.size')) || 10;
    const leading = inPoints(counted('dresses[0].dress.leading')) || 12;
    return {
      width,
      characters: Math.round(width / (size * 0.46)),
      lines: Math.floor((of('height') - of('top') - of('foot')) / leading),
      leading,
    };
  });

  function putPaper(name: string) {
    const chosen = papers.find((p) => p.name === name);
    if (chosen && draft.look !== null)
      draft.become(withValue(withValue(draft.look, `${part.id}.width`, chosen.width), `${part.id}.height`, chosen.height));
  }
</script>

<div class="panel">
  <h2>{part.name}</h2>
  {#if layout}
    <div class="units" role="group" aria-label="Measures in">
      {#each ['pt', 'mm', 'in'] as const as u (u)}<button aria-pressed={unit === u} onclick={() => onunit(u)}>{u}</button>{/each}
    </div>
  {/if}
  {#each draft.faults.filter((f) => f.place === part.id) as fault (fault.says)}<p class="fault">{fault.says}</p>{/each}
  {#if layout}<LayoutActs {draft} at={Number(layout)} onmade={(at) => ongo(`masters[${at}]`)} />{/if}
  {#if part.id.startsWith('dresses')}<RoleActs {draft} part={part.id} {roles} onmade={ongo} />{/if}
  {#each part.sections as section (section.title + section.place + (section.only ?? []).join())}
    {#if section.title}<h3>{section.title}</h3>{/if}
    {#if layout && section.title === 'Paper and margins'}
      <div class="row">
        <label for="paper">paper</label>
        <select id="paper" class="field" value={paper} onchange={(e) => putPaper(e.currentTarget.value)}>
          <option value="">its own size</option>
          {#each papers as p (p.name)}<option value={p.name}>{p.name}</option>{/each}
        </select>
      </div>
    {/if}
    <PartSettings
      {draft}
      {forms}
      of={section.of}
      place={section.place}
      only={section.only}
      unit={section.of === 'pageMaster' ? unit : 'pt'}
      {ongo}
    />
    {#if measure && section.title === 'Paper and margins'}
      <p class="soft">
        A line of text: {shown(measure.width, unit)}
        {unit}, about {measure.characters} characters. {measure.lines} lines a page, {shown(measure.leading, 'pt')} pt each.
      </p>
    {/if}
  {/each}
  {#if part.id === 'numbering'}
    <p class="soft">So they read: {numbersShown((draft.look as Part).numbering as Part | undefined)}</p>
  {/if}
  {#if layout}
    <p class="soft">
      Sources of running heads: {'{division}'}, {'{section}'}, {'{head:B}'}, {'{head:A:first}'}, {'{term:first}'}, {'{number}'}, {'{title}'},
      {'{folio}'},
      {'{total}'}, {'{manual}'}, {'{edition}'}, {'{designation}'}, {'{date}'}, {'{variable:NAME}'}. A picture of the manual stands by
      itself: {'{picture:NAME}'}.
    </p>
  {:else if sequence}
    <BeginsOtherwise {manualId} kind={sequence} {composition} />
  {/if}
  {#if doubts.length > 0}
    <div class="doubts">
      {#each doubts as doubt (doubt.place + doubt.says)}<button onclick={() => ongo(doubt.place)}>{doubt.says}</button>{/each}
    </div>
  {/if}
</div>

<style>
  .panel {
    padding: 10px 14px 20px;
  }
  h2 {
    font: 500 18px/1.25 var(--text);
    overflow-wrap: anywhere;
  }
  h3 {
    padding: 12px 0 3px;
    font-size: 13px;
    font-weight: 600;
  }
  .units {
    float: right;
    display: flex;
    gap: 2px;
    margin-top: -22px;
  }
  .units button {
    padding: 1px 7px;
    border-radius: var(--r);
    color: var(--ink-soft);
    font-size: 12px;
    cursor: pointer;
  }
  .units button[aria-pressed='true'] {
    background: var(--bottle-tint);
    color: var(--ink);
    font-weight: 600;
  }
  .row {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.25fr);
    gap: 8px;
    align-items: center;
    padding: 3px 0;
    font-size: 12.5px;
  }
  .row .field {
    padding: 3px 6px;
    font-size: 12.5px;
  }
  .soft {
    color: var(--ink-soft);
    font-size: 12.5px;
    padding: 4px 0;
  }
  /* At the foot of what is in sight: they come with an answer, and no setting moves for them. */
  .doubts {
    position: sticky;
    bottom: 0;
    margin: 8px -14px -20px;
    padding: 5px 14px;
    border-top: 1px solid var(--rule);
    background: var(--board);
  }
  .doubts button {
    display: block;
    padding: 2px 0;
    color: var(--ochre);
    text-align: left;
    font-size: 12.5px;
    line-height: 1.3;
    cursor: pointer;
  }
  .fault {
    color: var(--madder);
    font-size: 12.5px;
  }
</style>
