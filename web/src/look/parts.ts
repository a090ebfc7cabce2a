// The parts of a look as a designer finds them, and which settings stand in each.
import type { SettingForm } from '../shared/api';
import { freeName, layoutUses, valueAt, type Json, type Part } from './tree';

export type Forms = Record<string, SettingForm[]>;

/** Settings of one place, under a heading; only some of them where they are named. */
export interface Section {
  title: string;
  place: string;
  of: string;
  only?: readonly string[];
}

export interface LookPart {
  id: string;
  name: string;
  note: string;
  sections: Section[];
}

export interface Group {
  name: string;
  parts: LookPart[];
}

/** Names of values, as words. */
export const inWords = (name: string): string =>
  special[name] ?? name.replace(/([A-Z])/g, (c) => ' ' + c.toLowerCase()).replace(/^./, (c) => c.toUpperCase());

const special: Record<string, string> = {
  a: 'A head',
  b: 'B head',
  c: 'C head',
  d: 'D head',
  byDivision: 'After the division’s number',
  eachDivision: 'From 1 in each division',
  restarts: 'From 1 where they begin',
  through: 'Through, whatever stands between',
  continues: 'On from the division before',
  recto: 'On a right-hand page',
  verso: 'On a left-hand page',
  newPage: 'On the next page',
  runsOn: 'On the same page',
  byLook: 'As the look says',
  decimal: '1, 2, 3',
  roman: 'i, ii, iii',
  romanCapitals: 'I, II, III',
  letters: 'A, B, C',
  alpha: 'a, b, c',
  halfTitle: 'Half-title',
};

const blockSections: readonly {
  id: string;
  name: string;
  covers: readonly [string, string, string][];
  own: readonly string[];
  blocks: readonly string[];
}[] = [
  {
    id: 'lists',
    name: 'Lists and steps',
    covers: [
      ['Text', 'listText', 'dress'],
      ['Step numbers', 'stepNumber', 'dress'],
    ],
    own: ['listHang', 'itemGap', 'bullets'],
    blocks: ['numberGap', 'bulletGap', 'bulletHang'],
  },
  {
    id: 'definitions',
    name: 'Definitions',
    covers: [['Terms', 'term', 'dress']],
    own: [],
    blocks: ['definitionsAfter', 'definitionsWithin', 'definitionGap'],
  },
  {
    id: 'admonitions',
    name: 'Warnings and notes',
    covers: [
      ['Text', 'admonitionText', 'dress'],
      ['Signal words', 'signalWord', 'dress'],
    ],
    own: ['signal', 'signalColumn'],
    blocks: ['admonitionAbove', 'admonitionBelow', 'admonitionRule', 'admonitionEndRule', 'admonitionColour', 'signalGap', 'boxGap'],
  },
  {
    id: 'asides',
    name: 'Boxed texts',
    covers: [
      ['Text', 'asideText', 'dress'],
      ['Titles', 'asideTitle', 'dress'],
    ],
    own: ['asideBeside'],
    blocks: ['boxInset', 'boxTint', 'boxColour', 'besideGap'],
  },
  {
    id: 'tables',
    name: 'Tables',
    covers: [
      ['Rules and spaces', 'table', 'tableDress'],
      ['Cells', 'table.text', 'dress'],
      ['Header cells', 'table.head', 'dress'],
    ],
    own: [],
    blocks: ['tableBefore', 'tableAfter', 'tableWithin', 'captionAbove', 'tableNoteGap'],
  },
  {
    id: 'figures',
    name: 'Figures and captions',
    covers: [
      ['Captions', 'caption', 'dress'],
      ['Labels', 'captionLabel', 'dress'],
    ],
    own: ['figureRule'],
    blocks: [
      'figureBefore',
      'figureAfter',
      'floatGap',
      'figureWithin',
      'figureCaptionAbove',
      'captionBelow',
      'figureRuleGap',
      'figureNoteGap',
      'hairRule',
      'ruleColour',
    ],
  },
  {
    id: 'listings',
    name: 'Listings',
    covers: [['Text', 'listingText', 'dress']],
    own: [],
    blocks: ['listingBar', 'listingBarTint', 'listingIndent', 'listingWithin', 'markedTint'],
  },
  {
    id: 'equations',
    name: 'Equations',
    covers: [],
    own: ['equationIndent'],
    blocks: ['equationBefore', 'equationAfter', 'equationWithin'],
  },
  {
    id: 'notes',
    name: 'Footnotes and endnotes',
    covers: [['Text', 'noteText', 'dress']],
    own: ['notes', 'noteRule'],
    blocks: ['notesBefore', 'noteRuleGap', 'noteHang', 'endNoteGap', 'endNoteRuleGap', 'endNotesBefore'],
  },
];

