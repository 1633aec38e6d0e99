import { api } from './api';
import { Resource } from './resource.svelte';
import { router } from './router.svelte';
import type { Page } from './types';

const FIRST = 100;
/** Of what is searched fewer are drawn: more is typed sooner than scrolled, and each key draws them anew. */
const FOUND = 40;
const MOST_AT_ONCE = 200;
const TYPING_MILLIS = 40;
const MOST_IN_A_FILE = 20_000;

/** A list of which the service filters and gives a part: what is typed is searched by the service, more is fetched when asked for. */
export class PagedList<T> {
  /** A part of a name, as it is typed. */
  text = $state('');
  private wanted = FIRST;
  private order = '';
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly loaded: Resource<{ rows: T[]; hasMore: boolean; text: string }>;

  /**
   * @param path without `text`, `limit` and `after`; asked anew at each load, so it may depend on what is chosen
   * @param searchable whether the service's list takes a text
   * @param inAddress whether the address bar holds what is searched: for the one list that a page is about
   */
  constructor(private readonly path: () => string, topics: string[], readonly searchable = true, readonly inAddress = false) {
    if (inAddress) this.text = router.chosen('text');
    this.loaded = new Resource(() => this.load(), topics);
  }

  rows = $derived.by(() => this.loaded.data?.rows ?? []);
  hasMore = $derived.by(() => this.loaded.data?.hasMore ?? false);
  /** Whether anything was loaded yet. */
  ready = $derived.by(() => this.loaded.data !== null);
  /** What the rows shown were searched for. */
  searched = $derived.by(() => this.loaded.data?.text ?? '');
  problem = $derived.by(() => this.loaded.problem);

  /** Loads and listens; gives what ends it, for onMount. */
  start(): () => void {
    const stop = this.loaded.start();
    return () => {
      clearTimeout(this.timer);
      stop();
    };
  }

  /** Searches soon: when nothing more is typed for a moment. */
  search(text: string): void {
    this.text = text;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      if (this.inAddress) router.choose('text', text.trim());
      void this.again();
    }, TYPING_MILLIS);
  }

  /** Every row that what is chosen leaves, for a file; at most MOST_IN_A_FILE. */
  async everything(): Promise<T[]> {
    return (await this.load(MOST_IN_A_FILE)).rows;
  }

  /** Has the service sort by one of its words for columns, `-` before it for the last first; empty for the list's own order. */
  async sort(order: string): Promise<void> {
    if (order === this.order) return;
    this.order = order;
    await this.again();
  }

  /** Whether the service sorts as asked. */
  get sorted(): boolean {
    return this.order !== '';
  }

  /** Loads from the start, such as after another choice. */
  async again(): Promise<void> {
    this.wanted = this.text.trim() ? FOUND : FIRST;
    await this.loaded.reload();
  }

  /** Loads what is shown once more. */
  reload = (): Promise<void> => this.loaded.reload();

  async more(): Promise<void> {
    this.wanted += FIRST;
    await this.loaded.reload();
  }

  private async load(wanted = this.wanted): Promise<{ rows: T[]; hasMore: boolean; text: string }> {
    const path = this.path();
    const text = this.text.trim();
    const rows: T[] = [];
    let after: string | null = '';
    while (after !== null && rows.length < wanted) {
      const asked = new URLSearchParams();
      if (text) asked.set('text', text);
      if (this.order) asked.set('sort', this.order);
      asked.set('limit', String(Math.min(MOST_AT_ONCE, wanted - rows.length)));
      if (after) asked.set('after', after);
      const page: Page<T> = await api.get(path + (path.includes('?') ? '&' : '?') + asked.toString());
      rows.push(...page.items);
      after = page.next;
    }
    return { rows, hasMore: after !== null, text };
  }
}
