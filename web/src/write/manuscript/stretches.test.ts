import { EditorState, Plugin } from 'prosemirror-state';
import { describe, expect, test } from 'vitest';
import { schema } from './schema';
import { between, drawnBlocks, joined, stretchesKey, type Stretch } from './stretches';

describe('stretches of blocks', () => {
  test.each<[Stretch[], Stretch[]]>([
    [[], []],
    [[[4, 9]], [[4, 9]]],
    [
      [
        [40, 60],
        [-3, 5],
      ],
      [
        [0, 5],
        [40, 60],
      ],
    ],
    [
      [
        [0, 10],
        [8, 30],
        [31, 33],
      ],
      [[0, 33]],
    ],
    [
      [
        [90, 140],
        [200, 210],
      ],
      [[90, 100]],
    ],
  ])('%j of 100 blocks are %j', (stretches, found) => expect(joined(stretches, 100)).toEqual(found));

  const tall = (n: number) => (n % 2 === 0 ? 10 : 30);
  test.each<[number, number, Stretch]>([
    [0, 40, [0, 2]],
    [0, 41, [0, 3]],
    [-50, 5, [0, 1]],
    [45, 95, [2, 6]],
    [1_960, 9_999, [98, 100]],
    [5_000, 6_000, [99, 100]],
  ])('between %d and %d pixels stand the blocks %j', (top, bottom, found) => expect(between(top, bottom, 100, tall)).toEqual(found));

  const paragraphs = Array.from({ length: 10 }, (_, n) =>
    schema.nodes.paragraph!.create({ id: `p${n}` }, schema.text('word '.repeat(n + 1))),
  );
  const doc = schema.nodes.doc!.create(null, paragraphs);
  const drawn = (stretches: Stretch[] | null) => {
    const told = new Plugin<Stretch[] | null>({ key: stretchesKey, state: { init: () => stretches, apply: (_, now) => now } });
    return [...drawnBlocks(EditorState.create({ doc, plugins: [told] }))];
  };

  test('only what is laid out is drawn, each block at its place', () => {
    const found = drawn([
      [1, 3],
      [8, 12],
    ]);
    expect(found.map(({ node }) => node.attrs.id)).toEqual(['p1', 'p2', 'p8', 'p9']);
    for (const { node, pos } of found) expect(doc.nodeAt(pos)).toBe(node);
  });

  test('of a short division all is drawn', () => {
    expect(drawn(null)).toHaveLength(10);
    expect([...drawnBlocks(EditorState.create({ doc }))]).toHaveLength(10);
  });
});
