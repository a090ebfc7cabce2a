import { EditorState } from 'prosemirror-state';
import { describe, expect, it } from 'vitest';
import { fixed } from './fixed';
import { foundationAt, ownRole } from './roles';
import { schema } from './schema';

const p = (id: string, words: string, more: Record<string, unknown> = {}) =>
  schema.nodes.paragraph!.create({ id, ...more }, schema.text(words));

describe('fixed text', () => {
  const told: string[] = [];
  const state = EditorState.create({
    doc: schema.nodes.doc!.create(null, [p('a', 'Fixed.', { fixedBy: 'Code' }), p('b', 'Mine.')]),
    plugins: [fixed((w) => told.push(w))],
  });

  it('is not changed, and says where it comes from', () => {
    expect(state.applyTransaction(state.tr.insertText('x', 2)).state.doc.firstChild!.textContent).toBe('Fixed.');
    expect(told).toEqual(['This text is fixed by the pattern “Code”; it changes only there.']);
    expect(state.applyTransaction(state.tr.delete(0, state.doc.firstChild!.nodeSize)).state.doc.childCount).toBe(2);
  });
  it('leaves the writer’s own text alone, and what the server sends', () => {
    const own = state.doc.firstChild!.nodeSize + 1;
    expect(state.applyTransaction(state.tr.insertText('x', own)).state.doc.lastChild!.textContent).toBe('xMine.');
    expect(state.applyTransaction(state.tr.insertText('x', 2).setMeta('remote', true)).state.doc.firstChild!.textContent).toBe('Fxixed.');
  });
});

describe('a role of the manual’s own', () => {
  it('is founded on the block with the caret and is the block’s', () => {
    let state = EditorState.create({ doc: schema.nodes.doc!.create(null, [p('a', 'Text.', { role: 'lead' })]) });
    expect(foundationAt(state)).toEqual({ foundation: 'lead', name: 'lead' });
    ownRole({ name: 'Pilot', foundation: 'lead' }).command(state, (tr) => (state = state.apply(tr)));
    expect(state.doc.firstChild!.attrs).toMatchObject({ id: 'a', role: 'lead', ownRole: 'Pilot' });
  });
});
