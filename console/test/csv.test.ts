import { expect, it } from 'vitest';
import { csv } from '../src/lib/csv';
import type { Column } from '../src/lib/grid.svelte';

type Row = { name: string; note: string };
const columns: Column<Row>[] = [
  { key: 'name', label: 'Name', text: (r) => r.name },
  { key: 'note', label: 'Note, long', text: (r) => r.note },
  { key: 'do', label: 'To do', text: () => '', action: true },
];

it('quotes what a comma, a quote or a line break would tear apart, and leaves buttons out', () => {
  expect(csv(columns, [{ name: 'Ana', note: 'said "yes", then\nleft' }])).toBe('Name,"Note, long"\r\nAna,"said ""yes"", then\nleft"\r\n');
});

it('keeps a text from being taken for a formula, but leaves numbers', () => {
  const lines = csv(columns, [{ name: '=HYPERLINK("x")', note: '-12.5' }, { name: '@sum', note: '+4915' }, { name: '-cmd', note: '' }]).split('\r\n');
  expect(lines.slice(1, 4)).toEqual([`"'=HYPERLINK(""x"")",-12.5`, `'@sum,'+4915`, `'-cmd,`]);
});
