// Writes the table of bench/results.md from what was measured.
import { readFileSync } from 'node:fs';

const [engineFile, keysFile, processors] = process.argv.slice(2);
const e = JSON.parse(readFileSync(engineFile, 'utf8'));
const keys = Object.fromEntries(
  readFileSync(keysFile, 'utf8')
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line))
    .map(({ name, value }) => [name, value]),
);
const ms = (value) => (value >= 1000 ? (value / 1000).toFixed(2) + ' s' : Math.round(value) + ' ms');
const median = (times) => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)];
const mb = (bytes) => (bytes / 1e6).toFixed(1) + ' MB';
const words = Math.round(e.words / 1000) + ',000';
const rows = [
  [
    `${e.pages} generated pages from nothing, settled, with contents and index`,
    'at most 2 s',
    `${ms(e.fromNothing)} (median of 5) in a process that has composed before; ${ms(e.inFreshProcess)} (median of 3) in a fresh one`,
    'setting lines, then cutting; in a fresh process also code that is compiled as it runs',
  ],
  [`the same against HarfBuzz shaping each of its ${words} words once, without a cache`, 'no more', `${(e.fromNothing / e.shapingFloor).toFixed(2)} times its ${ms(e.shapingFloor)} (medians of 5, in turn)`, 'words are shaped once each and kept'],
  [
    `the same against headless Chromium printing the text of ${e.against.at(-1).Pages} pages as HTML, its start included`,
    'a twentieth',
    `${ms(e.fromNothing)} to ${ms(e.against.at(-1).Theirs)}: ${(e.fromNothing / e.against.at(-1).Theirs).toFixed(3)}`,
    'setting lines',
  ],
  ...e.against.map((a) => [
    `${a.Pages} pages: the whole command, package to PDF, against headless Chromium printing the same text as HTML`,
    a === e.against.at(-1) ? 'a fifth' : '',
    `as machine code ${ms(a.Native)} to ${ms(a.Theirs)}: ${(a.Native / a.Theirs).toFixed(2)}; as built at first use ${ms(a.Usual)}: ${(a.Usual / a.Theirs).toFixed(2)} (medians of 3, in turn)`,
    'reading the package and the faces, collecting what is no longer used, deflating; without machine code also what is compiled as it runs',
  ]),
  [`one paragraph edited in those ${e.pages} pages, to settled pages, contents, index and loose ends`, '30 ms median, 100 ms worst', `${ms(e.editMedian)}; the slowest ${ms(e.editWorst)} (of 50)`, 'cutting one chapter again; where pages move, setting what names them'],
  ['all outputs of the demo’s editions, one after the other', 'under 10 s', ms(e.ofDemo), 'composing each edition'],
  [
    `those ${e.pages} pages as EPUB, as web pages, as a word-processing file, composing included`,
    'under 3 s, 3 s and 4 s',
    `${ms(e.outputs.Epub)}, ${ms(e.outputs.Site)}, ${ms(e.outputs.WordDocument)}; as DocBook ${ms(e.outputs.DocBook)}, as Markdown ${ms(e.outputs.Markdown)} (medians of 3)`,
    'composing; deflating',
  ],
  [
    `another edition chosen in ${keys['pages whose edition is changed']} pages, to its pages on the screen`,
    'under 300 ms',
    ms(keys['another edition, to its first page']),
    'setting every block that reads otherwise anew',
  ],
  [`one paragraph edited in ${e.longestPages} pages, to settled pages`, 'under 20 ms, median', ms(e.longEditMedian), 'what each block read of other places is asked again'],
  [
    `100 manuals of ${keys['pages of each of 100 manuals']} pages opened one after another: memory of the server`,
    'under 1,500 MB; under 500 MB when idle again',
    `at most ${keys['server, 100 manuals opened, at most, MB']} MB; ${keys['server, idle again, MB']} MB`,
    'lines of every block',
  ],
  [
    `20 writers at 5 keys a second in one manual of ${keys['pages that 20 writers work in']} pages, all on this machine: saves answered`,
    '95 of 100 within 100 ms',
    `95 of 100 within ${ms(keys['20 writers: 95 of 100 saves answered in'])}, half within ${ms(keys['20 writers: a save, median'])} (${keys['20 writers: saves']} saves)`,
    'the writers’ own program and the server share the processors',
  ],
  ['the same: settled after the last key', 'within 1 s', ms(keys['20 writers: settled after the last key']), 'composing'],
  [
    'paste of 5,000 paragraphs in that manual, stored',
    'under 1 s',
    `${ms(keys['paste of 5,000 paragraphs, stored, median'])} (median of 5; the slowest ${ms(keys['paste of 5,000 paragraphs, stored, slowest'])})`,
    'checking each block, and writing them',
  ],
  ['another writer’s save meanwhile', 'at most 200 ms', `the slowest of 5 ${ms(keys["another writer's save meanwhile, slowest"])}`, 'one act after the other'],
  ['keystroke to new proof on screen, demo manual, in the browser', 'under 80 ms, median', ms(keys['keystroke to new proof on screen, demo']), 'sending, composing, fetching and painting one page'],
  ['keystroke to paint, demo manual, proof open', '', ms(keys['keystroke to paint, demo, proof open']), ''],
  [
    `keystroke to paint in a division of ${keys['pages of that division']} pages, proof open`,
    'under 33 ms, median',
    `${ms(keys['keystroke to paint in a division of 100 pages'])}; nine in ten under ${ms(keys['the slowest of nine in ten there'])}`,
    'the browser laying out the page',
  ],
  [
    `keystroke to paint in a division of ${keys['pages of the long division']} pages, proof open, a second writer typing in it from another machine`,
    'under 33 ms, median',
    ms(keys['keystroke to paint in a division of 300 pages']),
    'the browser laying out the page',
  ],
  [
    'the same: to the new proof',
    'under 120 ms, median',
    keys['keystroke to new proof in a division of 300 pages'] > 0 ? ms(keys['keystroke to new proof in a division of 300 pages']) : 'none came before the next key',
    'composing a division of 300 pages after each of two writers',
  ],
  [`finding a word in ${keys['pages that are looked through']} pages`, 'under 200 ms', `${ms(keys['found in 1,000 pages, median'])} (median of 5 words)`, 'reading each block'],
  [
    `a word replaced in ${keys['places that are replaced']} places there, to settled pages on the screen`,
    'under 1 s',
    ms(keys['replaced, to settled pages']),
    'storing, and setting those blocks again',
  ],
  [
    'typing in a table of 100 rows and 8 columns: frames over 50 ms',
    'none',
    `${keys['frames over 50 ms while typing there, of a hundred']} of a hundred; keystroke to paint ${ms(keys['keystroke to paint in a table of 100 × 8'])}, median`,
    'the browser laying out the table',
  ],
  [
    `a word-processor document of ${keys['pages of that document']} pages read`,
    'under 3 s',
    ms(keys['a document of 500 pages read']),
    'unpacking and reading its XML',
  ],
  ['the same on the screen with its proof, from choosing the file', 'under 10 s', ms(keys['a document of 500 pages on the screen with its proof']), 'composing it for the first time'],
  [
    `a chapter of ${keys['pages of the section that moves']} pages moved in a manual of ${keys['pages of the manual that it moves in']}, from the key to settled pages, in the browser`,
    'under 200 ms',
    `${ms(keys['a chapter of 60 pages moved, to settled pages'])}; put into the chapter before it as a section, and lifted out, ${ms(keys['60 pages put into a chapter and lifted out, to settled pages'])} (medians)`,
    'setting again what the new chapter numbers stand in',
  ],
  [
    `in ${keys['pages of the pointing manual']} pages with ${keys['index entries of the pointing manual']} index entries and ${keys['references of the pointing manual']} references: Index opens`,
    'under 300 ms',
    ms(keys['index opens']),
    'reading the rows',
  ],
  [
    `a value of the look turned in ${keys['pages of the manual whose look is turned']} pages, to the spread in sight`,
    '100 ms (median), 300 ms (worst)',
    `${ms(keys['a value turned, spread in sight'])}, at worst ${ms(keys['a value turned, spread in sight, worst'])}`,
    'setting the division in sight anew',
  ],
  [
    'the same, to all pages settled',
    'under 700 ms',
    `${ms(keys['a value turned, all settled'])}, at worst ${ms(keys['a value turned, all settled, worst'])}`,
    'setting every block anew, on as many threads as there are',
  ],
  [
    'its spread while a margin is dragged',
    '20 a second',
    `${keys['spreads a second while a margin is dragged']} a second`,
    'the browser drawing two pages anew, on the processors that also set them',
  ],
  [
    'another look tried on, to its first spread',
    'under 500 ms',
    ms(keys['another look, spread in sight']),
    'setting the division in sight anew',
  ],
  ['the same, to all pages settled', 'under 1.5 s', ms(keys['another look, all settled']), 'setting every block anew'],
  ['Cross-references opens', 'under 300 ms', ms(keys['references opens']), 'reading the rows: the words around each'],
  ['Contents opens', 'under 300 ms', ms(keys['contents opens']), 'the list as it is printed'],
  ['a letter more in the filter of all references, to the rows', 'at typing speed', `${ms(keys['filter of 3,000 references, a letter, slowest'])}, the slowest of four`, ''],
  [`a sweep that finds ${keys['places of the sweep']} places`, 'under 300 ms', ms(keys.sweep), 'looking through all words'],
  [
    `a heading with ${keys['locators of the renamed heading']} locators renamed, to settled pages`,
    'under 500 ms',
    ms(keys['heading renamed, to settled pages']),
    'storing each block that carries one of its entries',
  ],
  [
    `a subheading (locators: ${keys['locators of the ordinary subheading']}) renamed, to the printed index on the screen`,
    'under 200 ms',
    ms(keys['printed index follows an act']),
    'sorting all headings, and setting the index for the places of each pass',
  ],
  [`Plan with ${keys['rows of that plan']} rows: a frame while scrolling`, 'smooth', `nine in ten under ${ms(keys['the plan of 5,000 heads: a frame while scrolling, nine in ten under'])}`, 'the browser laying out the rows in sight'],
  [`tagged PDF of ${e.pages} pages`, 'at most 1.5 s, 5 MB', `${ms(e.pdfMilliseconds)}, ${mb(e.pdfBytes)} (median of 3)`, 'deflating, and writing operators'],
  [`memory kept with ${e.pages} pages and all caches`, 'at most 600 MB', mb(e.memoryBytes), 'lines of every block'],
  [
    `word spaces of the demo's ${e.even.Lines} justified lines: deviation from their mean; lines looser than 1.6 times the median; hyphens in a row`,
    'at most 15 %; 1 %; 2',
    `${(e.even.Deviation * 100).toFixed(1)} %; ${(e.even.Loose * 100).toFixed(1)} %; ${e.even.HyphensInARow} (${(e.even.Hyphenated * 100).toFixed(1)} % of lines are divided)`,
    'letters give a hundredth of the em',
  ],
  ['cost of a page at 5,000 pages against one at 500', 'at most 1.3', e.growth.toFixed(2), ''],
];
const steps = Object.entries(e.steps).map(([name, value]) => `${name} ${ms(value)}`).join(', ');
console.log(`# What was measured

By \`bench/run\`, in one run on ${processors} processors of a shared virtual machine. Times move with the machine; the ratio hardly does.

| what | wanted | measured | what limits it |
|---|---|---|---|
${rows.map((r) => `| ${r.join(' | ')} |`).join('\n')}

By step, from nothing, the last of the five: ${steps}.`);