/** Divisions that take a page layout, by how it is used. */
export function usesOf(look: Json, layout: string): string[] {
  const named = (choice: Json | undefined) => layoutUses.some((use) => (choice as Part | undefined)?.[use] === layout);
  const sequences = ((look as Part).sequences ?? {}) as Part;
  return [
    ...(named((look as Part).pages) ? ['all that name none'] : []),
    ...Object.keys(sequences).filter((kind) => named((sequences[kind] as Part).pages)),
  ];
}

export function groupsOf(look: Json): Group[] {
  const root = look as Part;
  const list = (name: string) => (root[name] ?? []) as Part[];
  const whole = (title: string, only: readonly string[]): Section => ({ title, place: '', of: 'look', only });
  return [
    {
      name: 'Page layouts',
      parts: list('masters').map((m, i) => ({
        id: `masters[${i}]`,
        name: String(m.name),
        note: m.basedOn ? `on ${String(m.basedOn)}` : '',
        sections: [
          { title: '', place: `masters[${i}]`, of: 'pageMaster', only: ['name', 'basedOn'] },
          { title: 'Paper and margins', place: `masters[${i}]`, of: 'pageMaster', only: frame },
          { title: 'Columns', place: `masters[${i}]`, of: 'pageMaster', only: ['columns', 'gutter', 'sideColumn', 'sideGap'] },
          { title: 'Running heads and feet', place: `masters[${i}]`, of: 'pageMaster', only: running },
          { title: 'Behind the text', place: `masters[${i}]`, of: 'pageMaster', only: ['artwork'] },
        ],
      })),
    },
    {
      name: 'Kinds of division',
      parts: [
        { id: 'pages', name: 'All', note: '', sections: [{ title: 'Layouts of their pages', place: 'pages', of: 'masterChoice' }] },
        ...Object.keys((root.sequences ?? {}) as Part).map((kind) => ({
          id: `sequences.${kind}`,
          name: inWords(kind),
          note: '',
          sections: [{ title: '', place: `sequences.${kind}`, of: 'pageSequence' }],
        })),
      ],
    },
    {
      name: 'Roles',
      parts: [
        ...list('dresses').map((d, i) => ({
          id: `dresses[${i}]`,
          name: inWords(String(d.role)) + (d.within ? ` in ${String(d.within)}` : '') + (d.division ? ` of ${String(d.division)}` : ''),
          note: '',
          sections: [{ title: '', place: `dresses[${i}].dress`, of: 'blockDress' }],
        })),
        {
          id: 'divisionTitle',
          name: 'Division title',
          note: '',
          sections: [
            { title: 'Title', place: 'divisionTitle', of: 'titleDress' },
            { title: 'Label', place: 'divisionLabel', of: 'dress' },
            whole('Where it stands', ['sink', 'afterTitle']),
          ],
        },
        ...list('heads').map((_, i) => ({
          id: `heads[${i}]`,
          name: `${'ABCD'[i]} head`,
          note: '',
          sections: [
            { title: '', place: `heads[${i}]`, of: 'blockDress' },
            ...(i === 0 ? [whole('All heads', ['numbersInSide', 'runIn'])] : []),
          ],
        })),
      ],
    },
    {
      name: 'Roles of your own',
      parts: [{ id: 'dresses', name: 'Another role …', note: '', sections: [] }],
    },
    {
      name: 'Named by use',
      parts: [
        { id: 'faces', name: 'The house’s faces', note: '', sections: [whole('', ['faces'])] },
        { id: 'colours', name: 'Colours', note: '', sections: [whole('', ['colours', 'linkColour'])] },
        { id: 'spans', name: 'Words in the text', note: '', sections: [whole('', ['spans'])] },
      ],
    },
    {
      name: 'Blocks',
      parts: blockSections.map((b) => ({
        id: `blocks of ${b.id}`,
        name: b.name,
        note: '',
        sections: [
          ...b.covers.map(([title, place, of]) => ({
            title,
            place,
            of,
            ...(of === 'tableDress' ? { only: tableRules } : {}),
          })),
          ...(b.own.length > 0 ? [whole('Set', b.own)] : []),
          { title: 'Spaces', place: 'blocks', of: 'blockMeasures', only: b.blocks },
        ],
      })),
    },
    {
      name: 'Generated',
      parts: [
        { id: 'numbering', name: 'Numbers', note: '', sections: [{ title: '', place: 'numbering', of: 'numberingRules' }] },
        ...list('lists').map((l, i) => ({
          id: `lists[${i}]`,
          name: `List “${String(l.name)}”`,
          note: '',
          sections: [{ title: '', place: `lists[${i}]`, of: 'contentsDefinition' }],
        })),
        {
          id: 'index',
          name: 'Index',
          note: '',
          sections: [
            { title: 'Set', place: 'index', of: 'indexDefinition', only: indexSet },
            { title: 'Headings and subheadings', place: 'index.text', of: 'dress' },
            { title: 'Group heads', place: 'index.group', of: 'dress' },
          ],
        },
        {
          id: 'referenceForms',
          name: 'References and addresses',
          note: '',
          sections: [whole('', ['referenceForms', 'pageAfterReferences', 'webAddresses'])],
        },
      ],
    },
    {
      name: 'The whole',
      parts: [
        {
          id: 'whole',
          name: 'Name and feet of pages',
          note: '',
          sections: [whole('', ['name', 'feet', 'sided', 'levelFacing', 'grid', 'lastPageLines', 'blank', 'repeatedTitlesLeftOut'])],
        },
        { id: 'screens', name: 'On screens', note: '', sections: [{ title: '', place: 'screens', of: 'screenRules' }] },
      ],
    },
  ];
}

