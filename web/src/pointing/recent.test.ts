import { beforeEach, describe, expect, it } from 'vitest';
import { pointedAt, recentTargets } from './recent';

describe('targets chosen lately', () => {
  beforeEach(() => localStorage.clear());
  it('come with the latest first, each once, and no more than eight', () => {
    for (const t of ['a', 'b', 'c', 'a', 'd', 'e', 'f', 'g', 'h', 'i']) pointedAt('m', t);
    expect(recentTargets('m')).toEqual(['i', 'h', 'g', 'f', 'e', 'd', 'a', 'c']);
    expect(recentTargets('other')).toEqual([]);
  });
  it('are none where the browser kept something else', () => {
    localStorage.setItem('kivren.pointed.m', '{"a":1}');
    expect(recentTargets('m')).toEqual([]);
    localStorage.setItem('kivren.pointed.m', 'no');
    expect(recentTargets('m')).toEqual([]);
  });
});
