<script lang="ts" generics="T extends { id: string }">
  import type { Snippet } from 'svelte';
  import { type Column, GridState } from '../lib/grid.svelte';
  import Button from './Button.svelte';
  let { label, rows, columns, cell, filterable = rows.length > 8 }: {
    label: string; rows: T[]; columns: Column<T>[]; cell?: Snippet<[T, Column<T>]>; filterable?: boolean;
  } = $props();
  const grid = new GridState<T>(() => rows, () => columns);
</script>

{#if filterable}
  <label class="filter"><span class="visually-hidden">Filter {label}</span><input type="search" placeholder="Filter {label}" bind:value={grid.filter} /></label>
{/if}
<!-- scrolls sideways on narrow screens, so it must be reachable by keyboard -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="wrap" role="region" aria-label={label} tabindex="0">
  <table>
    <thead>
      <tr>
        {#each columns as column (column.key)}
          <th scope="col" class={column.kind} aria-sort={grid.ariaSort(column.key)}>
            <button onclick={() => grid.toggle(column.key)}>{column.label}<span aria-hidden="true">{grid.by === column.key ? (grid.down ? ' ↓' : ' ↑') : ''}</span></button>
          </th>
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each grid.visible as row (row.id)}
        <tr>
          {#each columns as column (column.key)}
            <td class={column.kind}>{#if cell}{@render cell(row, column)}{:else}{column.text(row)}{/if}</td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
</div>
{#if grid.all.length > grid.visible.length}
  <p class="soft small">{grid.visible.length} of {grid.all.length} shown <Button onclick={() => grid.more()}>Show more</Button></p>
{:else if grid.filter && grid.all.length === 0}
  <p class="soft small">Nothing here holds “{grid.filter}”.</p>
{/if}

<style>
  .wrap { overflow-x: auto; }
  table { border-collapse: collapse; width: 100%; font-variant-numeric: tabular-nums; }
  th, td { text-align: left; padding: 0.3rem var(--gap-4) 0.3rem 0; border-bottom: 1px solid var(--line); vertical-align: baseline; }
  th { padding-block: 0; }
  th button { font: 600 var(--size-small)/1.6 var(--font); color: var(--ink-soft); background: none; border: 0; padding: 0.2rem 0; cursor: pointer; white-space: nowrap; }
  th button:hover { color: var(--ink); }
  td.mono { font-family: var(--mono); font-size: 0.87em; white-space: nowrap; }
  td :global(.state) { white-space: nowrap; }
  .num { text-align: right; white-space: nowrap; }
  tbody tr:hover { background: var(--sunk); }
  .filter input { font: inherit; padding: 0.25rem 0.5rem; min-height: 2rem; width: min(22rem, 100%); border: 1px solid var(--line-strong); border-radius: var(--radius); background: var(--sheet); color: var(--ink); }
</style>
