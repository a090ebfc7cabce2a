<script lang="ts">
  // Picture files on their way into the text: chosen, dropped, pasted.
  import type { Node } from 'prosemirror-model';
  import type { EditorView } from 'prosemirror-view';
  import { writer } from '../../live/tab';
  import { api, newId } from '../../shared/api';
  import { notices } from '../../shared/notices.svelte';
  import { findBlock } from './blocks';
  import { schema } from './schema';

  interface Props {
    manualId: string;
    editor: () => EditorView | null;
    /** Puts a figure in where the caret is. */
    put: (node: Node) => void;
  }
  let { manualId, editor, put }: Props = $props();

  let chooser = $state<HTMLInputElement>();
  /** The figure whose picture is chosen anew; null when a new figure comes. */
  let replacing: string | null = null;

  export function choose(figure: string | null) {
    replacing = figure;
    chooser?.click();
  }

  /** Keeps picture files with the manual and puts figures of them in, or gives one figure another picture. */
  export async function bring(files: File[], figure: string | null = null) {
    for (const file of files)
      try {
        notices.tell(`Bringing in “${file.name}”…`);
        const picture = await api.bringPicture(manualId, writer, file);
        const view = editor();
        if (!view) return;
        const at = figure ? findBlock(figure, view.state.doc) : null;
        if (figure && !at) return notices.tell('The figure was taken out meanwhile.');
        if (at) view.dispatch(view.state.tr.setNodeAttribute(at.pos, 'asset', picture.name));
        else put(schema.nodes.figure!.create({ id: newId(), asset: picture.name }));
        notices.tell(at ? `The figure shows “${picture.name}” now.` : `“${picture.name}” is in. Say in words what it shows.`);
      } catch (e) {
        notices.problem(e);
      }
  }
</script>

<input
  bind:this={chooser}
  class="sr"
  type="file"
  tabindex="-1"
  aria-label="Picture file"
  accept="image/png,image/jpeg,image/svg+xml"
  onchange={(e) => {
    void bring([...(e.currentTarget.files ?? [])].slice(0, 1), replacing);
    e.currentTarget.value = '';
  }}
/>
