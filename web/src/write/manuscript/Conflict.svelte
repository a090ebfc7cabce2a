<script lang="ts">
  interface Props {
    top: number;
    why: string;
    mine: string;
    theirs: string | null;
    /** Another writer changed it too; else the server could not store it. */
    conflict: boolean;
    onmine: () => void;
    oncopy: () => void;
    ontheirs: () => void;
    onboth: () => void;
    /** How tall it is, so that the text makes room for it. */
    height: number;
  }
  let { top, why, mine, theirs, conflict, onmine, oncopy, ontheirs, onboth, height = $bindable() }: Props = $props();
</script>

<div
  class="conflict"
  style:top="{top}px"
  bind:offsetHeight={height}
  role="group"
  aria-label={conflict ? 'Changed in two places' : 'Not stored'}
>
  <b>○ {why}</b>
  <dl>
    <dt>Mine</dt>
    <dd>{mine || '(nothing)'}</dd>
    <dt>{conflict ? 'Theirs' : 'Stored'}</dt>
    <dd>{theirs ?? (conflict ? '(taken out)' : '(nothing)')}</dd>
  </dl>
  <div class="acts">
    <button class="btn" onclick={onmine}>{conflict ? 'Keep mine' : 'Try again'}</button>
    <button class="btn" onclick={ontheirs}>{conflict ? 'Take theirs' : 'Leave mine'}</button>
    {#if conflict}<button class="btn" onclick={onboth} disabled={theirs === null}>Both</button>{/if}
    <button class="btn" onclick={oncopy}>Copy mine</button>
  </div>
</div>

<style>
  .conflict {
    position: absolute;
    left: var(--role-margin);
    right: var(--beside-margin);
    z-index: 12;
    background: var(--board);
    border: 1px solid var(--madder);
    border-left-width: 4px;
    padding: 8px 12px;
    box-shadow: 0 8px 24px rgb(60 50 30 / 0.2);
  }
  b {
    color: var(--madder);
  }
  dl {
    display: grid;
    grid-template-columns: 60px 1fr;
    margin: 6px 0;
  }
  dt {
    color: var(--ink-soft);
  }
  dd {
    font: 15px/1.4 var(--text);
  }
  .acts {
    display: flex;
    gap: 8px;
    flex-wrap: wrap;
  }
</style>