const frame = ['width', 'height', 'bleed', 'inner', 'outer', 'top', 'foot', 'mirrored'];
const running = ['fields', 'headTop', 'headRuleOver', 'headRuleGap', 'footBaseline', 'footRuleGap', 'footRuleUnder'];
const tableRules = [
  'outer',
  'underHeader',
  'betweenRows',
  'above',
  'below',
  'columnGap',
  'ruleColour',
  'headerTint',
  'headerColour',
  'groupTint',
  'groupColour',
];
const indexSet = ['columns', 'gutter', 'indent', 'runIn', 'joins', 'elision', 'letterByLetter', 'groupHeads', 'principalBold', 'continued'];

/** The names of faces that ship. */
const shippedFaces = ['serif', 'serifItalic', 'sans', 'sansItalic', 'sansStrong', 'sansBold', 'code'];

/** Faces that a dress can name, as the look has them: those that ship, and the house's with what each has a file for. */
export function facesOf(look: Json): { name: string; words: string }[] {
  const house = (((look as Part).faces ?? []) as Part[]).flatMap((f) => [
    String(f.name),
    ...(f.italic ? [`${String(f.name)} italic`] : []),
    ...(f.strong ? [`${String(f.name)} strong`] : []),
    ...(f.strongItalic ? [`${String(f.name)} strong italic`] : []),
  ]);
  return [...shippedFaces.map((name) => ({ name, words: inWords(name) })), ...house.map((name) => ({ name, words: name }))];
}

export const coloursOf = (look: Json): { name: string; screen: string }[] =>
  (((look as Part).colours ?? []) as Part[]).map((c) => ({ name: String(c.name), screen: String(c.screen) }));

/** The part that a place of the look stands in. */
export function partOf(groups: readonly Group[], place: string): LookPart | undefined {
  const all = groups.flatMap((g) => g.parts);
  const within = (at: string) => at !== '' && (place === at || place.startsWith(at + '.') || place.startsWith(at + '['));
  return (
    all.find((p) => within(p.id)) ??
    all.find((p) => p.sections.some((s) => (s.of === 'look' || s.of === 'blockMeasures' ? hasSetting(s, place) : within(s.place))))
  );
}

