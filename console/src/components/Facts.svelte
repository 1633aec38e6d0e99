<script lang="ts">
  import type { Snippet } from 'svelte';
  /** Terms and what they are, two columns; a fact's value may be a snippet. */
  let { facts }: { facts: { term: string; text?: string; mono?: boolean; value?: Snippet }[] } = $props();
</script>

<dl>
  {#each facts as fact, i (i)}
    <dt>{fact.term}</dt>
    <dd class:mono={fact.mono}>{#if fact.value}{@render fact.value()}{:else}{fact.text}{/if}</dd>
  {/each}
</dl>

<style>
  dl { display: grid; grid-template-columns: max-content minmax(0, 1fr); gap: var(--gap-1) var(--gap-4); margin: 0; }
  dt { color: var(--ink-soft); }
  dd { margin: 0; overflow-wrap: anywhere; }
  .mono { font-family: var(--mono); font-size: 0.9em; }
</style>
