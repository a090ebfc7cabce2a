// Checks words against a dictionary, beside the text: the dictionary is large, and reading it takes a second.
import nspell from 'nspell';
import { isRight } from './compounds';
import type { Asked, Told } from './speller';

type Checker = ReturnType<typeof nspell>;
let reading: Promise<Checker> | null = null;

async function read(aff: string, dic: string): Promise<Checker> {
  const [affixes, words] = await Promise.all([aff, dic].map(async (address) => (await fetch(address)).text()));
  return nspell(affixes!, words!);
}

const lettersOf = (word: string) => [...word.toLowerCase()].sort().join('');

/** Those of the same letters first: two keys pressed in the wrong order are the commonest slip. */
const likeliest = (word: string, suggested: string[]) => {
  const same = (other: string) => (lettersOf(other) === lettersOf(word) ? 0 : 1);
  return suggested.toSorted((a, b) => same(a) - same(b)).slice(0, 6);
};

self.onmessage = async ({ data }: MessageEvent<Asked>) => {
  const tell = (told: Told) => self.postMessage(told);
  try {
    reading ??= read(data.aff, data.dic);
    const checker = await reading;
    if (data.suggest !== undefined) tell({ id: data.id, suggested: likeliest(data.suggest, checker.suggest(data.suggest)) });
    else tell({ id: data.id, wrong: data.words.filter((word) => !isRight(word, data.language, (w) => checker.correct(w))) });
  } catch (e) {
    reading = null;
    tell({ id: data.id, failed: e instanceof Error ? e.message : String(e) });
  }
};
