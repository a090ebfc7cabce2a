<script lang="ts">
  import { focusFirst } from '../../shared/focus';
  import type { Role } from '../manuscript/roles';

  interface Props {
    label: string;
    roles: Role[];
    x: number;
    y: number;
    onchoose: (role: Role) => void;
    onclose: () => void;
  }
  let { label, roles, x, y, onchoose, onclose }: Props = $props();

  let words = $state('');
  let at = $state(0);
  const shown = $derived(roles.filter((r) => r.name.toLowerCase().includes(words.toLowerCase())));

  function key(event: KeyboardEvent) {
    if (event.key === 'Escape') onclose();
    else if (event.key === 'ArrowDown') at = Math.min(at + 1, shown.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if (event.key === 'Enter') {
      const role = shown[at];
      if (role) onchoose(role);
    } else {
      // A single key of the chord acts at once, as long as nothing else was typed.
      const quick = words === '' && !event.ctrlKey && !event.metaKey ? roles.find((r) => r.key === event.key) : undefined;
      if (!quick) {
        at = 0;
        return;
      }
      onchoose(quick);
    }
    event.preventDefault();
  }
</script>

<div class="panel" style:left="{x}px" style:top="{y}px" role="dialog" aria-label={label}>
  <input
    class="field"
    placeholder="{label}: type, or press a key"
    aria-label={label}
    bind:value={words}
    onkeydown={key}
    onblur={onclose}
    {@attach focusFirst}
  />
  <ul>
    {#each shown as role, i (role.name)}
      <li>
        <button
          class:on={i === at}
          tabindex="-1"
          onmousedown={(e) => {
            e.preventDefault();
            onchoose(role);
          }}
        >
          <span>{role.name}</span>{#if role.key}<kbd class="key">{role.key}</kbd>{/if}
        </button>
      </li>
    {/each}
    {#if shown.length === 0}<li class="none">Nothing is called that.</li>{/if}
  </ul>
</div>

<style>
  .panel {
    width: 250px;
  }
  ul {
    max-height: 300px;
    overflow: auto;
    margin-top: 4px;
  }
  button {
    display: flex;
    justify-content: space-between;
    width: 100%;
    padding: 3px 8px;
    border-radius: var(--r);
    cursor: pointer;
  }
  button.on,
  button:hover {
    background: var(--bottle-tint);
  }
  .none {
    padding: 4px 8px;
    color: var(--ink-soft);
  }
</style>
