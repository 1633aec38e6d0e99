import { api } from './api';
import { Action } from './resource.svelte';
import type { Change, DeviceChange, Ordered, Preview } from './types';

const LOOK_MILLIS = 400;
const settled = ['kept', 'failed', 'rolled-back', 'active'];

/** A change from its preview to its end: nothing is made that was not shown first. */
export class ChangeInHand {
  preview = $state.raw<Preview | null>(null);
  result = $state.raw<DeviceChange | null>(null);
  readonly looking = new Action();
  readonly making = new Action();

  constructor(private readonly previewPath: string, private readonly makePath: string) {}

  look(body: unknown): Promise<void> {
    this.result = null;
    this.preview = null;
    return this.looking.run(async () => {
      this.preview = await api.post<Preview>(this.previewPath, body);
    });
  }

  make(body: unknown): Promise<void> {
    return this.making.run(async () => {
      const ordered = await api.post<Ordered>(this.makePath, body);
      let change = ordered.change;
      while (!settled.includes(change.state)) {
        await new Promise((resolve) => setTimeout(resolve, LOOK_MILLIS));
        change = await api.get<DeviceChange>('/changes/' + ordered.change.id);
      }
      this.result = change;
      this.preview = null;
    });
  }

  drop(): void {
    this.preview = null;
    this.result = null;
  }
}

/** One setting of one listener. */
export function setListener(listener: string, setting: string, value: string): Change {
  return { change: 'set-listener', listener, values: { [setting]: value } };
}
