import { router } from './router.svelte';

/**
 * A column of a grid: how a row's value reads, for sorting, filtering and files. `order` is the word by which the service sorts a list
 * that is loaded in part. `action` columns hold buttons: they are not sorted and not exported.
 */
export type Column<T> = { key: string; label: string; text: (row: T) => string; sort?: (row: T) => number | string; kind?: 'mono' | 'num'; order?: string; action?: boolean };

const STEP = 100;

/** Sorting, filtering and how many rows are drawn: never all of ten thousand. */
export class GridState<T> {
  filter = $state('');
  by = $state('');
  down = $state(false);
  shown = $state(STEP);

  /**
   * @param whole whether the rows are all there are; a part keeps its order
   * @param inAddress whether the address bar holds how it is sorted
   */
  constructor(
    private readonly rows: () => T[], private readonly columns: () => Column<T>[], private readonly whole: () => boolean = () => true, private readonly inAddress = false,
  ) {
    const chosen = inAddress ? router.chosen('sort') : '';
    this.down = chosen.startsWith('-');
    this.by = this.down ? chosen.slice(1) : chosen;
  }

  all = $derived.by(() => {
    const wanted = this.filter.trim().toLowerCase();
    const columns = this.columns();
    const kept = wanted === '' ? this.rows() : this.rows().filter((row) => columns.some((c) => c.text(row).toLowerCase().includes(wanted)));
    const column = columns.find((c) => c.key === this.by);
    if (!column || !this.whole()) return kept;
    const value = column.sort ?? column.text;
    const sign = this.down ? -1 : 1;
    return [...kept].sort((a, b) => (value(a) < value(b) ? -sign : value(a) > value(b) ? sign : 0));
  });

  visible = $derived(this.all.slice(0, this.shown));

  toggle(key: string): void {
    this.down = this.by === key ? !this.down : false;
    this.by = key;
    if (this.inAddress) router.choose('sort', (this.down ? '-' : '') + key);
  }

  more(): void {
    this.shown += STEP;
  }

  /** What the service is asked to sort by; empty where nothing was chosen, or nothing that it knows. */
  get order(): string {
    const word = this.columns().find((c) => c.key === this.by)?.order;
    return word ? (this.down ? '-' : '') + word : '';
  }

  ariaSort(key: string): 'ascending' | 'descending' | undefined {
    return this.by !== key ? undefined : this.down ? 'descending' : 'ascending';
  }
}
