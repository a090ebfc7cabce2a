<script lang="ts">
  // The pictures of the manual: how fine they print, who shows them, and another one everywhere at once.
  import type { KeptOnce } from '../../kept/kept-once.svelte';
  import Uses from '../../kept/Uses.svelte';
  import { writer } from '../../live/tab';
  import { address, api, type UsedPicture } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import Drawer from '../../ui/Drawer.svelte';
  import { focusFirst } from '../../ui/focus';

  interface Props {
    manualId: string;
    kept: KeptOnce;
    ongo: (division: string, block: string | null) => void;
    /** Figures show another picture: the text is read again. */
    onreplaced: () => void;
    onclose: () => void;
  }
  let { manualId, kept, ongo, onreplaced, onclose }: Props = $props();

  /** Coarser than this, a photograph shows its pixels in print. */
  const coarse = 200;
  let pictures = $state.raw<UsedPicture[] | null>(null);
  let unused = $state(false);
  const shown = $derived((pictures ?? []).filter((p) => !unused || p.uses.length === 0));

  async function read() {
    try {
      pictures = await api.pictures(manualId);
    } catch (e) {
      notices.problem(e);
    }
  }
  void read();

  async function replace(old: UsedPicture, file: File | undefined) {
    if (!file) return;
    try {
      const brought = await api.bringPicture(manualId, writer, file);
      if ((await kept.act({ do: 'replacePicture', name: old.name, to: brought.name })) === null) return;
      notices.tell(`“${brought.name}” stands in the place of “${old.name}”.`);
      onreplaced();
      await read();
    } catch (e) {
      notices.problem(e);
    }
  }
</script>

<Drawer label="Pictures" {onclose}>
  {#snippet head()}
    <b>Pictures of the manual</b>
    <button class="turn" aria-pressed={unused} onclick={() => (unused = !unused)} {@attach focusFirst}
      >only those that stand nowhere ({(pictures ?? []).filter((p) => p.uses.length === 0).length})</button
    >
  {/snippet}
  <ul>
    {#each shown as picture (picture.name)}
      <li>
        <img src={address(`/api/manuals/${manualId}/pictures/${encodeURIComponent(picture.name)}`)} alt="" loading="lazy" />
        <span class="name">{picture.name}</span>
        <span class="soft">{picture.width} × {picture.height}{picture.mediaType === 'image/svg+xml' ? ', a drawing' : ' pixels'}</span>
        <span class:coarse={picture.perInch > 0 && picture.perInch < coarse}
          >{picture.perInch > 0 ? `${picture.perInch} to the inch${picture.perInch < coarse ? ': coarse' : ''}` : ''}</span
        >
        <label class="btn" class:off={picture.uses.length === 0}
          >Another everywhere…
          <input
            class="sr"
            type="file"
            disabled={picture.uses.length === 0}
            accept="image/png,image/jpeg,image/svg+xml"
            aria-label="Another picture wherever {picture.name} stands"
            onchange={(e) => {
              void replace(picture, e.currentTarget.files?.[0]);
              e.currentTarget.value = '';
            }}
          /></label
        >
        <Uses of={picture.name} uses={picture.uses} {ongo} />
      </li>
    {:else}<li class="soft">
        {pictures === null ? 'Reading…' : unused ? 'Every picture stands somewhere.' : 'None yet: Ctrl ; and f puts one in.'}
      </li>{/each}
  </ul>
</Drawer>

<style>
  ul {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(560px, 1fr));
    gap: 2px 24px;
  }
  li {
    display: grid;
    grid-template-columns: 64px minmax(0, 1fr) auto 110px auto auto;
    gap: 10px;
    align-items: center;
    min-height: 50px;
  }
  img {
    width: 64px;
    height: 44px;
    object-fit: contain;
    background: #fff;
    border: 1px solid var(--rule);
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    font-weight: 600;
  }
  .soft {
    color: var(--ink-soft);
  }
  .coarse {
    color: var(--madder);
    font-weight: 600;
  }
  label:focus-within {
    outline: 2px solid var(--bottle);
  }
  .off {
    opacity: 0.4;
  }
  .turn {
    padding: 3px 9px;
    min-height: 24px;
    border-radius: var(--r);
    cursor: pointer;
  }
  .turn[aria-pressed='true'] {
    background: var(--bottle-tint);
  }
  @media (max-width: 860px) {
    ul {
      grid-template-columns: minmax(0, 1fr);
    }
    li {
      grid-template-columns: 64px minmax(0, 1fr) auto;
    }
  }
</style>
