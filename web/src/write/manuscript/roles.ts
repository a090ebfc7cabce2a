// What a block or a run of characters can be, with the keys of the "what this is" chord.
import { lift, setBlockType, toggleMark, wrapIn } from 'prosemirror-commands';
import { liftListItem, wrapInList } from 'prosemirror-schema-list';
import type { Command, EditorState } from 'prosemirror-state';
import { newId, type OwnRole } from '../../shared/api';
import { wrappedOr } from './put';
import { schema } from './schema';

export interface Role {
  name: string;
  key?: string;
  command: Command;
}

const n = schema.nodes;

/** Lifts the block out of what it stands in, then makes it a plain text block of this type. */
function plain(type: string, attrs: Record<string, unknown>): Command {
  return (state, dispatch, view) => {
    const set = setBlockType(n[type]!, { ...attrs, id: state.selection.$from.parent.attrs.id, appliesTo: null });
    if (state.selection.$from.depth === 1 || ['paragraph', 'head'].includes(type) === false) return set(state, dispatch, view);
    if (!dispatch) return true;
    let current = state;
    const apply = (tr: Parameters<NonNullable<typeof dispatch>>[0]) => {
      dispatch(tr);
      current = view ? view.state : current.apply(tr);
    };
    for (let i = 0; i < 8 && current.selection.$from.depth > 1; i++) {
      const item = current.selection.$from.node(-1).type;
      const out = item === n.item || item === n.step ? liftListItem(item) : lift;
      if (!out(current, apply, view)) break;
    }
    return set(current, dispatch, view);
  };
}

const admonition = (kind: string): Command => {
  return (state, dispatch, view) => {
    const $from = state.selection.$from;
    for (let d = $from.depth; d > 0; d--)
      if ($from.node(d).type === n.admonition) {
        dispatch?.(state.tr.setNodeAttribute($from.before(d), 'kind', kind));
        return true;
      }
    return wrappedOr(wrapIn(n.admonition!, { kind }), () =>
      n.admonition!.create({ id: newId(), kind }, n.paragraph!.create({ id: newId() })),
    )(state, dispatch, view);
  };
};

export const blockRoles: Role[] = [
  { name: 'Body', key: '0', command: plain('paragraph', { role: 'body' }) },
  { name: 'A head', key: '1', command: plain('head', { level: 'A' }) },
  { name: 'B head', key: '2', command: plain('head', { level: 'B' }) },
  { name: 'C head', key: '3', command: plain('head', { level: 'C' }) },
  { name: 'D head', key: '4', command: plain('head', { level: 'D' }) },
  { name: 'Steps', key: 's', command: wrapInList(n.steps!) },
  { name: 'Dashed list', key: 'l', command: wrapInList(n.list!, { kind: 'unordered' }) },
  { name: 'Numbered list', key: 'n', command: wrapInList(n.list!, { kind: 'decimal' }) },
  { name: 'Danger', key: 'd', command: admonition('danger') },
  { name: 'Warning', key: 'w', command: admonition('warning') },
  { name: 'Caution', key: 'c', command: admonition('caution') },
  { name: 'Notice', key: 'i', command: admonition('notice') },
  { name: 'Note', command: admonition('note') },
  { name: 'Tip', command: admonition('tip') },
  { name: 'Lead', command: plain('paragraph', { role: 'lead' }) },
  { name: 'Quotation', key: 'q', command: plain('paragraph', { role: 'quotation' }) },
  { name: 'Title', command: plain('paragraph', { role: 'title' }) },
  { name: 'Subtitle', command: plain('paragraph', { role: 'subtitle' }) },
  { name: 'Imprint', command: plain('paragraph', { role: 'imprint' }) },
];

const span = (name: string, mark: string, key?: string) => ({
  name,
  mark,
  ...(key ? { key } : {}),
  command: toggleMark(schema.marks[mark]!),
});

