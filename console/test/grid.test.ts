import { describe, expect, it } from 'vitest';
import { type Column, GridState } from '../src/lib/grid.svelte';

type Row = { id: string; name: string; size: number };
const rows: Row[] = Array.from({ length: 250 }, (_, i) => ({ id: String(i), name: i % 2 ? `pier ${i}` : `Office ${i}`, size: (i * 37) % 250 }));
const columns: Column<Row>[] = [
  { key: 'name', label: 'Name', text: (r) => r.name },
  { key: 'size', label: 'Size', text: (r) => `${r.size} kB`, sort: (r) => r.size },
];

describe('rows in a table', () => {
  it('draws a part of many rows and more when asked', () => {
    const grid = new GridState<Row>(() => rows, () => columns);
    expect([grid.all.length, grid.visible.length]).toEqual([250, 100]);
    grid.more();
    expect(grid.visible.length).toBe(200);
  });

  it('finds what any column shows, whatever its case', () => {
    const grid = new GridState<Row>(() => rows, () => columns);
    grid.filter = ' OFFICE 24';
    expect(grid.all.map((r) => r.name)).toEqual(['Office 24', 'Office 240', 'Office 242', 'Office 244', 'Office 246', 'Office 248']);
    grid.filter = '249 kb';
    expect(grid.all.length).toBe(1);
  });

  it('leaves a part of the rows in its order, though a column was chosen before', () => {
    let whole = true;
    const grid = new GridState<Row>(() => rows, () => columns, () => whole);
    whole = false;
    grid.toggle('size');
    expect(grid.all.map((r) => r.id)).toEqual(rows.map((r) => r.id));
  });

  it('sorts by value, the other way the second time, and tells assistive technology', () => {
    const grid = new GridState<Row>(() => rows, () => columns);
    grid.toggle('size');
    expect([grid.all[0]!.size, grid.all[249]!.size, grid.ariaSort('size')]).toEqual([0, 249, 'ascending']);
    grid.toggle('size');
    expect([grid.all[0]!.size, grid.ariaSort('size'), grid.ariaSort('name')]).toEqual([249, 'descending', undefined]);
    expect(rows[0]!.size, 'the rows given stay as they are').toBe(0);
  });
});
