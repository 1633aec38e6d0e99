<script lang="ts">
  import { latency, words } from '../lib/latency';
  import type { MonitorResult } from '../lib/types';
  /** Round trips over time, small in a table: a line for those that came back, a cross for each that failed. */
  let { results }: { results: MonitorResult[] } = $props();
  const WIDTH = 150;
  const HEIGHT = 26;
  const FOOT = 3;
  const data = $derived(latency(results));
  const most = $derived(Math.max(1, ...data[1].map((ms) => ms ?? 0)) * 1.15);
  const from = $derived(data[0][0] ?? 0);
  const span = $derived(Math.max(0.001, (data[0][data[0].length - 1] ?? 1) - from));
  const x = (at: number) => 2 + ((at - from) / span) * (WIDTH - 8);
  const y = (ms: number) => HEIGHT - FOOT - (ms / most) * (HEIGHT - FOOT - 4);
  // a gap where a trial failed
  const lines = $derived(
    data[1].reduce<[number, number][][]>(
      (all, ms, i) => {
        if (ms !== null) all[all.length - 1].push([x(data[0][i]), y(ms)]);
        else if (all[all.length - 1].length) all.push([]);
        return all;
      },
      [[]],
    ),
  );
  const failed = $derived(data[0].filter((_, i) => data[2][i] !== null));
</script>

<svg viewBox="0 0 {WIDTH} {HEIGHT}" role="img" aria-label={words(results)} preserveAspectRatio="none">
  {#each lines.filter((l) => l.length) as line, i (i)}
    {#if line.length === 1}<circle cx={line[0][0]} cy={line[0][1]} r="1.5" class="dot" />
    {:else}<polyline points={line.map(([px, py]) => `${px.toFixed(1)},${py.toFixed(1)}`).join(' ')} />{/if}
  {/each}
  {#each failed as at (at)}
    <path d="M{x(at) - 2.5} {HEIGHT - FOOT - 5}l5 5m0 -5l-5 5" class="failed" />
  {/each}
</svg>

<style>
  svg { display: inline-block; vertical-align: middle; width: 9.5rem; height: 1.4rem; }
  polyline { fill: none; stroke: var(--accent); stroke-width: 1.4; vector-effect: non-scaling-stroke; }
  .dot { fill: var(--accent); }
  .failed { stroke: var(--failing); stroke-width: 1.6; fill: none; vector-effect: non-scaling-stroke; }
</style>
