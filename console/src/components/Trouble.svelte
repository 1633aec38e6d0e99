<script lang="ts">
  import type { Problem } from '../lib/types';
  let { problem }: { problem: Problem | null } = $props();
</script>

<div role="alert" class:has={problem}>
  {#if problem}
    <p class="trouble"><strong>{problem.title}:</strong> {problem.detail}. <span class="soft">{problem.remedy}</span></p>
  {/if}
</div>

<style>
  div:not(.has) { display: contents; }
  .trouble { border-left: 3px solid var(--failing); padding: var(--gap-2) var(--gap-3); background: var(--sheet); }
  strong { color: var(--failing); }
</style>
