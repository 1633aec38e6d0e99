<script lang="ts">
  import { exact } from '../lib/format';
  import type { RoundResult } from '../lib/types';
  /** Round trips over time: a line for those that came back, a cross for each round that failed. Small in a table, large on its own. */
  let { results, large = false }: { results: RoundResult[]; large?: boolean } = $props();
  const width = $derived(large ? 960 : 150);
  const height = $derived(large ? 220 : 26);
  const left = $derived(large ? 44 : 2);
  const foot = $derived(large ? 22 : 3);
  const known = $derived(results.filter((r) => r.echoMillis !== null));
  const most = $derived(Math.max(1, ...known.map((r) => r.echoMillis ?? 0)) * 1.15);
  const from = $derived(results.length ? Date.parse(results[0].at) : 0);
  const to = $derived(results.length ? Math.max(from + 1, Date.parse(results[results.length - 1].at)) : 1);
  const x = (r: RoundResult) => left + ((Date.parse(r.at) - from) / (to - from)) * (width - left - 6);
  const y = (ms: number) => height - foot - (ms / most) * (height - foot - 4);
  // a gap where a round failed
  const lines = $derived(
    results.reduce<string[][]>(
      (all, r) => {
        if (r.proven && r.echoMillis !== null) all[all.length - 1].push(`${x(r).toFixed(1)},${y(r.echoMillis).toFixed(1)}`);
        else if (all[all.length - 1].length) all.push([]);
        return all;
      },
      [[]],
    ),
  );
  const failed = $derived(results.filter((r) => !r.proven));
  const median = $derived.by(() => {
    const sorted = known.map((r) => r.echoMillis ?? 0).sort((a, b) => a - b);
    return sorted.length ? sorted[Math.floor(sorted.length / 2)] : null;
  });
  const words = $derived(
    results.length === 0
      ? 'no rounds yet'
      : `${results.length} rounds, ${failed.length} not proven` +
          (median === null ? '' : `; round trip ${median.toFixed(1)} ms in the middle, ${Math.max(...known.map((r) => r.echoMillis ?? 0)).toFixed(1)} ms at most`),
  );
  const ticks = $derived(large ? [0, most / 2, most / 1.15] : []);
</script>

<svg viewBox="0 0 {width} {height}" role="img" aria-label={words} class:large preserveAspectRatio={large ? 'xMidYMid meet' : 'none'}>
  {#each ticks as tick (tick)}
    <line x1={left} x2={width - 6} y1={y(tick)} y2={y(tick)} class="grid" />
    <text x={left - 6} y={y(tick) + 4} text-anchor="end">{tick.toFixed(tick < 10 ? 1 : 0)}</text>
  {/each}
  {#each lines.filter((l) => l.length) as line, i (i)}
    {#if line.length === 1}<circle cx={line[0].split(',')[0]} cy={line[0].split(',')[1]} r="1.5" class="dot" />
    {:else}<polyline points={line.join(' ')} />{/if}
  {/each}
  {#each failed as r (r.at)}
    <path d="M{x(r) - 2.5} {height - foot - 5}l5 5m0 -5l-5 5" class="failed" />
  {/each}
  {#if large && results.length > 1}
    <text x={left} y={height - 4}>{exact(results[0].at)}</text>
    <text x={width - 6} y={height - 4} text-anchor="end">{exact(results[results.length - 1].at)}</text>
    <text x={4} y={12}>ms</text>
  {/if}
</svg>
{#if large}<p class="small soft">{words}.</p>{/if}

<style>
  svg { display: inline-block; vertical-align: middle; width: 9.5rem; height: 1.4rem; }
  svg.large { display: block; width: 100%; height: auto; max-width: 60rem; background: var(--sheet); border: 1px solid var(--line); border-radius: var(--radius); }
  polyline { fill: none; stroke: var(--accent); stroke-width: 1.4; vector-effect: non-scaling-stroke; }
  .dot { fill: var(--accent); }
  .failed { stroke: var(--failing); stroke-width: 1.6; fill: none; vector-effect: non-scaling-stroke; }
  .grid { stroke: var(--line); }
  text { fill: var(--ink-soft); font: 12px var(--font); font-variant-numeric: tabular-nums; }
</style>
