import { describe, expect, it } from 'vitest';
import { opened } from './parcel';

describe('a look with its font files', () => {
  it('has them kept under their names, and goes on without them', async () => {
    const kept: File[] = [];
    const look = {
      name: 'x',
      faces: [{ name: 'House', regular: { hash: 'ab', called: 'House.ttf' }, standIns: ['sans'] }],
      faceFiles: { ab: btoa('font') },
    };
    const text = await opened(JSON.stringify(look), (font) => Promise.resolve(kept.push(font)));
    expect(JSON.parse(text)).toEqual({ name: 'x', faces: look.faces });
    expect(kept.map((f) => f.name)).toEqual(['House.ttf']);
    expect(kept[0]!.size).toBe(4);
  });
  it('is left as it is where it has none, or is no look', async () => {
    const never = () => Promise.reject(new Error('nothing is kept'));
    expect(await opened('{"name":"x"}', never)).toBe('{"name":"x"}');
    expect(await opened('no look', never)).toBe('no look');
    expect(await opened('null', never)).toBe('null');
  });
});
