// The dictionary of one language, asked in a worker of its own.
import SpellingWorker from './speller.worker?worker';

export interface Asked {
  id: number;
  language: string;
  aff: string;
  dic: string;
  words: string[];
  /** A word for which others are asked. */
  suggest?: string;
}
export interface Told {
  id: number;
  wrong?: string[];
  suggested?: string[];
  failed?: string;
}

type Load = () => Promise<{ default: string }>;
const addresses = import.meta.glob<{ default: string }>('../../../node_modules/dictionary-*/index.{aff,dic}', { query: '?url' });
const folder: Record<string, string> = {
  'en-US': 'en',
  en: 'en-gb',
  de: 'de',
  es: 'es',
  fr: 'fr',
  it: 'it',
  nl: 'nl',
  sv: 'sv',
};

/** The dictionary's folder for a language; null for one that none ships for. */
export const dictionaryOf = (language: string): string | null => folder[language] ?? folder[language.split('-')[0]!.toLowerCase()] ?? null;

export class Speller {
  private worker: Worker | null = null;
  private waiting = new Map<number, (told: Told) => void>();
  private last = 0;
  private known = new Map<string, boolean>();

  constructor(readonly language: string) {}

  /** Whether a dictionary ships for the language. */
  get ships(): boolean {
    return dictionaryOf(this.language) !== null;
  }

  /** The words that no dictionary has; those asked before are not asked again. */
  async wrong(words: Iterable<string>): Promise<Set<string>> {
    const all = new Set(words);
    const asked = [...all].filter((w) => !this.known.has(w));
    if (asked.length > 0) {
      const { wrong } = await this.ask({ words: asked });
      const not = new Set(wrong);
      for (const word of asked) this.known.set(word, !not.has(word));
    }
    return new Set([...all].filter((w) => this.known.get(w) === false));
  }

  async suggestions(word: string): Promise<string[]> {
    return (await this.ask({ words: [], suggest: word })).suggested ?? [];
  }

  stop() {
    this.worker?.terminate();
    this.worker = null;
  }

  private async ask(what: Pick<Asked, 'words' | 'suggest'>): Promise<Told> {
    const own = `dictionary-${dictionaryOf(this.language)}/`;
    const address = async (end: string) => {
      const [, load] = Object.entries(addresses).find(([path]) => path.includes(own) && path.endsWith(end))!;
      return new URL((await (load as Load)()).default, document.baseURI).href;
    };
    const [aff, dic] = await Promise.all([address('.aff'), address('.dic')]);
    if (!this.worker) {
      this.worker = new SpellingWorker();
      this.worker.onmessage = ({ data }: MessageEvent<Told>) => {
        this.waiting.get(data.id)?.(data);
        this.waiting.delete(data.id);
      };
    }
    const id = ++this.last;
    return new Promise((then, fail) => {
      this.waiting.set(id, (told) => (told.failed ? fail(new Error(told.failed)) : then(told)));
      this.worker!.postMessage({ id, language: this.language, aff, dic, ...what } satisfies Asked);
    });
  }
}
