// What comes by paste from a word processor, a browser or a terminal gives roles: what it looked like there is read for what it
// is, and the look itself is left behind.
import { Fragment, Slice, type Node } from 'prosemirror-model';
import { schema } from './schema';

const n = schema.nodes;

/** More than this is brought in as a document, where it can be looked through before it is taken. */
export const mostPastedLetters = 2_000_000;
export const mostPastedBlocks = 6_000;

/** Why a paste is too large to be taken at once; null when it is not. */
export function tooMuch(text: string, html: string, blocks: number): string | null {
  const letters = Math.max(text.length, html.length / 4);
  if (letters <= mostPastedLetters && blocks <= mostPastedBlocks) return null;
  const size = blocks > mostPastedBlocks ? `${blocks} paragraphs` : `${(letters / 1e6).toFixed(1)} million letters`;
  return `This is too much for one paste (${size}; up to ${mostPastedBlocks} paragraphs go at once). Keep it as a file, and bring that in from the Shelf or in Plan.`;
}

// ---- marked-up text ----

const left = 'script, style, meta, link, title, template, noscript, xml, input, select, button, [hidden]';
const blocks = 'p, h1, h2, h3, h4, h5, h6, li, div, td, th, dt, dd, blockquote, pre, table, ul, ol';

/** The markup with roles in the place of looks. What this manuscript copied itself comes through as it is. */
export function rolesOfHtml(html: string): string {
  if (html.includes('data-kind=')) return html;
  // It is refused (tooMuch) without being read.
  if (html.length > mostPastedLetters * 4) return '';
  const page = new DOMParser().parseFromString(html, 'text/html');
  for (const gone of page.querySelectorAll(left)) gone.remove();
  const comments = page.createTreeWalker(page.body, NodeFilter.SHOW_COMMENT);
  const said: Comment[] = [];
  while (comments.nextNode()) said.push(comments.currentNode as Comment);
  for (const comment of said) comment.remove();
  for (const element of [...page.body.querySelectorAll<HTMLElement>('[style]')]) if (element.style.display === 'none') element.remove();
  flatten(page.body);
  for (const wrong of [...page.body.querySelectorAll('b, strong, i, em')]) if (undone(wrong as HTMLElement)) unwrap(wrong);
  for (const head of page.body.querySelectorAll('[role=heading]')) {
    const level = Number(head.getAttribute('aria-level')) || 1;
    replace(head, `h${Math.max(1, Math.min(6, level))}`);
  }
  listed(page);
  for (const span of [...page.body.querySelectorAll<HTMLElement>('span, font, a')]) dressed(span);
  // A head is strong as a whole: that is its look, not a role of its words.
  for (const strong of [...page.body.querySelectorAll('h1, h2, h3, h4, h5, h6, th')].flatMap((h) => [...h.querySelectorAll('b, strong')]))
    unwrap(strong);
  for (const code of page.body.querySelectorAll('tt, samp, var')) replace(code, code.tagName === 'VAR' ? 'em' : 'code');
  for (const cited of page.body.querySelectorAll('cite')) replace(cited, 'em');
  for (const empty of [...page.body.querySelectorAll('p, div')])
    if (!empty.textContent.trim() && !empty.querySelector('img, br, table')) empty.remove();
  return page.body.innerHTML;
}

/** Deeper than this nothing stands in anything: what is, comes up. */
const deepest = 60;

function flatten(body: HTMLElement) {
  const depths = new Map<Element, number>([[body, 0]]);
  const deep: Element[] = [];
  for (const element of body.querySelectorAll('*')) {
    const depth = depths.get(element.parentElement!)! + 1;
    depths.set(element, depth);
    if (depth > deepest && element.childNodes.length > 0) deep.push(element);
  }
  // The innermost first, so that nothing is moved often.
  for (const element of deep.reverse()) unwrap(element);
}

/** Emphasis that its own style takes back, as some programs wrap all they copy in one. */
const undone = (element: HTMLElement) =>
  ['B', 'STRONG'].includes(element.tagName)
    ? ['normal', '400'].includes(element.style.fontWeight) || element.querySelector(blocks) !== null
    : element.style.fontStyle === 'normal';

function unwrap(element: Element) {
  element.replaceWith(...element.childNodes);
}

function replace(element: Element, tag: string): HTMLElement {
  const other = element.ownerDocument.createElement(tag);
  other.append(...element.childNodes);
  element.replaceWith(other);
  return other;
}

function wrapped(element: Element, tag: string) {
  const inner = element.ownerDocument.createElement(tag);
  inner.append(...element.childNodes);
  element.append(inner);
}

