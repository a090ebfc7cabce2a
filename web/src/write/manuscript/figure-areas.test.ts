import { expect, test } from 'vitest';
import { within } from './figure-areas';

test('an area stays on its picture and does not vanish, however it is moved or sized', () => {
  expect(within({ left: -40, top: 900, width: 300, height: 300 })).toEqual({ left: 0, top: 700, width: 300, height: 300 });
  expect(within({ left: 500, top: 500, width: -9, height: 5000 })).toEqual({ left: 500, top: 0, width: 20, height: 1000 });
  expect(within({ left: 10.4, top: 10.6, width: 20.2, height: 30 })).toEqual({ left: 10, top: 11, width: 20, height: 30 });
});
