<script lang="ts">
  import uPlot from 'uplot';
  import 'uplot/dist/uPlot.min.css';
  import { latency, words } from '../lib/latency';
  import type { RoundResult } from '../lib/types';
  /** Round trips over time, with a mark at the foot for each trial that failed; drag over a time to look closer, double-click to go back. */
  let { results }: { results: RoundResult[] } = $props();
  const HEIGHT = 240;

  const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

  function options(width: number): uPlot.Options {
    const axis: uPlot.Axis = {
      stroke: colour('--ink-soft'), grid: { stroke: colour('--line'), width: 1 }, ticks: { stroke: colour('--line'), width: 1 },
      font: '12px "IBM Plex Sans"',
    };
    return {
      width, height: HEIGHT,
      scales: { y: { range: (_, __, most) => [0, Math.max(1, most * 1.15)] } },
      axes: [axis, { ...axis, label: 'ms', size: 52 }],
      series: [
        { value: '{YYYY}-{MM}-{DD} {HH}:{mm}' },
        { label: 'round trip, ms', stroke: colour('--accent'), width: 1.5, points: { size: 4 } },
        { label: 'failed', stroke: colour('--failing'), paths: () => null, points: { show: true, size: 9, width: 2 } },
      ],
    };
  }

  /** The chart follows the width of its place and the scheme of colours. */
  function chart(place: HTMLElement) {
    let plot: uPlot | undefined;
    const draw = () => {
      plot?.destroy();
      plot = new uPlot(options(place.clientWidth), latency(results), place);
    };
    draw();
    const dark = matchMedia('(prefers-color-scheme: dark)');
    const resized = new ResizeObserver(() => plot?.setSize({ width: place.clientWidth, height: HEIGHT }));
    resized.observe(place);
    dark.addEventListener('change', draw);
    return () => {
      resized.disconnect();
      dark.removeEventListener('change', draw);
      plot?.destroy();
    };
  }
</script>

<div class="chart" role="img" aria-label={words(results)} {@attach chart}></div>
<p class="small soft">{words(results)}. Drag over a time to look closer; double-click to see all.</p>

<style>
  .chart { width: 100%; max-width: 60rem; min-height: 17rem; background: var(--sheet); border: 1px solid var(--line); border-radius: var(--radius); padding: 0.5rem 0.5rem 0 0; }
  .chart :global(.u-legend) { font-size: 0.8rem; color: var(--ink-soft); text-align: left; padding-left: 3.5rem; }
</style>
