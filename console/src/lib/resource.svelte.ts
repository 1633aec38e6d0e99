import { untrack } from 'svelte';
import { CallProblem } from './api';
import { live } from './live.svelte';
import type { Problem } from './types';

const SETTLE_MILLIS = 150;
const APART_MILLIS = 500;

/**
 * Something fetched, fetched again when one of its topics is heard: soon after the first of many, not after the last, and at most
 * twice a second. What is shown stays until the new comes: no flicker.
 */
export class Resource<T> {
  data = $state.raw<T | null>(null);
  problem = $state.raw<Problem | null>(null);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private began = 0;
  private turn = 0;
  private loading = false;
  private stopped = false;

  constructor(private readonly load: () => Promise<T>, private readonly topics: string[]) {}

  /** Loads and listens; gives what ends it, for onMount. */
  start(): () => void {
    this.stopped = false;
    void this.reload();
    const stop = live.listen((topic) => {
      if (topic === '*' || this.topics.includes(topic)) this.soon();
    });
    return () => {
      this.stopped = true;
      clearTimeout(this.timer);
      this.timer = undefined;
      stop();
    };
  }

  /** Loads again in a moment, however much is heard until then. */
  private soon(): void {
    if (this.timer !== undefined) return;
    const wait = Math.max(SETTLE_MILLIS, this.began + APART_MILLIS - Date.now());
    this.timer = setTimeout(() => {
      this.timer = undefined;
      if (this.stopped) return;
      if (this.loading) this.soon();
      else void this.reload();
    }, wait);
  }

  /** Loads now. An answer that comes after that to a later question is dropped. */
  async reload(): Promise<void> {
    const mine = ++this.turn;
    this.began = Date.now();
    this.loading = true;
    try {
      const come = await this.load();
      if (mine !== this.turn) return;
      this.data = come;
      this.problem = null;
    } catch (e) {
      if (!(e instanceof CallProblem)) throw e;
      if (mine === this.turn) this.problem = e.problem;
    } finally {
      if (mine === this.turn) this.loading = false;
    }
  }
}

/** An action with a button: busy while it runs, and its problem. */
export class Action {
  busy = $state(false);
  problem = $state.raw<Problem | null>(null);

  async run(work: () => Promise<void>): Promise<void> {
    if (untrack(() => this.busy)) return; // whoever runs it in an effect does not run it again for that
    this.busy = true;
    this.problem = null;
    try {
      await work();
    } catch (e) {
      if (!(e instanceof CallProblem)) throw e;
      this.problem = e.problem;
    } finally {
      this.busy = false;
    }
  }
}
