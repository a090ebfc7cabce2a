<script lang="ts">
  // The Kivren sign: an open book, one leaf filled.
</script>

<svg width="20" height="22" viewBox="0 0 20 22" aria-hidden="true">
  <path d="M2 2v18l8-4V6z" fill="var(--bottle)" />
  <path d="M18 2v18l-8-4V6z" fill="none" stroke="var(--bottle)" stroke-width="1.6" />
</svg>
