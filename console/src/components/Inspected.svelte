<script lang="ts">
  import type { Inspection } from '../lib/types';
  import Button from './Button.svelte';
  import Facts from './Facts.svelte';
  import State from './State.svelte';
  /** What a file is, where it leads and what is wrong with it; an archive's files set in. */
  let { of, archive = false }: { of: Inspection; archive?: boolean } = $props();
  const few = 20;
  let all = $state(false);
  const shown = $derived(all ? of.notes : of.notes.slice(0, few));
  const rows = (i: Inspection) => i.facts.map((f) => ({ term: f.label, text: f.value, mono: /leads|tunnel|key$|names/.test(f.label) }));
</script>

<section class:part={of.depth > 0}>
  <svelte:element this={of.depth > 0 ? 'h3' : 'h2'}><span class="mono">{of.name}</span> <span class="soft small">{of.title}</span></svelte:element>
  {#if of.facts.length}<Facts facts={rows(of)} />{/if}
  {#if of.notes.length}
    <ul>
      {#each shown as n, i (i)}
        <li>
          <State state={n.severity} />
          <div>
            {#if n.line}<span class="soft">line {n.line}</span>{/if} {n.says} {#if n.detail}<span class="mono small">{n.detail}</span>{/if}
            <div class="small soft">{n.remedy}</div>
          </div>
        </li>
      {/each}
    </ul>
    {#if shown.length < of.notes.length}<Button onclick={() => { all = true; }}>Show {of.notes.length - shown.length} more</Button>{/if}
  {:else if of.depth > 0 || !archive}<p class="soft">No objections.</p>{/if}
</section>

<style>
  section { border-top: 1px solid var(--line); padding-top: var(--gap-3); margin-top: var(--gap-4); }
  .part { margin-left: var(--gap-4); }
  h2, h3 { font-size: inherit; margin: 0 0 var(--gap-2); overflow-wrap: anywhere; }
  ul { list-style: none; margin: var(--gap-3) 0 0; padding: 0; display: grid; gap: var(--gap-2); }
  li { display: grid; grid-template-columns: 5.5rem minmax(0, 1fr); gap: var(--gap-3); align-items: baseline; overflow-wrap: anywhere; }
  @media (max-width: 40rem) { .part { margin-left: var(--gap-2); } li { grid-template-columns: 1fr; gap: 0; } }
</style>
