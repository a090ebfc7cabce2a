// The languages whose printed words Kivren knows, as a writer chooses among them.

/** Tags, as BCP 47 has them. */
export const tags = [
  'ar',
  'ca',
  'cs',
  'da',
  'de',
  'el',
  'en-GB',
  'en-US',
  'es',
  'fi',
  'fr',
  'he',
  'hi',
  'hu',
  'it',
  'ja',
  'ko',
  'nb',
  'nl',
  'pl',
  'pt',
  'ru',
  'sv',
  'th',
  'tr',
  'uk',
  'zh-Hans',
  'zh-Hant',
];

const names = new Intl.DisplayNames(['en-GB'], { type: 'language' });

/** “Swedish (sv)”; a tag that is none stands as it is. */
export function languageName(tag: string): string {
  try {
    return `${names.of(tag) ?? tag} (${tag})`;
  } catch {
    return tag;
  }
}

/** All of them, and the one that is chosen where it is another; by their names. */
export function languageChoices(chosen: string): { name: string; note: string; tag: string }[] {
  const all = tags.includes(chosen) || !chosen ? tags : [...tags, chosen];
  return all
    .map((tag) => ({ name: languageName(tag), note: tag === chosen ? '✓' : '', tag }))
    .sort((a, b) => a.name.localeCompare(b.name, 'en'));
}
