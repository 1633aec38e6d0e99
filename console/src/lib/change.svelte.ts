import { api } from './api';
import { Action } from './resource.svelte';
import type { Change, ChangeSet, DeviceChange, Ordered, OrderedSet, Preview, SetPreview } from './types';

const LOOK_MILLIS = 400;
const settled = ['kept', 'failed', 'rolled-back', 'active', 'by-hand', 'cancelled'];

/** Looks again until a change, or a set of them, has come to its end. */
export async function ended<T extends { state: string }>(thing: T, path: string): Promise<T> {
  let now = thing;
  while (!settled.includes(now.state)) {
    await new Promise((resolve) => setTimeout(resolve, LOOK_MILLIS));
    now = await api.get<T>(path);
  }
  return now;
}

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
      this.result = await ended(ordered.change, '/changes/' + ordered.change.id);
      this.preview = null;
    });
  }

  drop(): void {
    this.preview = null;
    this.result = null;
  }
}

/** What somebody wants changed, and how it reads. */
export type Wanted = { gatewayId: string; gateway: string; change: Change; words: string };

/** How long changes of one gateway are kept, and when they are made; changes of several are made at once and kept. */
export type Terms = { temporarySeconds: number | null; at: string | null; why: string | null };

/** Changes gathered one after the other, of one gateway or of several, which are then made together or not at all. */
export class Gathered {
  wanted = $state.raw<Wanted[]>([]);
  previews = $state.raw<SetPreview['members']>([]);
  results = $state.raw<DeviceChange[]>([]);
  readonly looking = new Action();
  readonly making = new Action();

  gateways = $derived([...new Set(this.wanted.map((w) => w.gateway))]);

  add(one: Wanted): void {
    this.wanted = [...this.wanted, one];
    this.previews = [];
    this.results = [];
  }

  drop(one: Wanted): void {
    this.wanted = this.wanted.filter((w) => w !== one);
    this.previews = [];
  }

  look(terms: Terms): Promise<void> {
    return this.looking.run(async () => {
      if (this.gateways.length === 1) {
        const preview = await api.post<Preview>(`/gateways/${this.wanted[0].gatewayId}/changes/preview`, this.order(terms));
        this.previews = [{ gateway: this.gateways[0], preview }];
      } else {
        this.previews = (await api.post<SetPreview>('/change-sets/preview', this.set())).members;
      }
    });
  }

  make(terms: Terms): Promise<void> {
    return this.making.run(async () => {
      if (this.gateways.length === 1) {
        const ordered = await api.post<Ordered>(`/gateways/${this.wanted[0].gatewayId}/changes`, this.order(terms));
        this.results = [terms.at ? ordered.change : await ended(ordered.change, '/changes/' + ordered.change.id)];
      } else {
        const ordered = await api.post<OrderedSet>('/change-sets', this.set());
        this.results = (await ended<ChangeSet>(ordered.set, '/change-sets/' + ordered.set.id)).changes;
      }
      this.wanted = [];
      this.previews = [];
    });
  }

  private order(terms: Terms): unknown {
    return { changes: this.wanted.map((w) => w.change), ...terms };
  }

  private set(): unknown {
    return { members: this.gateways.map((gateway) => ({ gateway, changes: this.wanted.filter((w) => w.gateway === gateway).map((w) => w.change) })) };
  }
}

/** One setting of one listener. */
export function setListener(listener: string, setting: string, value: string): Change {
  return { change: 'set-listener', listener, values: { [setting]: value } };
}
