// What is put in as a block of its own, by its name: made empty, ready to be typed into.
import type { Node } from 'prosemirror-model';
import { newId } from '../../shared/api';
import { schema } from './schema';

const n = schema.nodes;
const own = (attrs: Record<string, unknown> = {}) => ({ id: newId(), ...attrs });
const paragraph = () => n.paragraph!.create(own());
const titled = (type: string, attrs = {}) => n[type]!.create(own(attrs), [n.caption!.create(), paragraph()]);

/** One term with the place for what it means. */
export const newDefinition = () => n.definition!.create(own(), [n.definedTerm!.create(), paragraph()]);

export const newDocument = () => n.document!.create(own());

export const makings: { name: string; key: string; make: () => Node }[] = [
  { name: 'Listing', key: 'l', make: () => n.listing!.create(own(), [n.caption!.create(), n.lines!.create()]) },
  { name: 'Aside', key: 'b', make: () => titled('aside') },
  { name: 'Text that folds open', key: 'o', make: () => titled('aside', { folds: 'open' }) },
  { name: 'Example', key: 'e', make: () => titled('example') },
  { name: 'Terms and definitions', key: 'd', make: () => n.definitions!.create(own(), newDefinition()) },
  { name: 'Glossary', key: 'g', make: () => n.definitions!.create(own({ glossary: true }), newDefinition()) },
  { name: 'Reference list', key: 'r', make: () => n.references!.create(own(), newDocument()) },
];
