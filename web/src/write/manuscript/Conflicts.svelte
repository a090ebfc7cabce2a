<script lang="ts">
  // Words that the server did not take, each in a card under its block, and what the writer makes of them.
  import type { EditorView } from 'prosemirror-view';
  import { untrack } from 'svelte';
  import { newId } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import type { DeskClient } from '../../live/desk-client.svelte';
  import type { Arriving } from './arriving';
  import { findBlock } from './blocks';
  import Conflict from './Conflict.svelte';
  import { repair } from './identities';
  import { roomKey } from './room';
  import { nodeOfBody } from './stored';

  interface Props {
    client: DeskClient;
    editor: () => EditorView | null;
    sheet: HTMLElement;
    arriving: Arriving;
  }
  let { client, editor, sheet, arriving }: Props = $props();

  const find = (id: string) => findBlock(id, editor()?.state.doc);

  function keepMine(id: string) {
    client.keepMine(id);
  }
  function takeTheirs(id: string) {
    const theirs = client.unstored.get(id)?.theirs;
    const node = theirs ? nodeOfBody(theirs) : null;
    arriving.replaceBlock(id, node);
    client.tookTheirs(id, node);
  }
  function both(id: string) {
    const unstored = client.unstored.get(id);
    const at = find(id);
    if (!unstored?.theirs || !at) return keepMine(id);
    // Theirs keeps its identity; mine stands after it as a block of its own.
    const theirs = nodeOfBody(unstored.theirs);
    const mine = at.node.type.create({ ...at.node.attrs, id: newId() }, at.node.content, at.node.marks);
    arriving.quietly((tr) => {
      tr.replaceWith(at.pos, at.pos + at.node.nodeSize, [theirs, mine]);
      return repair(tr, tr.doc) ?? tr;
    });
    client.tookTheirs(id, theirs);
  }
  async function copy(id: string) {
    try {
      await navigator.clipboard.writeText(mineOf(id));
      notices.tell('The words are copied.');
    } catch (e) {
      notices.problem(e);
    }
  }
  const textOf = (body: string | null) => (body ? nodeOfBody(body).textContent : null);
  function topOf(id: string): number {
    const at = find(id);
    const dom = at && editor()?.nodeDOM(at.pos);
    const box = sheet.getBoundingClientRect();
    return dom instanceof HTMLElement ? dom.getBoundingClientRect().bottom - box.top + 4 : 60;
  }
  /** How tall the cards of unstored blocks are: the text makes room under each. */
  let cards = $state<Record<string, number>>({});
  $effect(() => {
    const room = [...client.unstored.keys()].map((id): [string, number] => [id, (cards[id] ?? 0) + 16]);
    untrack(() => arriving.quietly((tr) => tr.setMeta(roomKey, room)));
  });
  const mineOf = (id: string) => find(id)?.node.textContent ?? '';
</script>

{#each [...client.unstored.values()] as c (c.id)}
  <Conflict
    bind:height={() => cards[c.id] ?? 0, (h) => (cards[c.id] = h)}
    top={topOf(c.id)}
    why={c.why}
    mine={mineOf(c.id)}
    theirs={textOf(c.theirs)}
    conflict={c.conflict}
    onmine={() => keepMine(c.id)}
    oncopy={() => void copy(c.id)}
    ontheirs={() => takeTheirs(c.id)}
    onboth={() => both(c.id)}
  />
{/each}
