import { expect, test } from 'vitest';
import { attributesOf, linesInWords, linesOf, settingsOf, valuesOf, widthsInWords, widthsOf } from './settings';
import { schema } from './schema';

test('marked lines are typed as runs and come back as they were', () => {
  expect(linesOf('3, 5-7 5')).toEqual([3, 5, 6, 7]);
  expect(linesInWords([3, 5, 6, 7])).toBe('3, 5-7');
  expect(linesOf('')).toEqual([]);
  for (const none of ['0', 'x', '7-5', '1-999999']) expect(() => linesOf(none)).toThrow('names no lines');
});

test('widths are millimetres, shares or content', () => {
  expect(widthsOf('30 mm, 2, content; 12.5mm')).toEqual(['fixed 3000', 'share 2', 'content', 'fixed 1250']);
  expect(widthsInWords(['fixed 3000', 'share 2', 'content', 'fixed 1250'])).toBe('30 mm, 2, content, 12.5 mm');
  for (const none of ['wide', '0', '-3 mm', '1.5']) expect(() => widthsOf(none)).toThrow('is no width');
});

test('every field of every kind of node is an attribute it has, and what is not changed stays', () => {
  for (const [name, settings] of Object.entries(settingsOf)) {
    const type = schema.nodes[name]!;
    const node = type.create({ id: 'x' });
    const kept = attributesOf(node, valuesOf(node));
    for (const field of settings.fields) expect(Object.keys(type.spec.attrs!), `${name}.${field.name}`).toContain(field.name);
    for (const [attr, value] of Object.entries(kept)) expect(value, `${name}.${attr}`).toEqual(node.attrs[attr]);
  }
});

test('numbers stay within their bounds', () => {
  const figure = schema.nodes.figure!.create({ id: 'x' });
  expect(attributesOf(figure, { ...valuesOf(figure), width: 5000 }).width).toBe(400);
  expect(attributesOf(figure, { ...valuesOf(figure), width: NaN }).width).toBe(5);
});
