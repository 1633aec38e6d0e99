import { expect, it } from 'vitest';
import { latency, words } from '../src/lib/latency';
import type { MonitorResult } from '../src/lib/types';

const result = (minute: number, echoMillis: number | null, proven = true): MonitorResult => ({
  at: new Date(Date.UTC(2027, 0, 20, 12, minute)).toISOString(), proven, verdict: proven ? 'proven' : 'not proven', echoMillis, millis: 40, rung: null,
});

it('a trial that failed is a gap in the line and a mark at the foot', () => {
  const [times, trips, failed] = latency([result(0, 4), result(1, null, false), result(2, 6)]);

  expect(times).toEqual([1800446400, 1800446460, 1800446520]);
  expect(trips).toEqual([4, null, 6]);
  expect(failed).toEqual([null, 0, null]);
});

it('words say how many, how many failed, the middle and the most', () => {
  expect(words([])).toBe('no results yet');
  expect(words([result(0, 4), result(1, null, false), result(2, 9), result(3, 6)])).toBe(
    '4 results, 1 not proven; round trip 6.0 ms in the middle, 9.0 ms at most',
  );
  expect(words([result(0, null, false)])).toBe('1 result, 1 not proven');
});
