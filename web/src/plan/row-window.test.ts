import { expect, test } from 'vitest';
import type { Shown } from './outline';
import { RowWindow, rowHeight, textHeight } from './row-window.svelte';

const seen = Array.from({ length: 1000 }, (_, i) => ({ row: { id: `r${i}` }, index: i })) as unknown as Shown[];

/** A window over the rows, as the screen would show it. */
function over(scrollTop: number, unfolded: string | null = null) {
  const list = new RowWindow(() => seen);
  list.height = 10 * rowHeight;
  list.scrollTop = scrollTop;
  list.unfolded = unfolded;
  return list;
}

test('rows in sight are drawn, and few beyond', () => {
  for (const top of [0, 500 * rowHeight, 990 * rowHeight]) {
    const drawn = over(top).drawn.map((d) => d.at);
    const first = Math.floor(top / rowHeight);
    for (let i = first; i < Math.min(1000, first + 10); i++) expect(drawn).toContain(i);
    expect(drawn.length).toBeLessThan(50);
  }
});

test('a text under a row moves those behind it, and the list is as much longer', () => {
  const list = over(0, 'r4');
  expect(list.total).toBe(1000 * rowHeight + textHeight);
  expect([list.topOf(4), list.topOf(5)]).toEqual([4 * rowHeight, 5 * rowHeight + textHeight]);
});

test('the row at a height is the one that is drawn there', () => {
  for (const list of [over(0), over(0, 'r4')])
    for (const i of [0, 3, 4, 5, 40, 999]) expect(list.at(list.topOf(i) + rowHeight / 2)).toBe(i);
  expect(over(0).at(-5)).toBe(0);
  expect(over(0).at(1e9)).toBe(999);
});

test('rows in sight are drawn below a text, too', () => {
  const top = 20 * rowHeight + textHeight;
  expect(over(top, 'r4').drawn.map((d) => d.at)).toContain(20);
});

test('a row is brought into sight from either side', () => {
  const list = over(0);
  const box = document.createElement('div');
  Object.defineProperty(box, 'clientHeight', { value: 10 * rowHeight });
  list.scroller = box;
  list.reveal(500);
  expect(box.scrollTop).toBe(491 * rowHeight);
  list.reveal(495);
  expect(box.scrollTop).toBe(491 * rowHeight);
  list.reveal(3);
  expect(box.scrollTop).toBe(3 * rowHeight);
  list.reveal(-1);
  expect(box.scrollTop).toBe(3 * rowHeight);
});
