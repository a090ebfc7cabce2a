<script lang="ts" module>
  /** What a choice does when it is taken. */
  interface Choice {
    name: string;
    note?: string;
    next: Edition;
  }
</script>

<script lang="ts">
  // An edition told in sentences whose underlined words open their choices.
  import { languageChoices, languageName } from '../shared/languages';
  import { api, type Edition, type EditionsView, type OutputChoice } from '../shared/api';
  import { listTitle } from '../contents/list-titles';
  import AskWords from '../ui/AskWords.svelte';
  import Pick from '../ui/Pick.svelte';
  import Profile from './Profile.svelte';
  import Template from './Template.svelte';
  import Word from './Word.svelte';
  import { kindName, kinds, newOutput, outputsOf, splits } from './output-words';
  import { inManualsOrder, inOwnOrder, ownOrder, tookWords } from './taking';

  interface Props {
    edition: Edition;
    view: EditionsView;
    manualId: string;
    onchange: (next: Edition) => void;
  }
  let { edition, view, manualId, onchange }: Props = $props();

  /** The choices are asked for anew when the edition becomes another while they are open. */
  let open = $state.raw<{ label: string; choices: () => Choice[]; at: Element } | null>(null);
  let asking = $state.raw<{ label: string; text: string; then: (text: string) => Edition; at: Element } | null>(null);
  let shelf = $state.raw<string[]>([]);
  void api.looks().then(
    (looks) => (shelf = looks.map((l) => l.name)),
    () => undefined,
  );

  /** Where markup alone would swallow it. */
  const space = ' ';
  const mark = (on: boolean) => (on ? '✓' : '');
  const outputs = $derived(outputsOf(edition));

  // ---- the choices of each word ----
  const order = () => [
    { name: 'the manual’s order', note: mark(!ownOrder(edition)), next: inManualsOrder(edition, view.outline) },
    { name: 'its own order', note: mark(ownOrder(edition)), next: inOwnOrder(edition, view.outline) },
  ];

  function values(axis: string, all: string[]): Choice[] {
    const chosen = edition.chosen[axis] ?? [];
    const rest = Object.fromEntries(Object.entries(edition.chosen).filter(([a]) => a !== axis));
    return [
      { name: `any ${axis}`, note: mark(chosen.length === 0), next: { ...edition, chosen: rest } },
      ...all.map((value) => {
        const next = chosen.includes(value) ? chosen.filter((v) => v !== value) : [...chosen, value];
        return {
          name: value,
          note: mark(chosen.includes(value)),
          next: { ...edition, chosen: next.length > 0 ? { ...rest, [axis]: next } : rest },
        };
      }),
    ];
  }

  const languages = () =>
    [
      null,
      ...languageChoices(edition.language ?? '')
        .map((c) => c.tag)
        .filter((l) => l !== view.language),
    ].map((language) => ({
      name: language ? languageName(language) : `${languageName(view.language)}, as the manual’s`,
      note: mark(edition.language === language),
      next: { ...edition, language },
    }));

  const looks = () => [
    { name: `${view.look}, as the manual`, note: mark(!edition.look), next: { ...edition, look: null, lookFile: null } },
    ...shelf.map((look) => ({ name: look, note: mark(edition.look === look), next: { ...edition, look, lookFile: null } })),
  ];

  function list(name: string): Choice[] {
    const off = edition.without.includes(name);
    const rest = edition.without.filter((w) => w !== name);
    return [
      { name: 'with it', note: mark(!off), next: { ...edition, without: rest } },
      { name: 'without it', note: mark(off), next: { ...edition, without: [...rest, name] } },
    ];
  }

  const reads = { words: 'its title', manual: 'the manual’s title', nothing: 'nothing' } as const;
  const leftOut = () =>
    (Object.keys(reads) as (keyof typeof reads)[]).map((r) => ({
      name: reads[r],
      note: mark(edition.leftOut === r),
      next: { ...edition, leftOut: r },
    }));

  const withOutputs = (goesOutAs: OutputChoice[]): Edition => ({ ...edition, goesOutAs });
  const goes = () =>
    kinds.map(({ kind, name }) => {
      const on = outputs.some((o) => o.kind === kind);
      return {
        name,
        note: mark(on),
        next: withOutputs(on ? outputs.filter((o) => o.kind !== kind) : [...outputs, newOutput(kind)]),
      };
    });

  const changed = (kind: string, by: Partial<OutputChoice>) => withOutputs(outputs.map((o) => (o.kind === kind ? { ...o, ...by } : o)));
  const either = (o: OutputChoice, of: 'marks' | 'withoutBlanks' | 'facing' | 'checked', yes: string, no: string) => [
    { name: yes, note: mark(o[of]), next: changed(o.kind, { [of]: true }) },
    { name: no, note: mark(!o[of]), next: changed(o.kind, { [of]: false }) },
  ];
  const multiples = (o: OutputChoice) =>
    [1, 2, 4, 8, 16, 32].map((multiple) => ({
      name: multiple === 1 ? 'as many pages as it has' : `a multiple of ${multiple} pages`,
      note: mark(o.multiple === multiple),
      next: changed(o.kind, { multiple }),
    }));
  const millimetres = (leaf: number) => `${(leaf / 1000).toFixed(3).replace(/0{1,2}$/, '')} mm`;
  const leaves = (o: OutputChoice) =>
    [60, 80, 100, 120, 150, 200].map((leaf) => ({
      name: millimetres(leaf),
      note: mark(o.leaf === leaf),
      next: changed(o.kind, { leaf }),
    }));
  const covering = (o: OutputChoice, side: 'front' | 'back') => [
    { name: side === 'front' ? 'the title page' : 'nothing', note: mark(o[side] === ''), next: changed(o.kind, { [side]: '' }) },
    ...view.outline
      .filter((r) => r.depth === 0)
      .map((r) => ({ name: r.title || r.kind, note: mark(o[side] === r.id), next: changed(o.kind, { [side]: r.id }) })),
  ];
  const coverWords = (o: OutputChoice, side: 'front' | 'back') =>
    covering(o, side).find((c) => c.note)?.name ?? 'a division no longer there';
  const depths = (o: OutputChoice) =>
    [0, 1, 2, 3, 4, 6].map((outlineDepth) => ({
      name: depthWords(outlineDepth),
      note: mark(o.outlineDepth === outlineDepth),
      next: changed(o.kind, { outlineDepth }),
    }));
  const depthWords = (n: number) => (n === 0 ? 'no outline' : n >= 6 ? 'a whole outline' : `an outline of ${n} level${n === 1 ? '' : 's'}`);
  const splitChoices = (o: OutputChoice) =>
    splits
      .filter((s) => s.value !== 'nowhere' || o.kind === 'site')
      .map((s) => ({ name: s.name, note: mark(o.splits === s.value), next: changed(o.kind, { splits: s.value }) }));

  function variable(name: string, own: string | undefined, at: Element) {
    asking = {
      label: `“${name}” in this edition; empty for the manual’s own`,
      text: own ?? view.variables.find((v) => v.name === name)?.text ?? '',
      then: (text) => {
        const rest = Object.fromEntries(Object.entries(edition.variables).filter(([n]) => n !== name));
        return { ...edition, variables: text ? { ...rest, [name]: text } : rest };
      },
      at,
    };
  }

  function variables(): { name: string; note: string; variable: string }[] {
    return view.variables.map((v) => ({ name: v.name, note: edition.variables[v.name] ?? v.text, variable: v.name }));
  }
  let naming = $state.raw<Element | null>(null);

  /** The arrow keys go from one underlined word to the next. */
  function walk(event: KeyboardEvent) {
    const by = event.key === 'ArrowDown' || event.key === 'ArrowRight' ? 1 : event.key === 'ArrowUp' || event.key === 'ArrowLeft' ? -1 : 0;
    if (by === 0) return;
    const words = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('button.word')];
    const next = words[words.indexOf(document.activeElement as HTMLElement) + by];
    if (!next) return;
    event.preventDefault();
    next.focus();
  }
