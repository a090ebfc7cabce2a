<script lang="ts" module>
  /** What a popover stands at: an element, or a place that is asked for anew as the screen scrolls. */
  export interface Anchor {
    getBoundingClientRect(): DOMRect;
  }
</script>

<script lang="ts">
  import type { Snippet } from 'svelte';
  import { Popover } from 'bits-ui';

  interface Props {
    label: string;
    anchor: Anchor;
    width?: number;
    onclose: () => void;
    /** It goes with what it stands at, not by a click elsewhere. */
    stays?: boolean;
    children: Snippet;
  }
  let { label, anchor, width, onclose, stays = false, children }: Props = $props();
</script>

<!-- Under its anchor, or above it where there is no room; never beyond the window, and scrolled where it is taller. -->
<Popover.Root open onOpenChange={(open) => !open && onclose()}>
  <Popover.Portal>
    <Popover.Content
      class="popover"
      role="dialog"
      aria-label={label}
      customAnchor={anchor}
      side="bottom"
      align="start"
      sideOffset={6}
      collisionPadding={8}
      trapFocus={false}
      interactOutsideBehavior={stays ? 'ignore' : 'close'}
      style={width ? `width: ${width}px` : ''}
      onOpenAutoFocus={(e) => e.preventDefault()}
      onCloseAutoFocus={(e) => e.preventDefault()}
    >
      {@render children()}
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>

<style>
  :global(.popover) {
    max-width: calc(100vw - 16px);
    max-height: var(--bits-popover-content-available-height);
    overflow: auto;
    z-index: 20;
    background: var(--board);
    border: 1px solid var(--rule);
    border-radius: var(--r);
    padding: 6px;
    box-shadow: 0 8px 24px rgb(60 50 30 / 0.22);
  }
</style>
