<script lang="ts">
  // What the block is that the caret stands in, or the words that are selected; first of all what a misspelt word may be.
  import { isInTable } from 'prosemirror-tables';
  import type { EditorView } from 'prosemirror-view';
  import type { OwnRole } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import type { KeptOnce } from '../../kept/kept-once.svelte';
  import Pick from '../../ui/Pick.svelte';
  import type { Anchor } from '../../ui/Popover.svelte';
  import { respelled, wrongAt } from '../spelling/spelling';
  import { blockRoles, foundationAt, ownRole, spanRoles, type Role } from './roles';
  import { tableActs } from './tables';

  interface Props {
    editor: EditorView;
    anchor: Anchor;
    /** The text of a footnote: one line of words. */
    isNote: boolean;
    roles: OwnRole[];
    kept?: KeptOnce | undefined;
    /** What is asked in a panel of its own. */
    further: Role[];
    suggest: (word: string) => Promise<string[]>;
    onrole?: ((name: string, foundation: string) => Promise<boolean>) | undefined;
    /** Something was chosen: what follows may open another panel. */
    onchosen: () => void;
    onclose: () => void;
  }
  let { editor, anchor, isNote, roles, kept, further, suggest, onrole, onchosen, onclose }: Props = $props();

  // As the caret stood when this was asked.
  // svelte-ignore state_referenced_locally
  const asked = editor.state;
  const founded = foundationAt(asked);
  const inTable = isInTable(asked);
  const wrong = wrongAt(asked);
  let misspelt = $state.raw<string[]>([]);
  if (wrong)
    // svelte-ignore state_referenced_locally
    void suggest(wrong.word).then(
      (words) => (misspelt = words),
      () => undefined,
    );

  const spelling = $derived<Role[]>(
    wrong
      ? [
          ...misspelt.map((by) => ({
            name: `“${wrong.word}”: ${by}`,
            command: () => (editor.dispatch(respelled(editor.state, [wrong], by)), editor.focus(), true),
          })),
          {
            name: `Accept “${wrong.word}” in this manual`,
            command: () => (void kept?.act({ do: 'acceptWord', name: wrong.word }), editor.focus(), true),
          },
        ]
      : [],
  );
  const first = $derived(wrong ? [...spelling, ...further] : []);
  const last = $derived(wrong ? [] : further);
  const choices = $derived(
    isNote
      ? [...spanRoles, ...spelling, ...further]
      : inTable
        ? [...first, ...tableActs, ...spanRoles, ...last]
        : [...first, ...blockRoles, ...spanRoles, ...last, ...roles.map(ownRole)],
  );

  function choose(chosen: Role) {
    const asks = [...spelling, ...further].includes(chosen);
    onchosen();
    if (asks) {
      chosen.command(editor.state);
      return;
    }
    editor.focus();
    if (!chosen.command(editor.state, editor.dispatch, editor))
      notices.tell(inTable ? `“${chosen.name}” cannot be done here.` : `“${chosen.name}” cannot stand here.`);
  }

  /** A role of the manual's own, founded on what the caret stands in or what is selected. */
  async function newRole(name: string) {
    const { foundation } = founded;
    onchosen();
    editor.focus();
    if (await onrole!(name, foundation)) choose(ownRole({ name, foundation }));
  }
</script>

<Pick
  label={inTable ? 'In this table' : 'What this is'}
  {choices}
  {anchor}
  onchoose={choose}
  {onclose}
  {...onrole ? { onnew: newRole } : {}}
  newLabel={`New role founded on ${founded.name}:`}
/>