</script>

{#snippet word(text: string, label: string, choices: () => Choice[])}
  <Word label="{text}: {label}" onclick={(e) => (open = { label, choices, at: e.currentTarget })}>{text}</Word>
{/snippet}

<div class="sentences" role="toolbar" aria-orientation="vertical" aria-label="What the edition is" tabindex="-1" onkeydown={walk}>
  <p>
    “{edition.name}” takes <b>{tookWords(edition, view.outline)}</b>, in {@render word(
      ownOrder(edition) ? 'its own order' : 'the manual’s order',
      'Order',
      order,
    )}{#each view.conditions as c, i (c.axis)}{i === 0 ? ', for ' : ' and '}{@render word(
        edition.chosen[c.axis]?.length ? `${c.axis} ${edition.chosen[c.axis]!.join(' or ')}` : `any ${c.axis}`,
        c.axis,
        () => values(c.axis, c.values),
      )}{/each}, and wears {@render word(edition.look ?? `${view.look}, as the manual`, 'Look', looks)}.
    {#if view.variables.length > 0}
      It says
      <Word onclick={(e) => (naming = e.currentTarget)}
        >{Object.keys(edition.variables).length === 0
          ? 'what the manual says'
          : Object.entries(edition.variables)
              .map(([n, v]) => `“${v}” for ${n}`)
              .join(', ')}</Word
      >
      where variables stand.
    {/if}
    Its language is {@render word(edition.language ?? `${view.language}, as the manual’s`, 'Language', languages)}.
  </p>
  {#if view.lists.length > 0}
    <p>
      It has {#each view.lists as l, i (l)}{i === 0 ? '' : i === view.lists.length - 1 ? ' and ' : ', '}{@render word(
          `${edition.without.includes(l) ? 'no ' : ''}${l === 'index' ? (edition.without.includes(l) ? 'index' : 'an index') : listTitle(l).toLowerCase()}`,
          l === 'index' ? 'Index' : listTitle(l),
          () => list(l),
        )}{/each}. References to what is left out read {@render word(
        reads[edition.leftOut as keyof typeof reads] ?? reads.words,
        'References to what is left out read',
        leftOut,
      )}.
    </p>
  {/if}
  <p>
    It goes out as {@render word(outputs.map((o) => kindName(o.kind)).join(', '), 'Goes out as', goes)}.
    {#each outputs as o (o.kind)}{space}{#if o.kind === 'printPdf'}
        The print PDF has {@render word(o.marks ? 'crop marks' : 'no crop marks', 'Crop marks', () =>
          either(o, 'marks', 'crop marks', 'no crop marks'),
        )} and {@render word(multiples(o).find((m) => m.note)?.name ?? 'as many pages as it has', 'Pages', () => multiples(o))}, for <Profile
          {manualId}
          output={o}
          profiles={view.profiles}
          onchange={(by) => onchange(changed(o.kind, by))}
        />.
      {:else if o.kind === 'coverPdf'}
        The cover shows {@render word(coverWords(o, 'front'), 'Front', () => covering(o, 'front'))} on its front and {@render word(
          coverWords(o, 'back'),
          'Back',
          () => covering(o, 'back'),
        )} on its back; its spine is for leaves of {@render word(millimetres(o.leaf), 'Thickness of a leaf', () => leaves(o))}; it has
        {@render word(o.marks ? 'crop marks' : 'no crop marks', 'Crop marks', () => either(o, 'marks', 'crop marks', 'no crop marks'))}, for
        <Profile {manualId} output={o} profiles={view.profiles} onchange={(by) => onchange(changed(o.kind, by))} />.
      {:else if o.kind === 'screenPdf'}
        The screen PDF has {@render word(depthWords(o.outlineDepth), 'Outline', () => depths(o))}, {@render word(
          o.withoutBlanks ? 'no blank pages' : 'the blank pages of the book',
          'Blank pages',
          () => either(o, 'withoutBlanks', 'no blank pages', 'the blank pages of the book'),
        )}, and opens {@render word(o.facing ? 'two pages side by side' : 'page under page', 'Opens', () =>
          either(o, 'facing', 'two pages side by side', 'page under page'),
        )}.
      {:else if o.kind === 'epub' || o.kind === 'site'}
        {o.kind === 'epub' ? 'The EPUB has a file' : 'The web pages are'} for {@render word(
          splits.find((s) => s.value === o.splits)?.name ?? 'each division',
          'New page',
          () => splitChoices(o),
        )}, {@render ownStyle(o)}{#if o.kind === 'epub'}, and is {@render word(
            o.checked ? 'read by the format’s validator' : 'not validated',
            'Validated',
            () => either(o, 'checked', 'read by the format’s validator', 'not validated'),
          )}{/if}.
      {:else if o.kind === 'wordDocument'}
        The word-processing file is made <Template
          {manualId}
          output={o}
          templates={view.templates}
          onchange={(by) => onchange(changed(o.kind, by))}
        />.
      {/if}
    {/each}
    Its files are called <Word
      onclick={(e) =>
        (asking = {
          label:
            'What its files are called: words, with {manual}, {edition}, {output}, {date} and variables in braces; empty for the usual',
          text: edition.filesCalled,
          then: (filesCalled) => ({ ...edition, filesCalled }),
          at: e.currentTarget,
        })}>{edition.filesCalled || 'after manual and edition'}</Word
    >.
  </p>
</div>
<p class="hint">Every underlined word opens its choices. <kbd class="key">↑ ↓</kbd> from one to the next.</p>

{#snippet ownStyle(o: OutputChoice)}<Word
    onclick={(e) =>
      (asking = {
        label: 'Rules of style of your own (CSS), behind those of the look',
        text: o.ownStyle,
        then: (ownStyle) => changed(o.kind, { ownStyle }),
        at: e.currentTarget,
      })}>{o.ownStyle ? 'with style of its own' : 'in the look’s style'}</Word
  >{/snippet}

{#if open}
  <Pick
    label={open.label}
    choices={open.choices()}
    anchor={open.at}
    onchoose={(c) => {
      const at = open?.at as HTMLElement | undefined;
      open = null;
      at?.focus();
      onchange(c.next);
    }}
    onclose={() => {
      (open?.at as HTMLElement | undefined)?.focus();
      open = null;
    }}
  />
{:else if naming}
  <Pick
    label="Variable"
    choices={variables()}
    anchor={naming}
    onchoose={(c) => {
      const at = naming!;
      naming = null;
      variable(c.variable, edition.variables[c.variable], at);
    }}
    onclose={() => (naming = null)}
  />
{:else if asking}
  <AskWords
    label={asking.label}
    text={asking.text}
    does="have it so"
    anchor={asking.at}
    onchoose={(text) => {
      const next = asking!.then(text);
      asking = null;
      onchange(next);
    }}
    onclose={() => (asking = null)}
  />
{/if}

<style>
  .sentences p {
    font: 19px/1.75 var(--text);
    margin: 0 0 12px;
  }
  .sentences b {
    font-weight: 500;
  }
  .hint {
    color: var(--ink-soft);
    font-size: 12px;
  }
</style>
