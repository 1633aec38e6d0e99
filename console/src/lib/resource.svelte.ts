import { CallProblem } from './api';
import { live } from './live.svelte';
import type { Problem } from './types';

const SETTLE_MILLIS = 150;

/** Something fetched, fetched again when one of its topics is heard. What is shown stays until the new comes: no flicker. */
export class Resource<T> {
  data = $state.raw<T | null>(null);
  problem = $state.raw<Problem | null>(null);
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly load: () => Promise<T>, private readonly topics: string[]) {}

  /** Loads and listens; gives what ends it, for onMount. */
  start(): () => void {
    void this.reload();
    const stop = live.listen((topic) => {
      if (topic === '*' || this.topics.includes(topic)) {
        clearTimeout(this.timer);
        this.timer = setTimeout(() => void this.reload(), SETTLE_MILLIS);
      }
    });
    return () => {
      clearTimeout(this.timer);
      stop();
    };
  }

  async reload(): Promise<void> {
    try {
      this.data = await this.load();
      this.problem = null;
    } catch (e) {
      if (!(e instanceof CallProblem)) throw e;
      this.problem = e.problem;
    }
  }
}

/** An action with a button: busy while it runs, and its problem. */
export class Action {
  busy = $state(false);
  problem = $state.raw<Problem | null>(null);

  async run(work: () => Promise<void>): Promise<void> {
    if (this.busy) return;
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
