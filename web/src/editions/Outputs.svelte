<script lang="ts">
  // What was produced of an edition: stages with progress, then the report, with a way to every place that is to be mended.
  import { address, api, type Edition, type Output, type OutputReport } from '../shared/api';
  import { notices } from '../shared/notices.svelte';
  import { route } from '../shared/route.svelte';
  import { isBusy, kindName, newest, outputsOf, size, when } from './output-words';

  interface Props {
    manualId: string;
    edition: Edition;
    outputs: Output[];
    /** The last act in the text. */
    act: number;
    /** Of one kind, or of all. */
    onproduce: (kind?: string) => void;
  }
  let { manualId, edition, outputs, act, onproduce }: Props = $props();

  const lasts = $derived(newest(outputs, edition.name));
  const busy = $derived(lasts.filter(isBusy));
  let opened = $state('');
  let reports = $state.raw<Record<string, OutputReport>>({});

  async function open(output: Output) {
    opened = opened === output.id ? '' : output.id;
    if (!opened || reports[output.id]) return;
    try {
      reports = { ...reports, [output.id]: await api.outputReport(manualId, output.id) };
    } catch (e) {
      notices.problem(e);
    }
  }

  async function cancel(output: Output) {
    try {
      await api.cancelOutput(manualId, output.id);
    } catch (e) {
      notices.problem(e);
    }
  }

  const count = (n: number, of: string) => (n === 0 ? `no ${of}s` : n === 1 ? `1 ${of}` : `${n} ${of}s`);
  const hasPages = (kind: string) => kind === 'printPdf' || kind === 'screenPdf';
  const isPdf = (kind: string) => kind.endsWith('Pdf');
  function summary(o: Output): string {
    return [hasPages(o.kind) && count(o.pages, 'page'), count(o.looseEnds, 'loose end'), o.bytes > 0 && size(o.bytes)]
      .filter(Boolean)
      .join(', ');
  }

  const file = (output: Output) => address(`/api/manuals/${manualId}/outputs/${output.id}/file`);
  const shape = { wrong: '○', unsightly: '◇', doubtful: '·' } as Record<string, string>;
</script>

