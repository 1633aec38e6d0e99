import { fresh } from './fresh.svelte';
import type { Page, Problem } from './types';

/** A call that ended in a problem answer. */
export class CallProblem extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

const MOST = 2000;

const unreachable: Problem = {
  title: 'No answer', status: 0, code: 'unavailable', detail: 'the service does not answer', place: '', remedy: 'Check that it runs; this page tries again by itself.',
};

async function send(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Response> {
  let response: Response;
  try {
    response = await fetch('/api/v1' + path, {
      method,
      headers: { ...(body === undefined ? {} : { 'Content-Type': 'application/json' }), ...headers },
      body: body === undefined ? undefined : JSON.stringify(body),
      credentials: 'same-origin',
    });
  } catch {
    throw new CallProblem(unreachable);
  }
  if (!response.ok) {
    const isProblem = response.headers.get('Content-Type')?.includes('problem+json');
    const problem: Problem = isProblem ? await response.json() : { ...unreachable, status: response.status };
    if (problem.code === 'not-fresh' && (await fresh.ask())) return send(method, path, body, headers);
    throw new CallProblem(problem);
  }
  return response;
}

async function json<T>(response: Response): Promise<T> {
  return response.status === 204 ? (undefined as T) : ((await response.json()) as T);
}

async function named(response: Response): Promise<{ name: string; blob: Blob }> {
  const name = /filename="([^"]+)"/.exec(response.headers.get('Content-Disposition') ?? '')?.[1] ?? 'file';
  return { name, blob: await response.blob() };
}

export const api = {
  get: async <T>(path: string): Promise<T> => json<T>(await send('GET', path)),
  post: async <T>(path: string, body?: unknown): Promise<T> =>
    json<T>(await send('POST', path, body, { 'Idempotency-Key': crypto.randomUUID() })),
  patch: async <T>(path: string, body: unknown, version: number): Promise<T> => json<T>(await send('PATCH', path, body, { 'If-Match': `"${version}"` })),
  remove: async (path: string): Promise<void> => {
    await send('DELETE', path);
  },
  file: async (path: string, body: unknown): Promise<{ name: string; blob: Blob }> => named(await send('POST', path, body)),
  download: async (path: string): Promise<{ name: string; blob: Blob }> => named(await send('GET', path)),
  /** All pages of a list, up to MOST; search finds what lies beyond. */
  list: async <T>(path: string): Promise<T[]> => {
    const items: T[] = [];
    let after: string | null = '';
    while (after !== null && items.length < MOST) {
      const page: Page<T> = await api.get(`${path}${path.includes('?') ? '&' : '?'}limit=200${after ? '&after=' + after : ''}`);
      items.push(...page.items);
      after = page.next;
    }
    return items;
  },
};

/** Offers a file for saving. */
export function save(name: string, blob: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
