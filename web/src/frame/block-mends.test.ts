import { describe, expect, it } from 'vitest';
import type { LooseEnd } from '../shared/api';
import { allowBreak, setting, type Body } from './block-mends';

const end = (words: string, block = 'p'): LooseEnd => ({
  kind: 'OverfullLine',
  division: 'd',
  block,
  words,
  message: '',
  sheet: 0,
  aside: null,
});
const paragraph = (...content: Body[]): Body => ({ type: 'paragraph', attrs: { id: 'p' }, content });
const texts = (body: Body) => body.content!.map((c) => c.text);

describe('a break allowed in a line too long', () => {
  it('is put behind the signs of the long word, and nowhere else', () => {
    const body = paragraph({ type: 'text', text: 'In a/b see /opt/kivren/brakeBand_v2.json again, c/d.' });
    expect(allowBreak(body, end('/opt/kivren/brake'))).toBe(true);
    expect(texts(body)).toEqual(['In a/b see /opt/\u200bkivren/\u200bbrake\u200bBand_\u200bv2.\u200bjson again, c/d.']);
    expect(allowBreak(body, end('/opt/kivren/brake'))).toBe(false);
  });
  it('takes away what keeps words on one line, and no other role', () => {
    const body = paragraph(
      { type: 'text', text: 'The ' },
      { type: 'text', text: 'long words', marks: [{ type: 'strong' }, { type: 'noBreak' }] },
      { type: 'text', text: ' and short', marks: [{ type: 'noBreak' }] },
    );
    expect(allowBreak(body, end('The long words'))).toBe(true);
    expect(body.content!.map((c) => c.marks?.map((m) => m.type))).toEqual([undefined, ['strong'], ['noBreak']]);
  });
  it('is found in a cell, across runs, and in words that a variable stands beside', () => {
    const body: Body = {
      type: 'table',
      content: [{ type: 'cell', content: [{ type: 'text', text: 'x-' }, { type: 'variable' }, { type: 'text', text: 'y-z' }] }],
    };
    expect(allowBreak(body, end('x-y'))).toBe(true);
    expect(texts(body.content![0]!)).toEqual(['x-\u200b', undefined, 'y-\u200bz']);
  });
  it('is nowhere in a word that no sign divides', () => {
    const body = paragraph({ type: 'text', text: 'wwwwwwwww' });
    expect(allowBreak(body, end('wwwww'))).toBe(false);
    expect(allowBreak(body, end('gone'))).toBe(false);
  });
});

describe('a setting of a block', () => {
  it('is set on the table that is meant, wherever it stands', () => {
    const body: Body = { type: 'example', attrs: { id: 'e' }, content: [{ type: 'table', attrs: { id: 't', headerRows: 1 } }] };
    expect(setting('table', { mayTurn: true })(body, end('', 't'))).toBe(true);
    expect(body.content![0]!.attrs).toEqual({ id: 't', headerRows: 1, mayTurn: true });
    expect(setting('figure', { alternative: 'a winch' })(body, end('', 't'))).toBe(false);
  });
});
