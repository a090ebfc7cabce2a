// Pastes as other programs give them, and the roles that come of them.
import { Slice, type Node } from 'prosemirror-model';
import { expect, test } from 'vitest';
import { clipboardParser } from './clipboard';
import { tableTooLarge } from './web-table';
import { mostPastedBlocks, mostPastedLetters, picturesLeft, plainSlice, rolesOfHtml, tooMuch } from './pasted-words';

/** Blocks in short: kind, words, and in brackets what roles runs of them have. */
function short(node: Node): string {
  if (node.isText) return node.marks.length > 0 ? `[${node.marks.map((m) => m.type.name).join(' ')}: ${node.text}]` : node.text!;
  const inner: string[] = [];
  node.forEach((child) => inner.push(short(child)));
  if (node.type.name === 'paragraph') return inner.join('');
  const kind = node.attrs.level ?? node.attrs.kind ?? node.type.name;
  return `${kind}(${inner.join(node.inlineContent ? '' : ' | ')})`;
}

function marked(html: string): string[] {
  const dom = document.createElement('div');
  dom.innerHTML = rolesOfHtml(html);
  const blocks: string[] = [];
  Slice.maxOpen(clipboardParser.parse(dom).content).content.forEach((node) => blocks.push(short(node)));
  return blocks;
}

function plain(text: string): string[] | null {
  const blocks: string[] = [];
  plainSlice(text)?.content.forEach((node) => blocks.push(short(node)));
  return blocks.length > 0 ? blocks : null;
}

test('a word processor gives heads, lists by their levels, and roles for what was dressed', () => {
  const item = (level: number, sign: string, words: string) =>
    `<p class="Item" style="margin-left:36pt;x-list:l0 level${level} lfo1"><!--[if !supportLists]--><span style="x-list:Ignore">${sign}<span>&nbsp; </span></span><!--[endif]-->${words}</p>`;
  expect(
    marked(
      `<html><head><style>p{color:red}</style></head><body><h1><b><span style="font-size:16pt">Brake</span></b></h1>
      <p>Turn the <b>lever</b>, <span style="font-style:italic">slowly</span>, to <span style="font-family:'Courier New',monospace">STOP</span>.</p>
      ${item(1, '·', 'Look')}${item(2, 'o', 'closely')}${item(2, 'o', 'twice')}${item(1, '·', 'Wait')}
      ${item(1, '1.', 'First').replace('l0', 'l1')}
      <p>&nbsp;</p><p>CO<span style="vertical-align:sub">2</span></p></body></html>`,
    ),
  ).toEqual([
    'A(Brake)',
    'Turn the [strong: lever], [emphasis: slowly], to [code: STOP].',
    'unordered(item(Look | unordered(item(closely) | item(twice))) | item(Wait) | item(First))',
    'CO[sub: 2]',
  ]);
});

test('numbers before the words of items make an ordered list', () => {
  const item = (sign: string, words: string) => `<p style="x-list:l2 level1 lfo3"><span style="x-list:Ignore">${sign}</span>${words}</p>`;
  expect(marked(item('1)', 'Open') + item('2)', 'Shut') + '<p>Then</p>')).toEqual(['decimal(item(Open) | item(Shut))', 'Then']);
});

test('a browser’s page keeps its heads, lists, code and links, and nothing of its furniture', () => {
  expect(
    marked(
      `<meta charset="utf-8"><b style="font-weight:normal"><div role="heading" aria-level="2">Winter</div>
      <p>Grease <a href="https://example.org/x">the drum</a> with <tt>G-4</tt>.</p><script>alert(1)</script>
      <ul><li>rope</li><li><p>pawl</p></li></ul><p style="display:none">track</p><button>Share</button></b>`,
    ),
  ).toEqual(['A(Winter)', 'Grease [web: the drum] with [code: G-4].', 'unordered(item(rope) | item(pawl))']);
});

test('a block of code is a listing with its lines', () => {
  expect(marked('<p>Type:</p><pre>reset\n  --all</pre>')).toEqual(['Type:', 'listing(caption() | lines(reset\n  --all))']);
});

test('plain text gives paragraphs, lists and listings', () => {
  expect(plain('One line')).toBeNull();
  expect(plain('First.\r\n\r\n\r\nSecond.\u0007')).toEqual(['First.', 'Second.']);
  expect(plain('Take:\n- a rope\n- a hook\n1. Pull\n2. Let go\nDone.')).toEqual([
    'Take:',
    'unordered(item(a rope) | item(a hook))',
    'decimal(item(Pull) | item(Let go))',
    'Done.',
  ]);
  expect(plain('$ winch --status\nload 4 kN\n$ winch --stop\n')).toEqual([
    'listing(caption() | lines($ winch --status\nload 4 kN\n$ winch --stop))',
  ]);
});

test('what this manuscript copied itself comes through as it is', () => {
  const own = '<p data-kind="paragraph" data-attrs="{}">Words <span style="font-weight:bold">here</span></p>';
  expect(rolesOfHtml(own)).toBe(own);
});

test('a paste that is too large is told, with what to do instead', () => {
  expect(tooMuch('x', 'y', 3)).toBeNull();
  expect(tooMuch('x'.repeat(mostPastedLetters + 1), '', 1)).toContain('2.0 million letters');
  expect(tooMuch('', '', mostPastedBlocks + 1)).toContain('bring that in');
  expect(picturesLeft('<p><img src="a.png"><IMG src="b.png"></p>')).toBe(2);
});

test('markup of any depth and kind is read in time and loses no words', () => {
  const deep = '<div>'.repeat(400) + 'deep' + '</div>'.repeat(400);
  expect(marked(deep).join()).toContain('deep');
  const wild = '<p style="x-list:l0 level9 lfo1">a<p style="x-list:l0 level1">b<table><tr><td style="x-list:l0 level2">c';
  expect(
    marked(wild)
      .join(' ')
      .replaceAll(/[^abc]/g, '')
      .split('')
      .filter((c, i, all) => all.indexOf(c) === i)
      .sort(),
  ).toEqual(expect.arrayContaining(['a', 'b', 'c']));
});

test('a table wider than one can be is refused in words, and not cut', () => {
  const table = (columns: number) => `<table><tr>${'<td>x</td>'.repeat(columns)}</tr></table>`;
  expect(tableTooLarge(table(300))).toContain('this one has 300 and 1');
  expect(tableTooLarge(table(12))).toBeNull();
  expect(tableTooLarge('<p>no table</p>')).toBeNull();
});
