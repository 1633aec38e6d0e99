<script lang="ts" generics="T">
  import type { Snippet } from 'svelte';
  import { type Column, GridState } from '../lib/grid.svelte';
  import type { PagedList } from '../lib/paged.svelte';
  import Button from './Button.svelte';
  /** With `list` the service filters and pages; what is loaded in part keeps the service's order. */
  let { label, rows = [], list, columns, cell, tools, key = (row) => (row as { id: string }).id }: {
    label: string; rows?: T[]; list?: PagedList<T>; columns: Column<T>[]; cell?: Snippet<[T, Column<T>]>; tools?: Snippet; key?: (row: T) => string;
  } = $props();
  const filterable = $derived(list?.searchable ? list.rows.length > 8 || list.hasMore || list.text !== '' : !list && rows.length > 8);
  const sortable = $derived(!list?.hasMore);
  const grid = new GridState<T>(() => list?.rows ?? rows, () => columns, () => sortable);
</script>

{#if filterable || tools}
  <div class="tools">
    {#if filterable}
      <label class="filter"><span class="visually-hidden">Filter {label}</span>
        {#if list}<input type="search" placeholder="Filter {label}" value={list.text} oninput={(e) => list.search(e.currentTarget.value)} />
        {:else}<input type="search" placeholder="Filter {label}" bind:value={grid.filter} />{/if}
      </label>
    {/if}
    {#if tools}{@render tools()}{/if}
  </div>
{/if}
<!-- scrolls sideways on narrow screens, so it must be reachable by keyboard -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="wrap" role="region" aria-label={label} tabindex="0">
  <table>
    <thead>
      <tr>
        {#each columns as column (column.key)}
          <th scope="col" class={column.kind} aria-sort={sortable ? grid.ariaSort(column.key) : undefined}>
            {#if sortable}<button onclick={() => grid.toggle(column.key)}>{column.label}<span aria-hidden="true">{grid.by === column.key ? (grid.down ? ' ↓' : ' ↑') : ''}</span></button>
            {:else}<span class="head">{column.label}</span>{/if}
          </th>
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each list ? grid.all : grid.visible as row (key(row))}
        <tr>
          {#each columns as column (column.key)}
            <td class={column.kind}>{#if cell}{@render cell(row, column)}{:else}{column.text(row)}{/if}</td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
</div>
{#if list?.hasMore}
  <p class="soft small">The first {list.rows.length} are shown. <Button onclick={() => void list.more()}>Show more</Button></p>
{:else if !list && grid.all.length > grid.visible.length}
  <p class="soft small">{grid.visible.length} of {grid.all.length} shown <Button onclick={() => grid.more()}>Show more</Button></p>
{:else if (list?.searched || grid.filter) && grid.all.length === 0}
  <p class="soft small">No match for “{list?.searched || grid.filter}”.</p>
{/if}

<style>
  .wrap { overflow-x: auto; }
  table { border-collapse: collapse; width: 100%; font-variant-numeric: tabular-nums; }
  th, td { text-align: left; padding: 0.3rem var(--gap-4) 0.3rem 0; border-bottom: 1px solid var(--line); vertical-align: baseline; }
  th { padding-block: 0; }
  th button, .head { font: 600 var(--size-small)/1.6 var(--font); color: var(--ink-soft); background: none; border: 0; padding: 0.2rem 0; cursor: pointer; white-space: nowrap; }
  .head { display: inline-block; }
  th button:hover { color: var(--ink); }
  @media (min-width: 721px) { td:first-child { white-space: nowrap; } }
  td.mono { font-family: var(--mono); font-size: 0.87em; white-space: nowrap; }
  td :global(.state) { white-space: nowrap; }
  .num { text-align: right; white-space: nowrap; }
  tbody tr:hover { background: var(--sunk); }
  .tools { display: flex; flex-wrap: wrap; gap: var(--gap-2); align-items: end; }
  .filter { flex: 0 1 22rem; }
  .filter input { font: inherit; padding: 0.25rem 0.5rem; min-height: 2rem; width: 100%; border: 1px solid var(--line-strong); border-radius: var(--radius); background: var(--sheet); color: var(--ink); }
</style>
