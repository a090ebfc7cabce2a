import { expect, test } from 'vitest';
import { isRight } from './compounds';

const dictionary = new Set(['winde', 'Winde', 'Trommel', 'Bremse', 'band', 'vinsch', 'trumma', 'ferry', 'sheave', 'owner']);
const known = (word: string) => dictionary.has(word);

test.each([
  ['Windentrommel', 'de', true],
  ['Windentrommelbremse', 'de', true],
  ['Windxtrommel', 'de', false],
  ['vinschtrumma', 'sv', true],
  ['ferrysheave', 'en-GB', false],
  ['Ferry', 'en-GB', true],
  ['owner’s', 'en-GB', true],
  ['T6-0318', 'en-GB', true],
  ['LoRaWAN', 'en-GB', true],
  ['HBM', 'en-GB', true],
  ['sheeve', 'en-GB', false],
])('%s in %s: %s', (word, language, right) => expect(isRight(word, language, known)).toBe(right));

test('a word of any length is judged at once', () => {
  const started = performance.now();
  isRight('winde'.repeat(2000) + 'x', 'de', known);
  expect(performance.now() - started).toBeLessThan(2000);
});
