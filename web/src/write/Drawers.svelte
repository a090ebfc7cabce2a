<script lang="ts" module>
  export type OpenDrawer = 'loose ends' | 'find' | 'kept' | 'pictures' | 'spelling' | 'notes' | 'history';

  export const drawerKeys: Record<string, OpenDrawer> = {
    F3: 'pictures',
    F4: 'kept',
    F7: 'history',
    F9: 'notes',
    F10: 'spelling',
  };
</script>

<script lang="ts">
  // What opens over the foot of Write, one at a time.
  import LooseEnds from '../frame/LooseEnds.svelte';
  import KeptDrawer from '../kept/KeptDrawer.svelte';
  import type { KeptOnce } from '../kept/kept-once.svelte';
  import type { LiveProof } from '../live/live-proof.svelte';
  import type Manuscript from './manuscript/Manuscript.svelte';
  import type { OwnRole, Reworked } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import Find from './panels/Find.svelte';
  import History from './panels/History.svelte';
  import Notes from './panels/Notes.svelte';
  import PicturesDrawer from './panels/PicturesDrawer.svelte';
  import SpellingDrawer from './spelling/SpellingDrawer.svelte';

  interface Props {
    open: OpenDrawer | null;
    manualId: string;
    proof: LiveProof;
    kept: KeptOnce;
    manuscript: ReturnType<typeof Manuscript> | undefined;
    division: string | null;
    /** The division's own block with the caret. */
    block: string;
    /** Looked for at first. */
    sought: string;
    /** Roles of the manual's own. */
    roles: OwnRole[];
    ongo: (division: string, block: string | null) => void;
    /** What is typed is stored before something is done to the text. */
    onbefore: () => Promise<void>;
    /** The text was changed from here, by this act where it is known: it is read again. */
    onchanged: (act: number | null) => void;
    ontakeback: () => void;
  }
  let {
    open = $bindable(),
    manualId,
    proof,
    kept,
    manuscript,
    division,
    block,
    sought,
    roles,
    ongo,
    onbefore,
    onchanged,
    ontakeback,
  }: Props = $props();

  async function mend(order: () => Promise<Reworked>): Promise<boolean> {
    try {
      await onbefore();
      const done = await order();
      if (done.refused) throw new Error(done.refused);
      onchanged(done.act);
      notices.tell(`${done.words}.`, ontakeback);
      return true;
    } catch (e) {
      notices.problem(e);
      return false;
    }
  }

  function close() {
    open = null;
    manuscript?.focus();
  }
</script>

{#if open === 'loose ends'}
  <LooseEnds {manualId} {proof} act={mend} ongo={(l) => ongo(l.division, l.block === l.division ? null : l.block)} onclose={close} />
{:else if open === 'find'}
  <Find
    {manualId}
    divisions={proof.divisions}
    {division}
    words={sought}
    {ongo}
    {onbefore}
    onreplaced={onchanged}
    {ontakeback}
    onvariables={() => (open = 'kept')}
    {roles}
    onclose={close}
  />
{:else if open === 'kept'}
  <KeptDrawer {kept} {ongo} onclose={close} />
{:else if open === 'pictures'}
  <PicturesDrawer {manualId} {kept} {ongo} onreplaced={() => onchanged(null)} onclose={close} />
{:else if open === 'spelling' && manuscript}
  <SpellingDrawer
    check={manuscript.spellCheck()}
    accepted={kept.now.acceptedWords}
    ongo={(word) => manuscript?.goToWord(word)}
    onreplace={(word, by) => manuscript?.replaceWord(word, by)}
    onaccept={(word, right) => void kept.act({ do: right ? 'acceptWord' : 'refuseWord', name: word })}
    onclose={close}
  />
{:else if open === 'notes'}
  <Notes {manualId} divisions={proof.divisions} number={proof.number} {ongo} onclose={close} />
{:else if open === 'history' && division}
  <History
    {manualId}
    divisions={proof.divisions}
    {division}
    {block}
    {ongo}
    {onbefore}
    onrestored={onchanged}
    {ontakeback}
    onclose={close}
  />
{/if}
