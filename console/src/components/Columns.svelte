<script lang="ts">
  import type { Snippet } from 'svelte';
  /** Two columns where there is room for both; one under the other elsewhere. */
  let { main, side }: { main: Snippet; side: Snippet } = $props();
</script>

<div class="columns"><div>{@render main()}</div><div>{@render side()}</div></div>

<style>
  .columns, .columns > div { display: grid; grid-template-columns: minmax(0, 1fr); gap: var(--gap-6); align-content: start; }
  @media (min-width: 1500px) { .columns { grid-template-columns: minmax(0, 3fr) minmax(0, 2fr); column-gap: var(--gap-8); align-items: start; } }
</style>
