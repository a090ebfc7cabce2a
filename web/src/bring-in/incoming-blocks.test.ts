import { describe, expect, it } from 'vitest';
import { incomingBlock, wordDifference, wordsOf } from './incoming-blocks';

const paragraph = (...content: unknown[]) => JSON.stringify({ type: 'paragraph', attrs: { id: 'p' }, content });
const text = (words: string, ...marks: string[]) => ({ type: 'text', text: words, marks: marks.map((type) => ({ type })) });

describe('a block as it would come in', () => {
  it('shows its roles, notes and references without an editor', () => {
    const dom = incomingBlock(
      paragraph(
        text('Order '),
        text('LW-2207', 'partNumber'),
        { type: 'crossReference', attrs: { id: 'x', target: 't', form: 'page' } },
        { type: 'writerNote', attrs: { id: 'n', by: 'Ida', text: 'Eight?' } },
      ),
      (n) => n,
    );
    expect(dom.querySelector('.part-number')!.textContent).toBe('LW-2207');
    expect(dom.querySelector('.reference')).not.toBeNull();
    expect(dom.querySelector<HTMLElement>('.writer-note')!.title).toBe('Ida: Eight?');
  });
  it('asks for pictures where it is told to, and says when their words are missing', () => {
    const dom = incomingBlock(
      JSON.stringify({ type: 'figure', attrs: { id: 'f', asset: 'a b.png', alternative: '' } }),
      (n) => `/there/${n}`,
    );
    expect(dom.querySelector('img')!.getAttribute('src')).toBe('/there/a b.png');
    expect(dom.querySelector('.loose')!.textContent).toContain('no alternative text');
  });
  it('shows a division by its title', () => expect(incomingBlock('{"type":"title","text":"Oil"}', (n) => n).textContent).toBe('Oil'));
  it('has words of every part', () =>
    expect(
      wordsOf(
        JSON.stringify({
          type: 'steps',
          attrs: { id: 's' },
          content: ['One.', 'Two.'].map((t, i) => ({
            type: 'step',
            attrs: { id: 'i' + i },
            content: [{ type: 'paragraph', attrs: { id: 'q' + i }, content: [text(t)] }],
          })),
        }),
      ),
    ).toBe('One. · Two.'));
});

describe('the difference of two texts', () => {
  it('is told word by word, numbers whole', () =>
    expect(wordDifference('It holds 1.4 litres.', 'It now holds 1.6 litres.')).toEqual([
      { text: 'It ', kind: 'same' },
      { text: 'now ', kind: 'new' },
      { text: 'holds ', kind: 'same' },
      { text: '1.4', kind: 'gone' },
      { text: '1.6', kind: 'new' },
      { text: ' litres.', kind: 'same' },
    ]));
  it('joins to both texts again', () => {
    const [a, b] = ['Lock the drum with the pin, then turn it.', 'Turn the drum, then lock it: with both pins!'];
    const found = wordDifference(a, b);
    expect(
      found
        .filter((s) => s.kind !== 'new')
        .map((s) => s.text)
        .join(''),
    ).toBe(a);
    expect(
      found
        .filter((s) => s.kind !== 'gone')
        .map((s) => s.text)
        .join(''),
    ).toBe(b);
  });
});
