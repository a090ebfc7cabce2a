// Search, pop-ups and films of a manual's web pages. Everything is read without it.
'use strict';

// ---- search: what it looks through is loaded when somebody searches ----
const form = document.querySelector('.search');
const field = document.getElementById('sought');
let search = null;

const load = (src) =>
  new Promise((done, failed) => {
    const script = document.createElement('script');
    Object.assign(script, { src, onload: done, onerror: failed });
    document.head.append(script);
  });

async function ready() {
  search ??= (async () => {
    await Promise.all([load('search/minisearch.js'), load('search/texts.js')]);
    const mini = new window.MiniSearch({
      fields: ['title', 'text'],
      storeFields: ['address', 'title', 'in', 'text'],
      searchOptions: { boost: { title: 3 }, prefix: true, fuzzy: 0.15, combineWith: 'AND' },
    });
    mini.addAll(window.kvSections);
    return mini;
  })();
  return search;
}

function around(text, terms) {
  const at = Math.max(0, ...terms.map((t) => text.toLowerCase().indexOf(t)));
  const from = Math.max(0, at - 50);
  return (from > 0 ? '…' : '') + text.slice(from, from + 140) + (text.length > from + 140 ? '…' : '');
}

async function show() {
  const mini = await ready();
  form.querySelector('.found')?.remove();
  const words = field.value.trim();
  if (!words) return;
  const found = mini.search(words).slice(0, 20);
  const list = document.createElement('ul');
  list.className = 'found';
  list.setAttribute('aria-label', form.dataset.found);
  for (const f of found) {
    const link = Object.assign(document.createElement('a'), { href: f.address, textContent: f.title });
    const small = document.createElement('small');
    small.textContent = (f.in ? f.in + ' · ' : '') + around(f.text, f.terms);
    const item = document.createElement('li');
    item.append(link, small);
    list.append(item);
  }
  if (found.length === 0)
    list.append(Object.assign(document.createElement('li'), { textContent: form.dataset.nothing }));
  form.append(list);
}

form.hidden = false;
field.addEventListener('focus', ready, { once: true });
field.addEventListener('input', show);
form.addEventListener('submit', (e) => {
  e.preventDefault();
  form.querySelector('.found a')?.click();
});
form.addEventListener('keydown', (e) => {
  const links = [...form.querySelectorAll('.found a')];
  const at = links.indexOf(document.activeElement);
  if (e.key === 'Escape') {
    form.querySelector('.found')?.remove();
    field.focus();
  } else if (e.key === 'ArrowDown' && links.length) {
    e.preventDefault();
    links[Math.min(at + 1, links.length - 1)].focus();
  } else if (e.key === 'ArrowUp' && at >= 0) {
    e.preventDefault();
    (links[at - 1] ?? field).focus();
  }
});
form.addEventListener('focusout', (e) => {
  if (!form.contains(e.relatedTarget)) form.querySelector('.found')?.remove();
});

// ---- pop-ups: what a note or a term says, beside its word ----
let says = null;
function close() {
  says?.remove();
  says = null;
}

async function wordsOf(link) {
  const name = decodeURIComponent(link.hash.slice(1));
  if (link.matches('.note-call')) return document.getElementById(name)?.textContent.replace(/^\s*\S+\s/, '');
  if (!window.kvTerms) await load('search/terms.js');
  return window.kvTerms?.[name];
}

async function open(link) {
  const words = await wordsOf(link);
  close();
  if (!words) return;
  says = Object.assign(document.createElement('p'), { className: 'says', id: 'says', textContent: words });
  says.setAttribute('role', 'status');
  document.body.append(says);
  const at = link.getBoundingClientRect();
  const left = Math.min(at.left, document.documentElement.clientWidth - says.offsetWidth - 8);
  says.style.left = Math.max(8, left) + scrollX + 'px';
  says.style.top = at.bottom + 6 + scrollY + 'px';
}

const popped = (e) => e.target.closest?.('a.note-call, a.to-term');
document.addEventListener('mouseover', (e) => popped(e) && open(popped(e)));
document.addEventListener('focusin', (e) => (popped(e) ? open(popped(e)) : close()));
document.addEventListener('mouseout', (e) => popped(e) && close());
document.addEventListener('keydown', (e) => e.key === 'Escape' && close());

// ---- films and sounds: nothing is fetched from elsewhere before somebody asks for it ----
for (const link of document.querySelectorAll('.plays .play > a')) {
  const kind = /\.(mp4|webm|ogv)$/i.test(link.pathname) ? 'video' : /\.(mp3|ogg|oga|wav|m4a)$/i.test(link.pathname) ? 'audio' : null;
  if (!kind) continue;
  const button = document.createElement('button');
  button.className = 'consent';
  button.type = 'button';
  button.textContent = 'Play, from ' + link.host;
  button.addEventListener('click', () => {
    const player = document.createElement(kind);
    Object.assign(player, { src: link.href, controls: true });
    link.closest('.plays').querySelector('.picture').replaceWith(player);
    button.remove();
    player.play().catch(() => {});
    player.focus();
  });
  link.before(button);
}
