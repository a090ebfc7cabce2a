<script lang="ts">
  // One level of a list: its composed sample line, whose pieces are chosen, put in, taken out and dressed where they stand.
  import type { ListableKind, ListLooked } from '../shared/api';
  import { facesFor, kindName, moved, piecesOf, takesKind, taking, withPiece, type OwnListLine, type Piece } from './own-list';
  import { withFaces } from '../shared/faces';

  interface Props {
    line: OwnListLine;
    index: number;
    sample: ListLooked['samples'][number] | undefined;
    kinds: ListableKind[];
    /** Which piece is open for its settings; null where another level's is. */
    piece: Piece | null;
    last: boolean;
    onpiece: (piece: Piece | null) => void;
    onchange: (line: OwnListLine) => void;
    onmove: (by: 1 | -1) => void;
    ontakeout: () => void;
  }
  let { line, index, sample, kinds, piece, last, onpiece, onchange, onmove, ontakeout }: Props = $props();

  let width = $state(400);
  const scale = $derived(sample ? width / sample.width : 1);
  const pieces = $derived(piecesOf(line));
  const absent = $derived(
    (['Number', 'Leader', 'Folio'] as Piece[]).filter((p) => !pieces.includes(p) && (p !== 'Leader' || line.folio === 'after')),
  );
  const own = $derived(kinds.filter((k) => takesKind(line, k.takes, k.kind)));
  const count = $derived(own.reduce((sum, k) => sum + k.count, 0));
  const others = $derived(kinds.filter((k) => k.takes.toLowerCase() === line.takes && k.takes === 'Division'));

  const points = (value: string, most: number) => Math.min(most, Math.max(0, Number(value.replace(',', '.')) || 0));
  const dress = (change: Partial<OwnListLine['dress']>) => onchange({ ...line, dress: { ...line.dress, ...change } });

  function key(event: KeyboardEvent, p: Piece) {
    if (event.key === 'Delete' && p !== 'Title') onchange(withPiece(line, p, false));
    else if (p === 'Folio' && event.key === 'ArrowLeft' && line.folio === 'after') onchange(moved(line));
    else if (p === 'Folio' && event.key === 'ArrowRight' && line.folio === 'before') onchange(moved(line));
    else return;
    event.preventDefault();
  }

  function takes(value: string) {
    const [what, kind] = value.split(':');
    onchange(taking(line, what!, kind ?? ''));
  }

  function toggleKind(kind: string, on: boolean) {
    const name = kind[0]!.toLowerCase() + kind.slice(1);
    const all = line.divisions.length > 0 ? line.divisions : others.map((o) => o.kind[0]!.toLowerCase() + o.kind.slice(1));
    const next = on ? [...all, name] : all.filter((d) => d !== name);
    if (next.length > 0) onchange({ ...line, divisions: next });
  }
</script>

