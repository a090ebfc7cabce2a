import { describe, expect, it } from 'vitest';
import { incomingBlock } from './incoming-blocks';

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
});