export const spanRoles: (Role & { mark: string })[] = [
  span('Emphasis', 'emphasis', 'e'),
  span('Strong', 'strong', 'b'),
  span('Control', 'control', 'o'),
  span('Code', 'code', 'k'),
  span('Term', 'term', 't'),
  span('Key', 'key', 'y'),
  span('Part number', 'partNumber'),
  span('Product', 'product'),
  span('Foreign', 'foreign'),
  span('Low', 'sub'),
  span('High', 'sup'),
  span('Small capitals', 'smallCaps'),
  span('Kept on one line', 'noBreak'),
];

/** A role of the manual's own: what it is founded on, with its name. */
export function ownRole(role: OwnRole): Role {
  const name = role.name;
  const mark = schema.marks[role.foundation];
  if (mark)
    return {
      name,
      command: (state, dispatch) => {
        const { from, to, empty } = state.selection;
        if (empty) return false;
        dispatch?.(state.tr.addMark(from, to, mark.create()).addMark(from, to, schema.marks.ownRole!.create({ name })));
        return true;
      },
    };
  const [kind, of] = role.foundation.split(':');
  if (kind === 'admonition') return { name, command: wrapIn(n.admonition!, { kind: of, ownRole: name }) };
  if (kind === 'steps') return { name, command: wrapInList(n.steps!, { ownRole: name }) };
  if (kind === 'list') return { name, command: wrapInList(n.list!, { kind: of ?? 'unordered', ownRole: name }) };
  if (kind === 'head') return { name, command: plain('head', { level: of ?? 'A', ownRole: name }) };
  return { name, command: plain('paragraph', { role: role.foundation, ownRole: name }) };
}

/** What a new role would be founded on: the role of the selected words, or of the block with the caret. */
export function foundationAt(state: EditorState): { foundation: string; name: string } {
  const { $from, empty } = state.selection;
  if (!empty && $from.sameParent(state.selection.$to)) {
    const mark = $from.nodeAfter?.marks.find((m) => !['web', 'applies', 'ownRole'].includes(m.type.name));
    const foundation = mark?.type.name ?? 'emphasis';
    return { foundation, name: foundation };
  }
  for (let d = $from.depth; d > 0; d--) {
    const node = $from.node(d);
    if (node.type === n.admonition) return { foundation: `admonition:${node.attrs.kind}`, name: String(node.attrs.kind) };
    if (node.type === n.steps) return { foundation: 'steps', name: 'steps' };
    if (node.type === n.list) return { foundation: `list:${node.attrs.kind}`, name: 'list' };
    if (node.type === n.head) return { foundation: `head:${node.attrs.level}`, name: `${node.attrs.level} head` };
  }
  const role = String($from.parent.attrs.role ?? 'body');
  return { foundation: role, name: role };
}

/** What the block with the caret is called. */
export function roleAt(state: EditorState): string {
  const $from = state.selection.$from;
  for (let d = $from.depth; d > 0; d--) {
    const node = $from.node(d);
    if (node.attrs.ownRole) return String(node.attrs.ownRole);
    switch (node.type.name) {
      case 'head':
        return `${node.attrs.level} head`;
      case 'step':
        return 'Step';
      case 'item':
        return 'List item';
      case 'admonition':
        return String(node.attrs.kind)[0]!.toUpperCase() + String(node.attrs.kind).slice(1);
      case 'cell':
        return 'Cell';
      case 'figure':
        return 'Caption';
      case 'figureArea':
        return 'Area';
      case 'footnote':
        return 'Footnote';
      case 'lines':
        return 'Listing';
      case 'caption':
        return $from.node(d - 1).type.name === 'aside' || $from.node(d - 1).type.name === 'example' ? 'Title' : 'Caption';
      case 'definedTerm':
        return 'Term';
      case 'definition':
        return 'Definition';
      case 'document':
        return 'Document';
      case 'aside':
        return 'Aside';
      case 'example':
        return 'Example';
    }
    if (node.type.name === 'paragraph' && d === 1) return String(node.attrs.role)[0]!.toUpperCase() + String(node.attrs.role).slice(1);
  }
  return 'Body';
}
