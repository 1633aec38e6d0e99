<script lang="ts">
  import type { Snippet } from 'svelte';
  /** What belongs here, and the one action that starts it. */
  let { children }: { children: Snippet } = $props();
</script>

<p class="empty">{@render children()}</p>

<style>
  .empty { padding: var(--gap-4); border: 1px dashed var(--line-strong); color: var(--ink-soft); max-width: 60ch; }
</style>
