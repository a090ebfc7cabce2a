import { expect, test } from 'vitest';
import { plural } from './plural';

test('a count with its word', () => {
  expect(plural(1, 'page')).toBe('1 page');
  expect(plural(0, 'page')).toBe('0 pages');
  expect(plural(2, 'appendix', 'appendices')).toBe('2 appendices');
});
