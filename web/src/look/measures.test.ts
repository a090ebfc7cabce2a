import { describe, expect, it } from 'vitest';
import { inPoints, paperOf, shown, stepped, typed } from './measures';

describe('a measure', () => {
  it('is read in points whatever its unit', () => {
    expect(inPoints(13)).toBe(13);
    expect(inPoints('1 in')).toBe(72);
    expect(inPoints('25.4 mm')).toBeCloseTo(72);
    expect(inPoints('2 cm')).toBeCloseTo(56.69, 1);
    expect(inPoints('wide')).toBeNaN();
    expect(inPoints(undefined)).toBeNaN();
  });
  it('is shown to a tenth of a millimetre', () => {
    expect(shown(64, 'mm')).toBe('22.6');
    expect(shown('22.5 mm', 'pt')).toBe('63.78');
    expect(shown('wide', 'mm')).toBe('');
  });
  it('is typed in the unit shown, in another, or in lines of the text', () => {
    expect(typed('22,5', 'mm', 13)).toBe('22.5 mm');
    expect(typed('9', 'pt', 13)).toBe(9);
    expect(typed('0.75in', 'mm', 13)).toBe('0.75 in');
    expect(typed('1.5 lines', 'mm', 13)).toBe(19.5);
    expect(typed('1 line', 'pt', 13)).toBe(13);
    expect(typed('wide', 'mm', 13)).toBeNull();
    expect(typed('', 'mm', 13)).toBeNull();
  });
  it('is stepped in the unit shown', () => {
    expect(stepped(64, 1, 0.5, 'mm')).toBe('23.1 mm');
    expect(stepped(19.5, -1, 0.25, 'pt')).toBe(19.25);
    expect(stepped(72, 1, 0.5, 'in')).toBe('1.02 in');
  });
  it('of a paper has its name', () => {
    expect(paperOf('148 mm', '210 mm')).toBe('A5');
    expect(paperOf(432, 648)).toBe('6 × 9 in');
    expect(paperOf(100, 100)).toBe('');
  });
});
