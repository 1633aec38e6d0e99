import { expect, it } from 'vitest';
import { latency, words } from '../src/lib/latency';
import type { RoundResult } from '../src/lib/types';

const round = (minute: number, echoMillis: number | null, proven = true): RoundResult => ({
  at: new Date(Date.UTC(2027, 0, 20, 12, minute)).toISOString(), proven, verdict: proven ? 'proven' : 'not proven', echoMillis, millis: 40, rung: null,
});

it('a round that failed is a gap in the line and a mark at the foot', () => {
  const [times, trips, failed] = latency([round(0, 4), round(1, null, false), round(2, 6)]);

  expect(times).toEqual([1800446400, 1800446460, 1800446520]);
  expect(trips).toEqual([4, null, 6]);
  expect(failed).toEqual([null, 0, null]);
});

it('words say how many, how many failed, the middle and the most', () => {
  expect(words([])).toBe('no rounds yet');
  expect(words([round(0, 4), round(1, null, false), round(2, 9), round(3, 6)])).toBe(
    '4 rounds, 1 not proven; round trip 6.0 ms in the middle, 9.0 ms at most',
  );
  expect(words([round(0, null, false)])).toBe('1 round, 1 not proven');
});
