<script lang="ts">
  // Who changed what, when, and what it said before; any of it brought back.
  import { writer } from '../../live/tab';
  import { api, type HistoryEntry, type HistoryScope, type ProofDivision } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import Drawer from '../../ui/Drawer.svelte';
  import { focusFirst } from '../../ui/focus';
  import Difference from '../manuscript/Difference.svelte';

  interface Props {
    manualId: string;
    divisions: ProofDivision[];
    division: string;
    /** The division's own block with the caret. */
    block: string;
    ongo: (division: string, block: string) => void;
    /** What is typed is stored before anything is brought back. */
    onbefore: () => Promise<void>;
    onrestored: (act: number) => void;
    ontakeback: () => void;
    onclose: () => void;
  }
  let { manualId, divisions, division, block, ongo, onbefore, onrestored, ontakeback, onclose }: Props = $props();

  type Of = 'block' | 'division' | 'manual';
  let of = $state<Of>('division');
  let entries = $state.raw<HistoryEntry[] | null>(null);
  let more = $state(true);
  let busy = $state(false);

  const scope = $derived<HistoryScope>(of === 'block' ? { block } : of === 'division' ? { division } : {});
  const titleOf = (id: string) => divisions.find((d) => d.id === id)?.title ?? '';
  const scopes: { of: Of; name: string }[] = [
    { of: 'block', name: 'This block' },
    { of: 'division', name: 'This division' },
    { of: 'manual', name: 'The manual' },
  ];

  async function read(asked: HistoryScope, before?: number) {
    try {
      await onbefore().catch(() => undefined);
      const found = await api.history(manualId, asked, before);
      if (asked !== scope) return;
      entries = before ? [...(entries ?? []), ...found] : found;
      more = found.length > 0;
    } catch (e) {
      notices.problem(e);
    }
  }

  $effect(() => {
    const asked = scope;
    entries = null;
    void read(asked);
  });

  function at(entry: HistoryEntry) {
    const [from, to] = [new Date(entry.from), new Date(entry.to)];
    const today = to.toDateString() === new Date().toDateString();
    const day = today ? 'Today' : to.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });
    const time = (d: Date) => d.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
    return `${day}, ${time(from) === time(to) ? time(to) : `${time(from)} to ${time(to)}`}`;
  }

  async function restore(before: number, what: HistoryScope) {
    busy = true;
    try {
      await onbefore();
      const done = await api.restore(manualId, writer, before, what);
      if (done.refused) notices.problem(new Error(done.refused));
      else {
        notices.tell(`${done.words}.`, ontakeback);
        onrestored(done.act);
        await read(scope);
      }
    } catch (e) {
      notices.problem(e);
    } finally {
      busy = false;
    }
  }
</script>

<Drawer label="History" {onclose}>
  {#snippet head()}
    <b>History of</b>
    <span role="group" aria-label="History of" class="of">
      {#each scopes as s (s.of)}
        <button
          aria-pressed={of === s.of}
          disabled={s.of === 'block' && !block}
          onclick={() => (of = s.of)}
          {@attach (button) => {
            if (s.of === 'division') focusFirst(button);
          }}>{s.name}</button
        >
      {/each}
    </span>
  {/snippet}
  <ol>
    {#each entries ?? [] as entry (entry.first)}
      <li class:back={entry.takenBack}>
        <div class="when">
          <b>{at(entry)}</b>
          <span>{entry.writer === writer ? 'you, here' : 'another writer, or another window'}</span>
          <span>{entry.label}{entry.takenBack ? ', taken back since' : ''}</span>
        </div>
        <div class="blocks">
          {#each entry.blocks as b (b.id)}
            <p>
              {#if of === 'manual'}<button class="where" onclick={() => ongo(b.division, b.id)}>{titleOf(b.division)}</button>{/if}
              <Difference before={b.before} after={b.after} />
              {#if of !== 'block' && entry.blocks.length + entry.more > 1}<button
                  class="one"
                  disabled={busy}
                  onclick={() => void restore(entry.first, { block: b.id })}>this block as before</button
                >{/if}
            </p>
          {/each}
          {#if entry.more > 0}<p class="soft">and {entry.more} more {entry.more === 1 ? 'block' : 'blocks'}</p>{/if}
        </div>
        <div class="acts">
          {#if entry.blocks.length === 1 && entry.more === 0}
            <button class="btn" disabled={busy} onclick={() => void restore(entry.first, { block: entry.blocks[0]!.id })}
              >Block as before</button
            >
          {/if}
          {#if of !== 'block'}
            <button class="btn" disabled={busy} onclick={() => void restore(entry.first, scope)}
              >{of === 'division' ? 'Division' : 'Manual'} as before</button
            >
          {/if}
        </div>
      </li>
    {:else}
      <li class="none">{entries === null ? 'Reading…' : 'Nothing was changed here since the manual came on the shelf.'}</li>
    {/each}
    {#if entries && entries.length > 0 && more}
      <li class="none"><button class="btn" onclick={() => void read(scope, entries!.at(-1)!.first)}>Earlier</button></li>
    {/if}
  </ol>
</Drawer>

<style>
  .of {
    display: flex;
    border: 1px solid var(--rule);
    border-radius: var(--r);
    overflow: hidden;
    background: var(--paper);
  }
  .of button {
    padding: 4px 10px;
    min-height: 26px;
    cursor: pointer;
  }
  .of button[aria-pressed='true'] {
    background: var(--bottle-tint);
    font-weight: 600;
  }
  .of button:disabled {
    opacity: 0.5;
  }
  li {
    display: grid;
    grid-template-columns: 190px minmax(0, 1fr) auto;
    gap: 16px;
    padding: 7px 0;
    border-top: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
    content-visibility: auto;
    contain-intrinsic-block-size: 60px;
  }
  .when span {
    display: block;
    color: var(--ink-soft);
  }
  .blocks p {
    font: 15px/1.45 var(--text);
    padding-bottom: 3px;
    max-height: 150px;
    overflow: auto;
  }
  .where,
  .one {
    font: 600 11.5px/1.5 var(--ui);
    color: var(--bottle);
    cursor: pointer;
    padding: 2px 4px;
  }
  .one {
    font-weight: 400;
    text-decoration: underline;
  }
  .soft,
  .none {
    color: var(--ink-soft);
  }
  .acts {
    display: flex;
    flex-direction: column;
    gap: 4px;
  }
  @media (max-width: 860px) {
    li {
      grid-template-columns: minmax(0, 1fr);
      gap: 4px;
    }
  }
</style>
