// Measures as a designer types and reads them: points, millimetres, inches, lines of the text's leading.

export type Unit = 'pt' | 'mm' | 'in';

const points: Record<string, number> = { pt: 1, mm: 72 / 25.4, cm: 720 / 25.4, in: 72 };

/** Points of a measure as a look's file has it; NaN for anything else. */
export function inPoints(value: unknown): number {
  if (typeof value === 'number') return value;
  const said = typeof value === 'string' ? /^\s*(-?[\d.]+)\s*(pt|mm|cm|in)\s*$/.exec(value) : null;
  return said ? Number(said[1]) * points[said[2]!]! : NaN;
}

const round = (value: number, to: number) => Math.round(value / to) * to;
const words = (value: number, digits: number) => String(Number(value.toFixed(digits)));

/** To a tenth of a millimetre, a hundredth of a point or of an inch. */
export const shown = (value: unknown, unit: Unit): string => {
  const at = inPoints(value);
  return Number.isNaN(at) ? '' : words(at / points[unit]!, unit === 'mm' ? 1 : 2);
};

/** What was typed, as the file has it: a number is of the unit shown, and may name another, or “lines” of the text's leading.
 * @returns null for what is no measure */
export function typed(text: string, unit: Unit, leading: number): number | string | null {
  const said = /^\s*(-?\d*[.,]?\d+)\s*(pt|mm|cm|in|lines?)?\s*$/i.exec(text);
  if (!said) return null;
  const number = Number(said[1]!.replace(',', '.'));
  const in_ = (said[2] ?? unit).toLowerCase();
  if (in_.startsWith('line')) return Number((number * leading).toFixed(3));
  return in_ === 'pt' ? number : `${words(number, 3)} ${in_}`;
}

/** One natural step up or down, in the unit in which the value is shown. */
export function stepped(value: unknown, by: number, step: number, unit: Unit): number | string {
  const at = inPoints(value) || 0;
  if (unit === 'mm') return `${words(round(at / points.mm! + by * (step < 0.5 ? 0.1 : 0.5), 0.1), 1)} mm`;
  if (unit === 'in') return `${words(round(at / 72 + by * (step < 0.5 ? 0.005 : 0.02), 0.005), 3)} in`;
  return Number(words(at + by * step, 3));
}

export const papers: readonly { name: string; width: string; height: string }[] = [
  { name: 'A4', width: '210 mm', height: '297 mm' },
  { name: 'A5', width: '148 mm', height: '210 mm' },
  { name: 'A6', width: '105 mm', height: '148 mm' },
  { name: 'B5', width: '176 mm', height: '250 mm' },
  { name: 'Letter', width: '8.5 in', height: '11 in' },
  { name: 'Half letter', width: '5.5 in', height: '8.5 in' },
  { name: 'Legal', width: '8.5 in', height: '14 in' },
  { name: '6 × 9 in', width: '6 in', height: '9 in' },
  { name: '7 × 10 in', width: '7 in', height: '10 in' },
  { name: '5 × 8 in', width: '5 in', height: '8 in' },
];

export const paperOf = (width: unknown, height: unknown): string =>
  papers.find((p) => Math.abs(inPoints(p.width) - inPoints(width)) < 0.3 && Math.abs(inPoints(p.height) - inPoints(height)) < 0.3)?.name ??
  '';
