// Words that a dictionary need not name: numbers, names of parts, and words put together in languages that do so.

/** Letters that may stand between two words put together. */
const links: Record<string, string[]> = {
  de: ['', 's', 'n', 'en', 'es', 'er', 'e'],
  sv: ['', 's'],
  nl: ['', 's', 'en', 'e'],
};

const shortest = 3;

/** Whether a word is spelt right: as it stands, in small letters, or put together of such. */
export function isRight(word: string, language: string, known: (word: string) => boolean): boolean {
  const plain = word.replaceAll('’', "'").replaceAll('\u00ad', '');
  // What holds a figure, a capital in its middle, or nothing but capitals names something.
  if (/\d/.test(plain) || /\p{Ll}\p{Lu}/u.test(plain) || (/^\p{Lu}+$/u.test(plain) && plain.length > 1)) return true;
  if (known(plain) || known(plain.toLowerCase())) return true;
  if (plain.endsWith("'s") && known(plain.slice(0, -2))) return true;
  const between = links[language.split('-')[0]!];
  return between !== undefined && isPutTogether(plain.toLowerCase(), between, known, 3);
}

function isPutTogether(word: string, between: string[], known: (word: string) => boolean, parts: number): boolean {
  const isWord = (part: string) => known(part) || known(part[0]!.toUpperCase() + part.slice(1));
  if (isWord(word)) return true;
  if (parts === 1) return false;
  for (let at = shortest; at <= word.length - shortest; at++)
    for (const link of between) {
      if (!word.slice(0, at).endsWith(link) || at - link.length < shortest) continue;
      if (isWord(word.slice(0, at - link.length)) && isPutTogether(word.slice(at), between, known, parts - 1)) return true;
    }
  return false;
}
