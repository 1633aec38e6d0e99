import type { MonitorResult } from './types';

/** Times in seconds, round trips (a gap where a trial failed), and a mark at the foot where one did. */
export function latency(results: MonitorResult[]): [number[], (number | null)[], (number | null)[]] {
  return [
    results.map((r) => Date.parse(r.at) / 1000),
    results.map((r) => (r.proven ? r.echoMillis : null)),
    results.map((r) => (r.proven ? null : 0)),
  ];
}

/** The same in words. */
export function words(results: MonitorResult[]): string {
  if (results.length === 0) return 'no results yet';
  const failed = results.filter((r) => !r.proven).length;
  const known = results.map((r) => r.echoMillis).filter((ms): ms is number => ms !== null).sort((a, b) => a - b);
  const trips = known.length
    ? `; round trip ${known[Math.floor(known.length / 2)].toFixed(1)} ms in the middle, ${known[known.length - 1].toFixed(1)} ms at most`
    : '';
  return `${results.length} ${results.length === 1 ? 'result' : 'results'}, ${failed} not proven${trips}`;
}
