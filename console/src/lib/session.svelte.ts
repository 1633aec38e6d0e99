import { api, CallProblem } from './api';
import { live } from './live.svelte';
import type { Operator } from './types';

/** Who is signed in here. */
class Session {
  operator = $state.raw<Operator | null>(null);
  known = $state(false);

  async look(): Promise<void> {
    try {
      this.operator = await api.get<Operator>('/me');
      if (!this.operator.mustChangePassword && !this.operator.enrolNeeded) live.open();
    } catch (e) {
      if (!(e instanceof CallProblem)) throw e;
      this.operator = null;
    }
    this.known = true;
  }

  async end(): Promise<void> {
    live.close();
    await api.post('/sign-out');
    this.operator = null;
  }

  get mayWrite(): boolean {
    return this.operator?.role === 'owner' || this.operator?.role === 'operator';
  }
}

export const session = new Session();