<section class="level" aria-label="Level {index + 1}">
  <header>
    <b>{index + 1}</b>
    <select
      class="field"
      aria-label="What level {index + 1} takes"
      value={own[0] ? `${own[0].takes}:${own[0].kind}` : ''}
      onchange={(e) => takes(e.currentTarget.value)}
    >
      {#if own.length === 0}<option value="">{line.takes} {line.level ?? line.divisions.join(', ')}: none here</option>{/if}
      {#each kinds as k (k.takes + k.kind)}<option value="{k.takes}:{k.kind}">{kindName(k.takes, k.kind)} ({k.count})</option>{/each}
    </select>
    {#if own.length > 1 || (others.length > 1 && line.takes === 'division')}
      <details>
        <summary>{own.length === 1 ? kindName(own[0]!.takes, own[0]!.kind) : `${own.length} kinds`}</summary>
        <div class="kinds">
          {#each others as k (k.kind)}<label
              ><input
                type="checkbox"
                checked={takesKind(line, k.takes, k.kind)}
                onchange={(e) => toggleKind(k.kind, e.currentTarget.checked)}
              />
              {kindName(k.takes, k.kind)} ({k.count})</label
            >{/each}
        </div>
      </details>
    {/if}
    <span class="soft">{count === 1 ? '1 line' : `${count} lines`}</span>
    <span class="right">
      <button class="btn small" disabled={index === 0} aria-label="Level {index + 1} up" onclick={() => onmove(-1)}>↑</button>
      <button class="btn small" disabled={last} aria-label="Level {index + 1} down" onclick={() => onmove(1)}>↓</button>
      <button class="btn small" onclick={ontakeout}>Take out</button>
    </span>
  </header>
  <div class="line" bind:clientWidth={width}>
    {#if sample}
      <div class="drawn" aria-hidden="true">{@html withFaces(sample.svg)}</div>
      {#each sample.pieces as p, i (i)}
        <button
          class="piece"
          class:on={piece === p.piece}
          aria-label="{p.piece} of level {index + 1}"
          aria-expanded={piece === p.piece}
          style:left="{p.x * scale - 2}px"
          style:top="{p.y * scale}px"
          style:width="{Math.max(12, p.width * scale + 4)}px"
          style:height="{line.dress.leading * scale}px"
          onclick={() => onpiece(piece === p.piece ? null : (p.piece as Piece))}
          onkeydown={(e) => key(e, p.piece as Piece)}
        ></button>
      {/each}
    {:else}<p class="soft">Nothing in this manual is of this kind, so there is no line to show.</p>{/if}
  </div>
  {#if absent.length > 0}
    <p class="absent">
      {#each absent as p (p)}<button class="ghost" onclick={() => onchange(withPiece(line, p, true))}>+ {p.toLowerCase()}</button>{/each}
    </p>
  {/if}
  {#if piece}
    <div class="settings">
      {#if piece === 'Title'}
        <label
          >face <select
            class="field"
            value={line.dress.face}
            onchange={(e) => dress({ face: e.currentTarget.value as OwnListLine['dress']['face'] })}
            >{#each facesFor(line.dress.face) as f (f.face)}<option value={f.face}>{f.name}</option>{/each}</select
          ></label
        >
        <label
          >size <input class="field n" value={line.dress.size} onchange={(e) => dress({ size: points(e.currentTarget.value, 48) })} /> pt</label
        >
        <label
          >lines <input
            class="field n"
            value={line.dress.leading}
            onchange={(e) => dress({ leading: points(e.currentTarget.value, 96) })}
          /> pt apart</label
        >
        <label
          >space above <input
            class="field n"
            value={line.dress.before}
            onchange={(e) => dress({ before: points(e.currentTarget.value, 144) })}
          /> pt</label
        >
        <label
          >indent <input
            class="field n"
            value={line.indent}
            onchange={(e) => onchange({ ...line, indent: points(e.currentTarget.value, 300) })}
          /> pt</label
        >
        <label
          ><input type="checkbox" checked={line.runIn} onchange={(e) => onchange({ ...line, runIn: e.currentTarget.checked })} /> all of this
          level in one paragraph</label
        >
        <label
          ><input type="checkbox" checked={line.leadsOn} onchange={(e) => onchange({ ...line, leadsOn: e.currentTarget.checked })} /> stays with
          the line below</label
        >
      {:else if piece === 'Number'}
        <label
          >column <input
            class="field n"
            value={line.numberColumn}
            onchange={(e) => onchange({ ...line, numberColumn: points(e.currentTarget.value, 200) })}
          />
          pt; 0 sets it into the line</label
        >
        <label
          ><input type="checkbox" checked={line.named} onchange={(e) => onchange({ ...line, named: e.currentTarget.checked })} /> with its name
          (Appendix A)</label
        >
        <label
          ><input type="checkbox" checked={line.nameAbove} onchange={(e) => onchange({ ...line, nameAbove: e.currentTarget.checked })} /> on a
          line of its own above</label
        >
        <button class="btn small" onclick={() => onchange(withPiece(line, 'Number', false))}>Take it out <kbd class="key">Del</kbd></button>
      {:else if piece === 'Leader'}
        <button class="btn small" onclick={() => onchange(withPiece(line, 'Leader', false))}
          >Take the leader out <kbd class="key">Del</kbd></button
        >
      {:else}
        <button class="btn small" onclick={() => onchange(moved(line))}
          >{line.folio === 'after' ? 'Before the title ←' : 'Behind the title →'}</button
        >
        {#if line.folio === 'after' && !line.leader}<label
            >directly behind the title, after <input
              class="field n"
              aria-label="Separator"
              value={line.separator}
              placeholder="in its column"
              onchange={(e) => onchange({ ...line, separator: e.currentTarget.value.slice(0, 10) })}
            /></label
          >{/if}
        <button class="btn small" onclick={() => onchange(withPiece(line, 'Folio', false))}>Take it out <kbd class="key">Del</kbd></button>
      {/if}
    </div>
  {/if}
</section>

<style>
  .level {
    padding: 8px 0 12px;
    border-bottom: 1px solid var(--rule);
  }
  header {
    display: flex;
    align-items: center;
    gap: 8px;
    padding-bottom: 6px;
    font-size: 12.5px;
  }
  header .field {
    width: auto;
    max-width: 200px;
    padding: 2px 6px;
    font-size: 12.5px;
  }
  details {
    position: relative;
  }
  summary {
    cursor: pointer;
    color: var(--woad);
  }
  .kinds {
    position: absolute;
    z-index: 8;
    display: grid;
    gap: 3px;
    padding: 8px 12px;
    min-width: 170px;
    background: var(--board);
    border: 1px solid var(--rule);
    border-radius: var(--r);
    box-shadow: 0 8px 24px rgb(60 50 30 / 0.22);
  }
  .right {
    margin-left: auto;
    display: flex;
    gap: 4px;
  }
  .line {
    position: relative;
    background: #fff;
    padding: 0;
    box-shadow: 0 1px 2px rgb(60 50 30 / 0.3);
  }
  .piece {
    position: absolute;
    border: 1px dashed transparent;
    border-radius: 2px;
    cursor: pointer;
  }
  .piece:hover,
  .piece:focus-visible {
    border-color: #1d5a4b;
    background: rgb(29 90 75 / 0.08);
  }
  .piece.on {
    border: 1px solid #1d5a4b;
    background: rgb(29 90 75 / 0.12);
  }
  .absent {
    display: flex;
    gap: 6px;
    padding-top: 6px;
  }
  .ghost {
    padding: 1px 9px;
    border: 1px dashed var(--rule);
    border-radius: 10px;
    color: var(--ink-soft);
    font-size: 12px;
    cursor: pointer;
  }
  .settings {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 14px;
    align-items: center;
    padding: 8px 2px 0;
    font-size: 12.5px;
  }
  .settings label {
    display: inline-flex;
    align-items: center;
    gap: 5px;
  }
  .settings .field {
    width: auto;
    padding: 2px 6px;
  }
  .settings .n {
    width: 62px;
  }
  .small {
    padding: 1px 8px;
    font-size: 12px;
  }
  .soft {
    color: var(--ink-soft);
  }
</style>
