<script lang="ts">
  import type { Finding } from '../lib/types';
  import State from './State.svelte';
  let { findings }: { findings: Finding[] } = $props();
</script>

<ul>
  {#each findings as f (f.code + f.subjectId + f.evidence)}
    <li>
      <div><State state={f.severity} /> <strong>{f.subject}</strong> <span class="mono small soft">{f.code}</span></div>
      <p>{f.breaks}.</p>
      <p class="small"><span class="soft">Found</span> <span class="mono">{f.evidence}</span></p>
      <p class="small"><span class="soft">Do</span> {f.remedy}</p>
    </li>
  {/each}
</ul>

<style>
  ul { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-3); }
  li { border-left: 3px solid var(--line-strong); padding-left: var(--gap-3); display: grid; gap: 2px; max-width: 80ch; overflow-wrap: anywhere; }
</style>
