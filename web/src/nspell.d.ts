declare module 'nspell' {
  export default function nspell(
    affixes: string,
    words: string,
  ): {
    correct(word: string): boolean;
    suggest(word: string): string[];
  };
}
