// What comes into the text that this writer did not type: other writers' changes, merged answers, words of an earlier visit.
import type { Node } from 'prosemirror-model';
import type { Transaction } from 'prosemirror-state';
import type { EditorView } from 'prosemirror-view';
import type { DeskClient } from '../../live/desk-client.svelte';
import type { ChangedElsewhere } from '../../live/live-proof.svelte';
import { merge, type JsonNode } from '../../live/merge';
import type { Unsent } from '../../live/unsent';
import { becoming, findBlock } from './blocks';
import { repair } from './identities';
import { jsonOf, nodeOf, nodeOfBody } from './stored';

/** The manuscript that it comes into. */
export interface Receiving {
  view: () => EditorView | null;
  client: () => DeskClient | undefined;
  /** The id of the division. */
  division: string;
  /** Takes the caret from where the browser has it. */
  readCaret: () => void;
  /** Reads the caret, and gives what was typed to the desk client. */
  settle: () => void;
}

const sameAs = (node: Node, body: string) => node.eq(nodeOfBody(body));

export class Arriving {
  constructor(private own: Receiving) {}

  private get view() {
    return this.own.view();
  }
  private get client() {
    return this.own.client();
  }
  private get division() {
    return this.own.division;
  }
  private find(id: string) {
    return findBlock(id, this.view?.state.doc);
  }

  /** Words that an earlier visit left unsent come back into the text, merged with what was written since; where that cannot
   * be, they stand beside the block. They go up like what is typed now. */
  bringBack(unsent: Unsent) {
    const { view, client } = this;
    if (!view || !client) return;
    let tr = view.state.tr;
    for (const { change, base } of unsent.draft) {
      const at = findBlock(change.id, tr.doc);
      if (change.deleted) {
        if (at && base && sameAs(at.node, base)) tr = tr.delete(at.pos, at.pos + at.node.nodeSize);
        continue;
      }
      if (!change.body) continue;
      const mine = JSON.parse(change.body) as JsonNode;
      if (!at) {
        // Taken out since, or never stored: the words stand where they stood.
        const before = change.after ? findBlock(change.after, tr.doc) : null;
        const place = before ? before.pos + before.node.nodeSize : change.after === '' ? 0 : tr.doc.content.size;
        if (base === null || !sameAs(nodeOf(mine), base)) tr = tr.insert(place, nodeOf(mine));
        continue;
      }
      const theirs = jsonOf(at.node);
      const merged = base ? merge(JSON.parse(base) as JsonNode, mine, theirs, { both: false }) : mine;
      if (merged) tr = becoming(tr, at.pos, at.node, nodeOf(merged));
      else
        client.setAside({
          id: change.id,
          why: 'Left from an earlier visit; the block was changed since.',
          theirs: JSON.stringify(theirs),
          version: client.versionOf(change.id),
          conflict: true,
        });
    }
    if (tr.docChanged) {
      const repaired = repair(tr, tr.doc) ?? tr;
      view.dispatch(repaired.setMeta('addToHistory', false));
      this.own.settle();
    }
  }

  /** A change that is not the writer's own. */
  quietly(change: (tr: Transaction) => Transaction) {
    const view = this.view;
    if (!view) return;
    this.own.readCaret();
    view.dispatch(change(view.state.tr).setMeta('remote', true).setMeta('addToHistory', false));
  }

  replaceBlock(id: string, node: Node | null) {
    this.quietly((tr) => {
      const at = this.find(id);
      if (!at) return tr;
      return node ? becoming(tr, at.pos, at.node, node) : tr.delete(at.pos, at.pos + at.node.nodeSize);
    });
  }

  /** The server merged what was sent with another writer's words: they come in under what was typed since. */
  merged(id: string, sent: JsonNode, body: string): boolean {
    return this.takeUnder(id, sent, JSON.parse(body) as JsonNode, this.client?.versionOf(id) ?? 0);
  }

  /** Takes a block as the server holds it, and keeps what this writer made of it since. Where both made another kind of block of it
   * nothing is taken: what is here stays based on what it was, and the server tells both when it goes up. */
  takeUnder(id: string, base: JsonNode, theirs: JsonNode, version: number): boolean {
    this.own.settle();
    const at = this.find(id);
    const both = at && merge(base, jsonOf(at.node), theirs, { both: false });
    if (at && !both) return false;
    this.client?.took(id, version, nodeOf(theirs));
    if (both) this.replaceBlock(id, nodeOf(both));
    return true;
  }

  /** Changes of blocks that were under way when they were told: looked at again when the answer is here. */
  private missed: ChangedElsewhere['blocks'] = [];
  answered() {
    const told = this.missed;
    this.missed = [];
    if (told.length > 0) this.changedElsewhere({ writer: '', blocks: told, divisions: false });
  }

  /** Another writer's changes come in as small steps that this writer's undo does not touch. */
  changedElsewhere(change: ChangedElsewhere) {
    const { view, client } = this;
    if (!view || !client) return;
    this.own.settle();
    for (const b of change.blocks) {
      const here = this.find(b.id);
      if (b.division !== this.division && !here) continue;
      // What is under way is merged by the server, whose answer says so.
      if (client.underWay(b.id)) {
        this.missed = [...this.missed.filter((m) => m.id !== b.id), b];
        continue;
      }
      if (client.unstored.has(b.id)) continue;
      // A notice that comes after the answer which says more is old.
      if (b.body !== null && b.version <= client.versionOf(b.id)) continue;
      if (client.dirty(b.id)) {
        const base = client.sentOf(b.id);
        if (base && b.body !== null && b.division === this.division)
          this.takeUnder(b.id, jsonOf(base), JSON.parse(b.body) as JsonNode, b.version);
        continue;
      }
      if (b.body === null || b.division !== this.division) {
        if (!here) continue;
        client.took(b.id, 0, null);
        this.replaceBlock(b.id, null);
      } else if (here) {
        if (view.state.doc.resolve(here.pos).depth === 0) {
          const node = nodeOfBody(b.body);
          client.took(b.id, b.version, node);
          this.replaceBlock(b.id, node);
        }
      } else {
        const node = nodeOfBody(b.body);
        client.insertedElsewhere(b.id, b.version, node, b.after ?? '');
        this.quietly((tr) => {
          const before = b.after ? this.find(b.after) : null;
          return tr.insert(before ? before.pos + before.node.nodeSize : 0, node);
        });
      }
    }
  }
}
