// What the desk stores, as the editor holds it, and back. They differ in tables alone: the editor's table commands want the rows
// by themselves, and spans by the web's names; the stored form (docs/package.md) has rows behind the caption.
import type { Node } from 'prosemirror-model';
import type { JsonNode } from '../../live/merge';
import { schema } from './schema';

type Turn = (node: JsonNode) => JsonNode;

/** Turns each table, and leaves all else as it is. */
function eachTable(node: JsonNode, turn: Turn): JsonNode {
  if (node.type === 'table') return turn(node);
  if (!node.content) return node;
  return { ...node, content: node.content.map((child) => eachTable(child, turn)) };
}

const cells = (row: JsonNode, turn: Turn): JsonNode => (row.content ? { ...row, content: row.content.map(turn) } : row);

const edited: Turn = (table) => {
  const [caption, ...rows] = table.content ?? [];
  const cell: Turn = ({ attrs, ...rest }) => {
    const { columns = 1, rows = 1, ...other } = attrs ?? {};
    return { ...rest, attrs: { ...other, colspan: columns, rowspan: rows } };
  };
  return { ...table, content: [...(caption ? [caption] : []), { type: 'grid', content: rows.map((row) => cells(row, cell)) }] };
};

const stored: Turn = (table) => {
  const [caption, grid] = table.content ?? [];
  const cell: Turn = ({ attrs, ...rest }) => {
    const { colspan = 1, rowspan = 1, id, alignment } = attrs ?? {};
    const spans = { ...(colspan !== 1 ? { columns: colspan } : {}), ...(rowspan !== 1 ? { rows: rowspan } : {}) };
    return { ...rest, attrs: { id, ...spans, ...(alignment ? { alignment } : {}) } };
  };
  return { ...table, content: [...(caption ? [caption] : []), ...(grid?.content ?? []).map((row) => cells(row, cell))] };
};

/** A stored block as the editor holds it.
 * @throws RangeError when it is none of the content model's */
export const nodeOf = (json: JsonNode): Node => schema.nodeFromJSON(eachTable(json, edited));

/** A block of the editor as the desk stores it. */
export const jsonOf = (node: Node): JsonNode => eachTable(node.toJSON() as JsonNode, stored);

export const nodeOfBody = (body: string): Node => nodeOf(JSON.parse(body) as JsonNode);
export const bodyOf = (node: Node): string => JSON.stringify(jsonOf(node));
