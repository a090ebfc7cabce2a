// How languages are written, as far as the screen must know it.
const fromRight = new Set(['ar', 'he', 'iw', 'fa', 'ur', 'ps', 'sd', 'ug', 'yi', 'ckb', 'dv', 'syr']);

/** @param language a tag of BCP 47 */
export function directionOf(language: string): 'rtl' | 'ltr' {
  return fromRight.has(language.toLowerCase().split('-')[0]!) ? 'rtl' : 'ltr';
}
