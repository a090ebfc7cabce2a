// Typographic signs as they are typed: quotation marks and dashes of the language, fractions, no-break spaces before units. One
// Backspace takes a sign back; F6 leaves everything as it is typed, for good.
import { InputRule, inputRules, undoInputRule } from 'prosemirror-inputrules';
import type { Command, EditorState, Plugin, Transaction } from 'prosemirror-state';

const kept = 'kivren.as-typed';

/** Whether what is typed stays as it is, in this browser. */
export const asTyped = () => localStorage.getItem(kept) === 'yes';

/** Turns it round. @returns whether signs are set from now on */
export function turnSigns(): boolean {
  const off = !asTyped();
  if (off) localStorage.setItem(kept, 'yes');
  else localStorage.removeItem(kept);
  return !off;
}

interface Quotes {
  double: [open: string, close: string];
  single: [open: string, close: string];
}

const english: Quotes = { double: ['“', '”'], single: ['‘', '’'] };
const nordic: Quotes = { double: ['”', '”'], single: ['’', '’'] };
const german: Quotes = { double: ['„', '“'], single: ['‚', '‘'] };
const slavic: Quotes = { double: ['„', '”'], single: ['‚', '’'] };
const angled: Quotes = { double: ['«', '»'], single: ['‹', '›'] };
const spaced: Quotes = { double: ['«\u00a0', '\u00a0»'], single: ['‹\u00a0', '\u00a0›'] };

/** By the first part of a language's tag; English for all others. */
const quotesOf: Record<string, Quotes> = {
  de: german,
  cs: german,
  sk: german,
  sl: german,
  is: german,
  pl: slavic,
  hu: slavic,
  ro: slavic,
  hr: slavic,
  sv: nordic,
  fi: nordic,
  da: angled,
  nb: angled,
  nn: angled,
  no: angled,
  it: angled,
  es: angled,
  pt: angled,
  el: angled,
  ru: angled,
  uk: angled,
  fr: spaced,
};

export function quotes(language: string): Quotes {
  return /^de-(CH|LI)$/i.test(language) ? angled : (quotesOf[language.split('-')[0]!.toLowerCase()] ?? english);
}

const fractions: Record<string, string> = {
  '1/2': '½',
  '1/3': '⅓',
  '2/3': '⅔',
  '1/4': '¼',
  '3/4': '¾',
  '1/8': '⅛',
  '3/8': '⅜',
  '5/8': '⅝',
  '7/8': '⅞',
};

/** Units of measure (SI, and those accepted with it), and the signs that stand after a number. */
const units =
  'mm|cm|dm|m|km|µm|nm|g|kg|mg|t|s|ms|min|h|d|A|mA|V|mV|kV|W|kW|MW|Hz|kHz|MHz|GHz|N|kN|Nm|Pa|kPa|MPa|bar|mbar|J|kJ|l|ml|K|°C|°F|%|‰|lm|lx|cd|dB|Ω|kΩ|rpm|in|ft|lb|kB|MB|GB';

const space = '\u00a0';

/** What takes the place of a match, all but its group `before`. `said` is the block's text up to there. */
type Sign = (match: RegExpMatchArray, said: string) => string | undefined;

function rule(match: RegExp, sign: Sign): InputRule {
  return new InputRule(
    match,
    (state: EditorState, found, start, end): Transaction | null => {
      const { parent, parentOffset } = state.selection.$from;
      if (asTyped() || !parent.inlineContent) return null;
      const text = sign(found, parent.textBetween(0, parentOffset, undefined, '\ufffc'));
      if (!text) return null;
      // The letter that was typed last is not in the text yet.
      const from = start + (found.groups?.before?.length ?? 0);
      const marks = state.storedMarks ?? state.selection.$from.marks();
      return state.tr.replaceWith(from, end, state.schema.text(text, marks));
    },
    { inCode: false, inCodeMark: false },
  );
}

/** Where a quotation may begin: at the start, behind a space, an opening bracket, a dash, another opening mark. */
const begins = String.raw`(?<before>^|[\s\u00a0(\[{–—/„“‘‚«‹-])`;

/** The signs of a language, as they are typed. */
export function signs(language: string): Plugin {
  const { double, single } = quotes(language);
  return inputRules({
    rules: [
      rule(new RegExp(`${begins}"$`, 'u'), () => double[0]),
      rule(/"$/u, () => double[1]),
      rule(new RegExp(`${begins}'$`, 'u'), () => single[0]),
      // Behind a letter it closes what is open, or is an apostrophe.
      rule(/'$/u, (_, said) => (said.lastIndexOf(single[0]) > said.lastIndexOf(single[1]) ? single[1] : '’')),
      rule(/–-$/u, () => '—'),
      rule(/(?<before>^|[^-])--$/u, () => '–'),
      rule(/(?<before>^|[^.])\.{3}$/u, () => '…'),
      rule(/(?<before>^|[^\d/])(\d\/\d)([\s.,;:)])$/u, (m) => fractions[m[2]!] && fractions[m[2]!]! + m[3]!),
      rule(new RegExp(String.raw`(?<before>\d) (${units})([\s.,;:)])$`, 'u'), (m) => space + m[2]! + m[3]!),
    ],
  });
}

/** Takes the sign back that was set for the last key. */
export const takeSignBack: Command = undoInputRule;
