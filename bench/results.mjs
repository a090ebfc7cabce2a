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
const rows = [
  [`${e.pages} generated pages, from nothing, settled`, 'under 6 s', `${ms(e.firstInProcess)} the first time in a process, ${ms(e.fromNothing)} after (median of 3)`],
  ['the whole command, package to PDF, against headless Chromium printing the same text as HTML', 'its ratio', `${ms(median(e.wholeCommand))} to ${ms(median(e.browserPrint))}: ${e.ratio.toFixed(2)} (medians of 3, in turn)`],
  [`one paragraph edited in those ${e.pages} pages`, 'under 150 ms, median of 50', `${ms(e.editMedian)}; the slowest ${ms(e.editWorst)}`],
  ['keystroke to new proof on screen, demo manual, in the browser', 'under 200 ms, median', ms(keys['keystroke to new proof on screen, demo'])],
  ['keystroke to paint, demo manual, proof open', '', ms(keys['keystroke to paint, demo, proof open'])],
  [`keystroke to paint in a division of ${keys['pages of that division']} pages, proof open`, 'under 50 ms, median', `${ms(keys['keystroke to paint in a division of 100 pages'])}; nine in ten under ${ms(keys['the slowest of nine in ten there'])}`],
  [`PDF of ${e.pages} pages`, 'under 12 MB, under 4 s', `${(e.pdfBytes / 1e6).toFixed(1)} MB, ${ms(e.pdfMilliseconds)} (median of 3)`],
];
console.log(`# What was measured

By \`bench/run\`, in one run on ${processors} processors of a shared virtual machine. Times move with the machine; the ratio hardly does.

| what | wanted | measured |
|---|---|---|
${rows.map((r) => `| ${r.join(' | ')} |`).join('\n')}`);