const hasSetting = (section: Section, place: string) =>
  (section.only ?? []).some((name) => {
    const at = section.place ? `${section.place}.${name}` : name;
    return place === at || place.startsWith(at + '.') || place.startsWith(at + '[');
  });

/** A setting found by its words. */
export interface Found {
  part: LookPart;
  place: string;
  words: string;
}

/** All settings in whose words, or whose part's, each word that is looked for begins one: “space above A head”. */
export function search(look: Json, forms: Forms, words: string, most = 40): Found[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  if (wanted.length === 0) return [];
  const found: Found[] = [];
  for (const group of groupsOf(look))
    for (const part of group.parts)
      for (const section of part.sections)
        for (const form of settingsOf(forms, section)) {
          const place = section.place ? `${section.place}.${form.name}` : form.name;
          const title = [section.title, form.words].filter(Boolean).join(', ');
          const all = `${part.name} ${title}`.toLowerCase().split(/[^\p{L}\p{N}]+/u);
          if (wanted.every((w) => all.some((word) => word.startsWith(w))) && found.length < most) found.push({ part, place, words: title });
        }
  return found;
}

export const settingsOf = (forms: Forms, section: Section): SettingForm[] => {
  const all = forms[section.of] ?? [];
  return section.only ? section.only.flatMap((name) => all.filter((f) => f.name === name)) : all;
};

/** Numbers as they come out: of the fourth chapter, the second of its sections and figures, the first appendix. */
export function numbersShown(numbering: Part | undefined): string {
  const word = (name: string, usual: string) => {
    const said = numbering?.[name];
    return typeof said === 'string' ? said : usual;
  };
  const called = (name: string, number: string) => (name ? `${name} ${number}` : number);
  const heads = numbering?.headsTo === undefined ? 'a' : numbering.headsTo;
  const of = (kind: string, usual: string, n: number) => counted(word(kind, usual), n);
  const [chapter, appendix, part] = [of('chapters', 'decimal', 4), of('appendices', 'letters', 1), of('parts', 'romanCapitals', 2)];
  const head = [chapter, '2', '3', '1'].slice(0, heads === 'a' ? 2 : heads === 'b' ? 3 : heads === 'c' ? 4 : 5).join(word('headSign', '.'));
  const figure = (division: string, n: string, through: string) => {
    const within = { manual: '', part }[word('captionsBy', 'division')] ?? division;
    return `Figure ${within ? within + word('captionSign', '-') : ''}${within === division && division ? n : through}`;
  };
  return [
    called(word('chapter', 'Chapter'), chapter),
    heads === null || chapter === '' ? 'heads without numbers' : called(word('section', 'Section'), head),
    figure(chapter, '2', '17'),
    `${called(word('appendix', 'Appendix'), appendix)}, ${figure(appendix, '2', '31')}`,
  ].join(' · ');
}

/** The signs that kinds of division are counted in. */
const counted = (signs: string, n: number): string =>
  signs === 'none'
    ? ''
    : signs === 'letters'
      ? 'ABCDE'[n - 1]!
      : signs === 'romanCapitals'
        ? ['I', 'II', 'III', 'IV', 'V'][n - 1]!
        : String(n);

/** What a new item of a list begins as. */
export function newItem(look: Json, of: string, list: readonly Json[]): Json {
  const last = list.at(-1);
  if (of === 'houseFace' || of === 'namedColour') {
    const made = last === undefined ? first(look, of) : last;
    return { ...(made as Part), name: freeName(String((made as Part).name), list) };
  }
  return last ?? first(look, of);
}

function first(look: Json, of: string): Json {
  const dress = { face: 'sans', size: 8, leading: 10 };
  if (of === 'runningField') return { edge: 'foot', place: 'outer', pattern: '{folio}', dress };
  if (of === 'artwork') return { x: 0, y: 0, width: 72, height: 6 };
  if (of === 'houseFace') return { name: 'House face' };
  if (of === 'namedColour') return { name: 'heads', screen: '#1f3a5f' };
  if (of === 'spanDress') return { role: 'control' };
  if (of === 'text') return '•';
  return valueAt(look, 'lists[0].lines[0]') ?? {};
}
