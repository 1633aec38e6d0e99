/** A column of a grid: how a row's value reads, for sorting and filtering. */
export type Column<T> = { key: string; label: string; text: (row: T) => string; sort?: (row: T) => number | string; kind?: 'mono' | 'num' };

const STEP = 100;

/** Sorting, filtering and how many rows are drawn: never all of ten thousand. */
export class GridState<T> {
  filter = $state('');
  by = $state('');
  down = $state(false);
  shown = $state(STEP);

  /** @param whole whether the rows are all there are; a part keeps its order */
  constructor(private readonly rows: () => T[], private readonly columns: () => Column<T>[], private readonly whole: () => boolean = () => true) {}

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
  }

  more(): void {
    this.shown += STEP;
  }

  ariaSort(key: string): 'ascending' | 'descending' | undefined {
    return this.by !== key ? undefined : this.down ? 'descending' : 'ascending';
  }
}
