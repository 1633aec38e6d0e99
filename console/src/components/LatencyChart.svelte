<script lang="ts">
  import uPlot from 'uplot';
  import 'uplot/dist/uPlot.min.css';
  import { latency, words } from '../lib/latency';
  import type { MonitorResult } from '../lib/types';
  /** Round trips over time, with a mark at the foot for each trial that failed; drag over a time to look closer, double-click to go back. */
  let { results }: { results: MonitorResult[] } = $props();
  const HEIGHT = 240;
  const FONT = '12px "IBM Plex Sans"';
  // from so many seconds between two marks on: what each says, and what it adds with a new year and a new day
  const TIMES: uPlot.Axis.Values = [
    [28 * 86400, '{YYYY}-{MM}', null, null, null, null, null, null, 1],
    [86400, '{MM}-{DD}', '\n{YYYY}', null, null, null, null, null, 1],
    [60, '{HH}:{mm}', '\n{YYYY}-{MM}-{DD}', null, '\n{MM}-{DD}', null, null, null, 1],
    [1, '{HH}:{mm}:{ss}', '\n{YYYY}-{MM}-{DD}', null, '\n{MM}-{DD}', null, null, null, 1],
  ];

  const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

  function options(width: number): uPlot.Options {
    const axis: uPlot.Axis = {
      stroke: colour('--ink-soft'), grid: { stroke: colour('--line'), width: 1 }, ticks: { stroke: colour('--line'), width: 1 },
      font: FONT, labelFont: FONT,
    };
    return {
      width, height: HEIGHT,
      scales: { y: { range: (_, __, most) => [0, Math.max(1, most * 1.15)] } },
      axes: [{ ...axis, values: TIMES }, { ...axis, label: 'ms', size: 52 }],
      series: [
        { label: 'time', value: '{YYYY}-{MM}-{DD} {HH}:{mm}' },
        { label: 'round trip', stroke: colour('--accent'), width: 1.5, points: { size: 4 }, value: (_, ms) => (ms === null ? '–' : `${ms.toFixed(1)} ms`) },
        {
          label: 'failed', stroke: colour('--failing'), paths: () => null, value: (_, at, __, i) => (i === null ? '–' : at === null ? 'no' : 'yes'),
          points: { show: true, size: 9, width: 2, fill: colour('--sheet') },
        },
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
  .chart :global(.u-legend) { font: 0.8rem var(--font); color: var(--ink-soft); text-align: left; padding-left: 3.5rem; }
  .chart :global(.u-legend th) { font-weight: 400; }
</style>
