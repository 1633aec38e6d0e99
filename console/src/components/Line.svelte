<script lang="ts">
  import { router } from '../lib/router.svelte';
  import type { Area } from '../lib/types';
  /** The work at a glance: one stop for each area, with what is there and what waits; `brief` where the page says that itself. */
  let { areas, brief = false }: { areas: Area[]; brief?: boolean } = $props();
  const owns: Record<string, string[]> = { profiles: ['people'] };
  const here = $derived(router.parts[0] ?? '');
</script>

<nav aria-label="Overview by area">
  <ol>
    {#each areas as area (area.key)}
      <li>
        <a href="/{area.key}" aria-current={here === area.key || owns[area.key]?.includes(here) ? 'page' : undefined} title={area.worst || undefined}>
          <span class="label">{area.label}</span>
          <span class="count num">{area.count}</span>
          <span class="mark" class:waits={area.waiting > 0} aria-hidden="true"></span>
          {#if brief}<span class="visually-hidden">{area.worst}</span>{:else}<span class="worst small">{area.worst}</span>{/if}
        </a>
      </li>
    {/each}
  </ol>
</nav>

<style>
  ol { display: grid; grid-template-columns: repeat(6, minmax(0, 1fr)); list-style: none; margin: 0; padding: 0; }
  a { display: grid; grid-template-columns: auto 1fr; column-gap: var(--gap-2); color: var(--ink); text-decoration: none; padding: var(--gap-2) var(--gap-3) var(--gap-2) 0; position: relative; height: 100%; align-content: start; }
  a::before { content: ''; position: absolute; left: 0; right: 0; top: 2.55rem; border-top: 1px solid var(--line-strong); }
  .label { font-weight: 600; }
  .count { color: var(--ink-soft); }
  .mark { grid-column: 1 / -1; width: 11px; height: 11px; border-radius: 50%; border: 1.5px solid var(--line-strong); background: var(--ground); margin: 0.22rem 0; position: relative; }
  .mark.waits { border-color: var(--waiting); background: linear-gradient(90deg, var(--ground) 50%, var(--waiting) 50%); }
  .worst { grid-column: 1 / -1; color: var(--waiting); min-height: 1.25rem; line-height: 1.25; }
  a[aria-current] .label { color: var(--accent); text-decoration: underline; text-underline-offset: 0.3em; text-decoration-thickness: 2px; }
  a:hover .label { color: var(--accent); }
  @media (max-width: 720px) {
    ol { grid-template-columns: repeat(3, minmax(0, 1fr)); }
    .worst { display: none; }
  }
</style>
