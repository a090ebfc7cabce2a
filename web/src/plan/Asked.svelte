<script lang="ts" module>
  import type { PlanRow } from '../shared/api';

  /** What is asked of the writer before an act: the kind of a new division, a language (of divisions, or without any of the manual), for
   * whom rows are. */
  export type Question =
    | { of: 'kind'; at: Element }
    | { of: 'language'; rows: string[]; now: string; at: Element }
    | { of: 'readers'; rows: PlanRow[]; at: Element };
</script>

<script lang="ts">
  import AppliesPanel from '../kept/AppliesPanel.svelte';
  import type { KeptOnce } from '../kept/kept-once.svelte';
  import { divisionKinds } from '../shared/division-kinds';
  import { languageChoices } from '../shared/languages';
  import Pick from '../ui/Pick.svelte';

  interface Props {
    question: Question;
    kept: KeptOnce;
    onkind: (kind: string) => void;
    onlanguage: (rows: string[], tag: string) => void;
    onreaders: (rows: string[], appliesTo: PlanRow['appliesTo']) => void;
    /** Conditions are to be made first. */
    onmake: () => void;
    onclose: () => void;
  }
  let { question, kept, onkind, onlanguage, onreaders, onmake, onclose }: Props = $props();
</script>

{#if question.of === 'kind'}
  <Pick
    label="Kind of the new division"
    choices={[...divisionKinds]}
    anchor={question.at}
    onchoose={(choice) => onkind(choice.kind)}
    {onclose}
  />
{:else if question.of === 'language'}
  {@const rows = question.rows}
  <Pick
    label={rows.length > 0 ? 'Language of what is chosen' : 'Language of the manual'}
    choices={languageChoices(question.now)}
    anchor={question.at}
    onchoose={(choice) => onlanguage(rows, choice.tag)}
    {onclose}
  />
{:else}
  {@const rows = question.rows}
  <AppliesPanel
    anchor={question.at}
    conditions={kept.now.conditions}
    carriers={[{ name: rows.length === 1 ? rows[0]!.title : `${rows.length} rows`, applies: rows[0]!.appliesTo }]}
    onkeep={(_, appliesTo) =>
      onreaders(
        rows.map((r) => r.id),
        appliesTo,
      )}
    {onmake}
    {onclose}
  />
{/if}