<section class="outputs" aria-label="Outputs of the edition">
  <header>
    <button class="btn do" onclick={() => onproduce()} disabled={busy.length > 0}
      >Produce {outputsOf(edition).length === 1 ? kindName(outputsOf(edition)[0]!.kind) : `all ${outputsOf(edition).length}`}</button
    >
  </header>
  {#each outputsOf(edition) as choice (choice.kind)}
    {@const last = lasts.find((o) => o.kind === choice.kind)}
    <article aria-label={kindName(choice.kind)}>
      <h3>
        {kindName(choice.kind)}{#if last}<i> · {when(last.askedAt)}</i>{/if}
        {#if outputsOf(edition).length > 1 && !(last && isBusy(last))}<button class="btn small" onclick={() => onproduce(choice.kind)}
            >Produce</button
          >{/if}
      </h3>
      {#if !last}<p class="soft">Not produced yet.</p>
      {:else if isBusy(last)}
        <p role="status">
          {last.stage || 'Waiting for its turn'}{last.total ? `, ${last.done} of ${last.total}` : ''}
          <button class="btn small" onclick={() => void cancel(last)}>Cancel</button>
        </p>
        <progress max={last.total || 1} value={last.total ? last.done : undefined} aria-label="Producing {kindName(choice.kind)}"
        ></progress>
      {:else if last.state === 'Cancelled'}<p class="soft">Cancelled.</p>
      {:else if last.state === 'Failed'}<p class="m" role="status">○ {last.problem}</p>
      {:else}
        {#if last.wrong > 0}<p class="m" role="status">
            ○ {last.wrong === 1 ? 'One place says' : `${last.wrong} places say`} something wrong. Mend {last.wrong === 1 ? 'it' : 'them'} before
            this goes out.
          </p>{:else}<p class="sound">✓ Nothing in it says something wrong.</p>{/if}
        <p>
          {summary(last)}
        </p>
        {#if last.act < act}<p class="o">▮ The text has changed since.</p>{/if}
        <p class="acts">
          {#if last.bytes > 0}
            <a class="btn" class:do={last.wrong === 0 && last.act >= act} href={file(last)} download
              >{last.wrong > 0 ? 'Take it as it is' : 'Take the file'}</a
            >
            {#if isPdf(last.kind)}<a class="btn" href={file(last)} target="_blank" rel="noopener">Open</a>{/if}
          {/if}
          <button class="btn" aria-expanded={opened === last.id} onclick={() => void open(last)}>Report</button>
        </p>
        {#if opened === last.id && reports[last.id]}
          {@const report = reports[last.id]!}
          <div class="report">
            {#if report.since}
              <h4>Since the output before</h4>
              {#each report.since as line (line)}<p>{line}</p>{:else}<p>Nothing changed.</p>{/each}
            {/if}
            {#if report.notes.length > 0}
              <h4>About this file</h4>
              {#each report.notes as note (note)}<p>{note}</p>{/each}
            {/if}
            <h4>{report.warnings.length === 0 ? 'No warnings' : 'Warnings'}</h4>
            <ul>
              {#each report.warnings as w, i (i)}
                <li>
                  <button
                    onclick={() => route.manual(manualId, w.division, w.block === w.division ? null : w.block)}
                    title="Open the place in Write"
                    ><b class:m={w.gravity === 'wrong'}>{shape[w.gravity]} {w.name}</b>{w.folio ? `, page ${w.folio}` : ''}: {w.message}
                    {#if w.words}<i>“{w.words.length > 60 ? w.words.slice(0, 60) + '…' : w.words}”</i>{/if}</button
                  >
                </li>
              {/each}
            </ul>
            {#if report.moreWarnings > 0}<p class="soft">and {report.moreWarnings} more.</p>{/if}
            {#if report.coarse.length > 0}
              <h4>Pictures that print coarsely</h4>
              {#each report.coarse as c (c.name)}<p>{c.name}: {c.perInch} pixels to the inch; print wants 200.</p>{/each}
            {/if}
            <h4>Made of</h4>
            <p>
              {report.passes} passes, {report.pictures} pictures, {report.faces.length} faces{report.faces.length
                ? `: ${report.faces.join(', ')}`
                : ''}.
            </p>
          </div>
        {/if}
      {/if}
    </article>
  {/each}
</section>

<style>
  .outputs {
    overflow: auto;
    padding: 10px 16px 20px;
  }
  header {
    display: flex;
    justify-content: flex-end;
  }
  article {
    padding: 8px 0 12px;
    border-bottom: 1px solid var(--rule);
  }
  h3 {
    display: flex;
    gap: 4px;
    align-items: center;
    font-size: 13px;
    font-weight: 600;
    margin-bottom: 4px;
  }
  h3 i {
    font-style: normal;
    font-weight: 400;
    color: var(--ink-soft);
  }
  h3 .btn {
    margin-left: auto;
  }
  h4 {
    margin: 8px 0 2px;
    font-size: 12px;
    font-weight: 600;
    color: var(--ink-soft);
  }
  p {
    margin: 2px 0;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    margin-top: 8px;
  }
  progress {
    width: 100%;
    height: 4px;
    accent-color: var(--bottle);
  }
  .soft {
    color: var(--ink-soft);
  }
  .sound {
    color: var(--bottle);
  }
  .m {
    color: var(--madder);
  }
  .o {
    color: var(--ochre);
  }
  li button {
    width: 100%;
    text-align: left;
    padding: 3px 0;
    cursor: pointer;
    line-height: 1.4;
  }
  li button:hover {
    text-decoration: underline;
  }
  li i {
    font-style: normal;
    color: var(--ink-soft);
  }
  a.btn {
    text-decoration: none;
  }
</style>
