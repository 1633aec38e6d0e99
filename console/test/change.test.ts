import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

const asked: { path: string; body: unknown }[] = [];
let states: string[] = [];
vi.mock('../src/lib/live.svelte', () => ({ live: { listen: () => () => {} } }));
vi.mock('../src/lib/api', () => ({
  CallProblem: class extends Error {},
  api: {
    get: async () => ({ id: 'c1', state: states.shift(), changes: [{ id: 'c1', state: 'kept' }] }),
    post: async (path: string, body: unknown) => {
      asked.push({ path, body });
      if (path === '/change-sets/preview') return { members: [{ gateway: 'pier1', preview: { words: ['a'] } }, { gateway: 'pier2', preview: { words: ['b'] } }] };
      if (path === '/change-sets') return { set: { id: 's1', state: 'ordered', changes: [] }, jobId: 'j' };
      if (path.endsWith('/preview')) return { words: ['a'] };
      return { change: { id: 'c1', state: 'ordered' }, jobId: 'j' };
    },
  },
}));
const { Gathered } = await import('../src/lib/change.svelte');

const none = { temporarySeconds: null, at: null };
const one = { gatewayId: 'g1', gateway: 'pier1', change: { change: 'reload' }, words: 'reload' };
const other = { gatewayId: 'g2', gateway: 'pier2', change: { change: 'set-clock' }, words: 'set the clock' };

beforeEach(() => {
  vi.useFakeTimers();
  asked.length = 0;
  states = [];
});
afterEach(() => {
  vi.useRealTimers();
});

describe('changes that are gathered', () => {
  it('are ordered at their one gateway, with how long they are kept', async () => {
    const gathered = new Gathered();
    gathered.add(one);
    gathered.add({ ...one, change: { change: 'set-clock' } });
    await gathered.look({ temporarySeconds: 600, at: null });
    expect(asked[0]).toEqual({
      path: '/gateways/g1/changes/preview',
      body: { changes: [{ change: 'reload' }, { change: 'set-clock' }], temporarySeconds: 600, at: null },
    });
    expect(gathered.previews.map((p) => p.gateway)).toEqual(['pier1']);
  });

  it('are a set where they are of several gateways, awaited to its end', async () => {
    const gathered = new Gathered();
    gathered.add(one);
    gathered.add(other);
    await gathered.look(none);
    expect(gathered.previews.map((p) => p.gateway)).toEqual(['pier1', 'pier2']);
    states = ['writing', 'keeping', 'kept'];
    const making = gathered.make(none);
    await vi.advanceTimersByTimeAsync(5_000);
    await making;
    expect(asked.at(-1)).toEqual({
      path: '/change-sets',
      body: { members: [{ gateway: 'pier1', changes: [{ change: 'reload' }] }, { gateway: 'pier2', changes: [{ change: 'set-clock' }] }] },
    });
    expect(states).toEqual([]);
    expect(gathered.results.map((c) => c.state)).toEqual(['kept']);
    expect(gathered.wanted).toEqual([]);
  });

  it('have to be previewed anew when one comes or goes', async () => {
    const gathered = new Gathered();
    gathered.add(one);
    await gathered.look(none);
    gathered.add(other);
    expect(gathered.previews).toEqual([]);
    await gathered.look(none);
    gathered.drop(gathered.wanted[0]);
    expect([gathered.previews, gathered.gateways]).toEqual([[], ['pier2']]);
  });
});
