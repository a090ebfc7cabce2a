<script lang="ts">
  import type { UsePlace } from '../shared/api';

  interface Props {
    /** What is used there. */
    of: string;
    uses: UsePlace[];
    ongo: (division: string, block: string | null) => void;
  }
  let { of, uses, ongo }: Props = $props();
  let open = $state(false);
</script>

{#if uses.length === 0}<span class="none">not used</span>
{:else}
  <button aria-expanded={open} aria-label="Where {of} is used: {uses.length}" onclick={() => (open = !open)}
    >{uses.length === 1 ? '1 place' : `${uses.length} places`} {open ? '▴' : '▾'}</button
  >
  {#if open}
    <ul>
      {#each uses as use, i (i)}
        <li>
          <button onclick={() => ongo(use.division, use.block || null)}
            ><b>{use.title}</b> {use.block ? use.words || '…' : 'the whole division'}</button
          >
        </li>
      {/each}
    </ul>
  {/if}
{/if}

<style>
  .none {
    color: var(--ink-soft);
    padding: 3px 6px;
    white-space: nowrap;
  }
  button {
    min-height: 24px;
    padding: 2px 6px;
    border-radius: var(--r);
    white-space: nowrap;
    cursor: pointer;
  }
  button:hover {
    background: var(--bottle-tint);
  }
  ul {
    grid-column: 1 / -1;
    max-height: 150px;
    overflow: auto;
    border-left: 2px solid var(--rule);
    margin-left: 6px;
  }
  li button {
    width: 100%;
    overflow: hidden;
    text-overflow: ellipsis;
    text-align: left;
  }
</style>