/** Roles of words that were only dressed: heavy, slanted, fixed in width, raised, lowered. */
function dressed(span: HTMLElement) {
  const { fontWeight, fontStyle, fontFamily, verticalAlign } = span.style;
  if (!span.textContent.trim()) return;
  if (fontWeight === 'bold' || Number(fontWeight) >= 600) wrapped(span, 'strong');
  if (fontStyle === 'italic' || fontStyle === 'oblique') wrapped(span, 'em');
  if (/mono|courier|consol|menlo|typewriter/i.test(fontFamily)) wrapped(span, 'code');
  if (verticalAlign === 'super') wrapped(span, 'sup');
  if (verticalAlign === 'sub') wrapped(span, 'sub');
}

/** Paragraphs that a word processor marks as items of a list, by its level, become lists. */
function listed(page: Document) {
  const level = (element: Element) => {
    const found = /(?:^|;)\s*[\w-]*list:\s*\S+\s+level(\d)/i.exec(element.getAttribute('style') ?? '');
    return found ? Number(found[1]) : 0;
  };
  for (const first of [...page.body.querySelectorAll('p, h1, h2, h3, h4, h5, h6')]) {
    if (!first.isConnected || level(first) === 0 || /^H/.test(first.tagName)) continue;
    /** The lists that are open, from the outermost on, with their levels. */
    const open: { at: number; list: HTMLElement }[] = [];
    let next: Element | null = first;
    while (next && level(next) > 0) {
      const item: Element = next;
      next = item.nextElementSibling;
      const at = level(item);
      const marker = [...item.querySelectorAll<HTMLElement>('span')].find((s) => /list:\s*ignore/i.test(s.getAttribute('style') ?? ''));
      const sign = marker?.textContent.trim() ?? '';
      marker?.remove();
      while (open.length > 0 && open.at(-1)!.at > at) open.pop();
      if (open.length === 0 || open.at(-1)!.at < at) {
        const list = page.createElement(/^\(?([\d]+|[a-z]|[ivx]+)[.)]/i.test(sign) ? 'ol' : 'ul');
        const under = open.at(-1)?.list.lastElementChild;
        if (under) under.append(list);
        else item.before(list);
        open.push({ at, list });
      }
      const li = page.createElement('li');
      const words = page.createElement('p');
      words.append(...item.childNodes);
      li.append(words);
      open.at(-1)!.list.append(li);
      item.remove();
    }
  }
}

/** Pictures that the markup only names by an address: they do not come along, and that is said. */
export const picturesLeft = (html: string) => (html.includes('data-kind=') ? 0 : (html.match(/<img\s/gi)?.length ?? 0));

// ---- plain text ----

const bullet = /^\s*[•◦▪–*-]\s+/;
const numbered = /^\s*\(?(\d{1,3}|[a-z])[.)]\s+/;
const prompt = /^\s*(\S+@\S+[:~]\S*\s?)?[$#>%]\s/;

/** Lines of a terminal or of a program: more than half of them begin with a prompt, or are set in. */
const isProgram = (lines: string[]) => {
  const full = lines.filter((line) => line.trim());
  return full.length > 1 && full.filter((line) => prompt.test(line) || /^(\t| {2,})\S/.test(line)).length * 2 > full.length;
};

/** Text without markup: a listing, lists of what begins with a sign or a number, or paragraphs. */
export function plainSlice(text: string): Slice | null {
  if (text.length > mostPastedLetters) return Slice.empty;
  const lines = text
    .replace(/\r\n?/g, '\n')
    .split('\n')
    .map((line) => line.replaceAll(/[^\P{Cc}\t]/gu, ''));
  if (lines.filter((line) => line.trim()).length < 2) return null;
  if (isProgram(lines)) {
    const program = lines.join('\n').replace(/^\n+|\s+$/g, '');
    const listing = n.listing!.create(null, [n.caption!.create(), n.lines!.create(null, schema.text(program))]);
    return new Slice(Fragment.from(listing), 0, 0);
  }
  const made: Node[] = [];
  const paragraph = (words: string) => n.paragraph!.create(null, words ? schema.text(words) : null);
  let items: { kind: string | null; nodes: Node[] } = { kind: null, nodes: [] };
  const end = (kind: string | null) => {
    if (items.kind) made.push(n.list!.create({ kind: items.kind }, items.nodes));
    items = { kind, nodes: [] };
  };
  for (const line of lines) {
    const kind = bullet.test(line) ? 'unordered' : numbered.test(line) ? 'decimal' : null;
    const words = line.replace(kind === 'unordered' ? bullet : kind ? numbered : /^\s+/, '').trimEnd();
    if (!words) continue;
    if (kind !== items.kind) end(kind);
    if (!kind) made.push(paragraph(words));
    else items.nodes.push(n.item!.create(null, paragraph(words)));
  }
  end(null);
  const whole = (node: Node) => node.type !== n.paragraph;
  return new Slice(Fragment.from(made), whole(made[0]!) ? 0 : 1, whole(made.at(-1)!) ? 0 : 1);
}
