import type { Column } from './grid.svelte';

/** A program that opens the file must not take a text for a formula. */
const FORMULA = /^[=+\-@\t\r]/;

/** Rows as comma-separated values (RFC 4180), one line a row, the labels first. */
export function csv<T>(columns: Column<T>[], rows: T[]): string {
  const shown = columns.filter((c) => !c.action);
  const line = (cells: string[]) => cells.map(cell).join(',') + '\r\n';
  return line(shown.map((c) => c.label)) + rows.map((row) => line(shown.map((c) => c.text(row)))).join('');
}

function cell(text: string): string {
  const safe = FORMULA.test(text) && !/^-?\d+(\.\d+)?$/.test(text) ? "'" + text : text;
  return /[",\r\n]/.test(safe) ? '"' + safe.replaceAll('"', '""') + '"' : safe;
}
