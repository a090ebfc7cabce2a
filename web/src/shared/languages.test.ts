import { readdirSync } from 'node:fs';
import { expect, test } from 'vitest';
import { languageChoices, languageName, tags } from './languages';

test('every language with printed words of its own can be chosen', () => {
  const worded = readdirSync('../src/Kivren.Core/Content/Languages').map((f) => f.replace('.txt', ''));
  const reached = tags.map((t) => t.toLowerCase());
  for (const own of worded) expect(reached.some((t) => t === own || t.startsWith(own + '-'))).toBe(true);
});

test('a language is named for a reader, and one that is not listed is kept', () => {
  expect(languageName('sv')).toBe('Swedish (sv)');
  expect(languageName('not a tag')).toBe('not a tag');
  expect(languageChoices('mi').find((c) => c.note)?.tag).toBe('mi');
  expect(languageChoices('sv').filter((c) => c.note)).toHaveLength(1);
});
