import { flushSync } from 'svelte';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

const heard: ((topic: string) => void)[] = [];
vi.mock('../src/lib/live.svelte', () => ({
  live: {
    listen: (listener: (topic: string) => void) => {
      heard.push(listener);
      return () => heard.splice(heard.indexOf(listener), 1);
    },
  },
}));
const { Resource } = await import('../src/lib/resource.svelte');
const { CallProblem } = await import('../src/lib/api');
const hear = (topic: string) => heard.forEach((listener) => listener(topic));

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  heard.length = 0;
  vi.useRealTimers();
});

describe('what is fetched and kept fresh', () => {
  it('refreshes at least every second and at most twice a second under a hundred events a second', async () => {
    const loads: number[] = [];
    const resource = new Resource(async () => { loads.push(Date.now()); return loads.length; }, ['session']);
    const stop = resource.start();
    await vi.advanceTimersByTimeAsync(0);
    for (let i = 0; i < 1_000; i++) {
      hear('session');
      await vi.advanceTimersByTimeAsync(10);
    }
    stop();
    const gaps = loads.slice(1).map((at, i) => at - loads[i]!);
    expect(Math.max(...gaps)).toBeLessThanOrEqual(1_000);
    expect(loads.length).toBeLessThanOrEqual(2 * 10 + 2);
    expect(resource.data).toBe(loads.length);
  });

  it('refreshes soon after a single event and hears only its topics', async () => {
    let loads = 0;
    const resource = new Resource(async () => ++loads, ['profile']);
    const stop = resource.start();
    await vi.advanceTimersByTimeAsync(5_000);
    hear('backup');
    await vi.advanceTimersByTimeAsync(5_000);
    expect(loads).toBe(1);
    hear('profile');
    await vi.advanceTimersByTimeAsync(200);
    expect(loads).toBe(2);
    hear('*');
    await vi.advanceTimersByTimeAsync(1_000);
    expect(loads).toBe(3);
    stop();
  });

  it('never asks a second time before the first answer, and asks once after it', async () => {
    let running = 0, most = 0, loads = 0;
    const resource = new Resource(async () => {
      most = Math.max(most, ++running);
      loads++;
      await new Promise((done) => setTimeout(done, 3_000));
      running--;
      return loads;
    }, ['session']);
    const stop = resource.start();
    for (let i = 0; i < 50; i++) {
      hear('session');
      await vi.advanceTimersByTimeAsync(100);
    }
    expect(most).toBe(1);
    expect(loads).toBe(2);
    stop();
    await vi.advanceTimersByTimeAsync(10_000);
    expect(loads).toBe(2);
  });

  it('drops an answer that comes after that to a later question', async () => {
    const answers: ((value: string) => void)[] = [];
    const resource = new Resource(() => new Promise<string>((done) => answers.push(done)), []);
    const first = resource.reload();
    const second = resource.reload();
    answers[1]!('later');
    await second;
    answers[0]!('earlier');
    await first;
    expect(resource.data).toBe('later');
  });

  it('keeps what is shown beside a problem, and says the problem until it is over', async () => {
    const problem = { title: 'No', status: 503, code: 'unavailable', detail: 'no answer', place: '', remedy: '' };
    let fails = false;
    const resource = new Resource(async () => { if (fails) throw new CallProblem(problem); return 'data'; }, []);
    await resource.reload();
    fails = true;
    await resource.reload();
    flushSync();
    expect([resource.data, resource.problem?.code]).toEqual(['data', 'unavailable']);
    fails = false;
    await resource.reload();
    expect(resource.problem).toBeNull();
  });
});
