<script lang="ts">
  import type { Snippet } from 'svelte';
  let { title, note = '', actions, children }: { title: string; note?: string; actions?: Snippet; children: Snippet } = $props();
  const id = $props.id();
</script>

<section aria-labelledby={id}>
  <header>
    <h2 {id}>{title}</h2>
    {#if note}<span class="soft small">{note}</span>{/if}
    {#if actions}<div class="actions">{@render actions()}</div>{/if}
  </header>
  {@render children()}
</section>

<style>
  section { display: grid; grid-template-columns: minmax(0, 1fr); gap: var(--gap-3); min-width: 0; }
  header { display: flex; flex-wrap: wrap; align-items: baseline; gap: var(--gap-2) var(--gap-4); border-bottom: 1px solid var(--line-strong); padding-bottom: var(--gap-1); }
  .actions { margin-left: auto; display: flex; gap: var(--gap-2); flex-wrap: wrap; }
</style>
