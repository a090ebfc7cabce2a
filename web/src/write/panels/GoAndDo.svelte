<script lang="ts" module>
  export interface Deed {
    name: string;
    key: string;
    run: () => void;
  }
</script>

<script lang="ts">
  import { focusFirst } from '../../ui/focus';
  import { api, type ProofPage, type TargetChoice } from '../../shared/api';

  interface Props {
    manualId: string;
    deeds: Deed[];
    pages: ProofPage[];
    onpage: (sheet: number) => void;
    ontarget: (id: string) => void;
    onclose: () => void;
  }
  let { manualId, deeds, pages, onpage, ontarget, onclose }: Props = $props();

  interface Line {
    label: string;
    note: string;
    run: () => void;
  }

  let words = $state('');
  let targets = $state<TargetChoice[]>([]);
  let at = $state(0);

  $effect(() => {
    const asked = words;
    api.targets(manualId, asked).then(
      (t) => {
        if (asked === words) targets = t;
      },
      () => (targets = []),
    );
  });

  const lines = $derived.by<Line[]>(() => {
    const asked = words.trim().toLowerCase();
    const found: Line[] = [];
    const folio = /^p\s+(\S+)$/.exec(asked)?.[1];
    if (folio) {
      const sheet = pages.findIndex((p) => p.folio.toLowerCase() === folio);
      if (sheet >= 0) found.push({ label: `Page ${pages[sheet]!.folio}`, note: 'go', run: () => onpage(sheet) });
    }
    for (const d of deeds)
      if (asked && d.name.toLowerCase().includes(asked)) found.push({ label: d.name, note: d.key || 'do', run: d.run });
    for (const t of targets.slice(0, 12))
      found.push({
        label: `${t.number ? `${t.name} ${t.number} `.trimStart() : ''}${t.title}`,
        note: t.folio ? `page ${t.folio}` : '',
        run: () => ontarget(t.id),
      });
    if (!asked) for (const d of deeds) found.push({ label: d.name, note: d.key || 'do', run: d.run });
    return found;
  });

  function run(line: Line | undefined) {
    if (!line) return;
    onclose();
    line.run();
  }

  function key(event: KeyboardEvent) {
    if (event.key === 'Escape') onclose();
    else if (event.key === 'ArrowDown') at = Math.min(at + 1, lines.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if (event.key === 'Enter') run(lines[at]);
    else {
      at = 0;
      return;
    }
    event.preventDefault();
  }
</script>

<div class="panel" role="dialog" aria-label="Go and do">
  <input
    class="field"
    placeholder="Go to a head, a figure, “p 47”; or do something"
    aria-label="Go and do"
    bind:value={words}
    onkeydown={key}
    onblur={onclose}
    {@attach focusFirst}
  />
  <ul>
    {#each lines as line, i (i)}
      <li>
        <button
          class:on={i === at}
          tabindex="-1"
          onmousedown={(e) => {
            e.preventDefault();
            run(line);
          }}><span>{line.label}</span><i>{line.note}</i></button
        >
      </li>
    {/each}
    {#if lines.length === 0}<li class="none">Nothing is called that.</li>{/if}
  </ul>
</div>

<style>
  .panel {
    position: fixed;
    left: 50%;
    top: 60px;
    transform: translateX(-50%);
    width: 520px;
    z-index: 30;
    background: var(--board);
    border: 1px solid var(--rule);
    border-radius: var(--r);
    padding: 8px;
    box-shadow: 0 12px 32px rgb(60 50 30 / 0.28);
  }
  ul {
    max-height: 360px;
    overflow: auto;
    margin-top: 6px;
  }
  button {
    display: flex;
    justify-content: space-between;
    gap: 12px;
    width: 100%;
    text-align: left;
    padding: 4px 8px;
    border-radius: var(--r);
    cursor: pointer;
  }
  button.on,
  button:hover {
    background: var(--bottle-tint);
  }
  i {
    font-style: normal;
    color: var(--ink-soft);
    white-space: nowrap;
  }
  .none {
    padding: 4px 8px;
    color: var(--ink-soft);
  }
</style>
