<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Finding } from '../lib/types';
  import State from './State.svelte';
  /** One finding: what is wrong for whom, what it breaks, and the remedy. */
  let { finding: f, pick, actions, below }: { finding: Finding; pick?: Snippet; actions?: Snippet; below?: Snippet } = $props();
</script>

<div class="head">
  <span>{@render pick?.()}<State state={f.acceptedUntil ? 'accepted' : f.severity} /> <strong>{f.subject}</strong> <span class="mono small soft">{f.code}</span></span>
  {#if actions}<span class="do">{@render actions()}</span>{/if}
</div>
<p>{f.breaks}{f.breaks.endsWith('.') ? '' : '.'}</p>
<p class="small"><span class="soft">Found</span> <span class="mono">{f.evidence}</span></p>
<p class="small"><span class="soft">Do</span> {f.remedy}</p>
{#if f.acceptedUntil}<p class="small"><span class="soft">Accepted until {f.acceptedUntil.slice(0, 10)}</span> {f.acceptedReason}</p>{/if}
{@render below?.()}

<style>
  .head { display: flex; justify-content: space-between; gap: var(--gap-2); flex-wrap: wrap; align-items: start; }
  .do { display: flex; gap: var(--gap-2); flex-wrap: wrap; }
  .do :global(button) { font-size: var(--size-small); padding-block: 0.15rem; min-height: 0; }
</style>
