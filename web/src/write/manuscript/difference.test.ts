import { describe, expect, it } from 'vitest';
import { wordDifference, wordsOf } from './difference';

const text = (words: string) => ({ type: 'text', text: words });

describe('the difference of two texts', () => {
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
  it('does not compare what would take for ever', () =>
    expect(wordDifference('a '.repeat(3000), 'b '.repeat(3000)).map((s) => s.kind)).toEqual(['gone', 'new']));
});
