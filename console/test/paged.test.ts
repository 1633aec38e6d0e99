import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

const asked: URL[] = [];
let rows: string[] = [];
vi.mock('../src/lib/live.svelte', () => ({ live: { listen: () => () => {} } }));
vi.mock('../src/lib/api', () => ({
  CallProblem: class extends Error {},
  api: {
    get: async (path: string) => {
      const url = new URL(path, 'http://service.example');
      asked.push(url);
      const text = url.searchParams.get('text') ?? '';
      const fitting = rows.filter((r) => r.includes(text));
      const from = Number(url.searchParams.get('after') ?? 0);
      const to = from + Number(url.searchParams.get('limit'));
      return { items: fitting.slice(from, to), next: to < fitting.length ? String(to) : null };
    },
  },
}));
const { PagedList } = await import('../src/lib/paged.svelte');

beforeEach(() => {
  vi.useFakeTimers();
  asked.length = 0;
  rows = Array.from({ length: 1_000 }, (_, i) => 'row ' + String(i).padStart(4, '0'));
});
afterEach(() => {
  vi.useRealTimers();
});

describe('a list that the service filters and pages', () => {
  it('loads a part in one call, and more when asked', async () => {
    const list = new PagedList<string>(() => '/rows', ['row']);
    list.start();
    await vi.advanceTimersByTimeAsync(0);
    expect([asked.length, list.rows.length, list.hasMore]).toEqual([1, 100, true]);
    await list.more();
    expect([list.rows.length, list.rows[199]]).toEqual([200, 'row 0199']);
    await list.reload();
    expect(list.rows.length).toBe(200);
  });

  it('searches once when typing ends, from the start of the list', async () => {
    const list = new PagedList<string>(() => '/rows?state=ready', ['row']);
    list.start();
    await vi.advanceTimersByTimeAsync(0);
    await list.more();
    asked.length = 0;
    for (const text of ['0', '09', '099']) {
      list.search(text);
      await vi.advanceTimersByTimeAsync(20);
    }
    await vi.advanceTimersByTimeAsync(1_000);
    expect(asked.map((u) => u.search)).toEqual(['?state=ready&text=099&limit=40']);
    expect([list.rows.length, list.hasMore, list.searched]).toEqual([11, false, '099']);
  });

  it('asks the path anew at each load', async () => {
    let state = 'ready';
    const list = new PagedList<string>(() => '/rows?state=' + state, []);
    await list.again();
    state = 'failed';
    await list.again();
    expect(asked.map((u) => u.searchParams.get('state'))).toEqual(['ready', 'failed']);
  });

  it('says when there is nothing', async () => {
    rows = [];
    const list = new PagedList<string>(() => '/rows', []);
    expect(list.ready).toBe(false);
    await list.again();
    expect([list.ready, list.rows.length, list.hasMore]).toEqual([true, 0, false]);
  });

  it('has the service sort, from the start of the list, and only when the order changes', async () => {
    const list = new PagedList<string>(() => '/rows', ['row']);
    list.start();
    await vi.advanceTimersByTimeAsync(0);
    asked.length = 0;
    await list.sort('-name');
    await list.sort('-name');
    expect(asked.map((u) => u.search)).toEqual(['?sort=-name&limit=100']);
    await list.sort('');
    expect(asked[1]!.search).toBe('?limit=100');
  });

  it('gives every row for a file without showing more than before', async () => {
    const list = new PagedList<string>(() => '/rows', ['row']);
    list.start();
    await vi.advanceTimersByTimeAsync(0);
    expect((await list.everything()).length).toBe(1_000);
    expect(list.rows.length).toBe(100);
  });
});
