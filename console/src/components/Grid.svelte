<script lang="ts" generics="T">
  import type { Snippet } from 'svelte';
  import { save } from '../lib/api';
  import { csv } from '../lib/csv';
  import { type Column, GridState } from '../lib/grid.svelte';
  import type { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import Button from './Button.svelte';
  /**
   * With `list` the service filters, sorts and pages. With `chosen` rows can be ticked, for
   * what `bulk` offers. Arrow keys go from row to row.
   */
  let { label, rows = [], list, columns, cell, tools, bulk, chosen = $bindable(), key = (row) => (row as { id: string }).id }: {
    label: string; rows?: T[]; list?: PagedList<T>; columns: Column<T>[]; cell?: Snippet<[T, Column<T>]>; tools?: Snippet;
    bulk?: Snippet; chosen?: string[]; key?: (row: T) => string;
  } = $props();
  const FEW = 8;
  const many = $derived((list?.rows ?? rows).length > FEW || list?.hasMore === true);
  const filterable = $derived(list?.searchable ? many || list.text !== '' : !list && many);
  const whole = $derived(!list?.hasMore);
  const sortable = (column: Column<T>) => !column.action && (whole || column.order !== undefined);
  // svelte-ignore state_referenced_locally
  const grid = new GridState<T>(() => list?.rows ?? rows, () => columns, () => whole, list?.inAddress);
  // what is loaded in part is sorted by the service, also what the address asks for
  $effect(() => {
    if (list && (!whole || list.sorted)) void list.sort(grid.order);
  });
  const drawn = $derived(list ? grid.all : grid.visible);
  const file = new Action();
  const toFile = () => file.run(async () => {
    const all = list ? await list.everything() : grid.all;
    save(label.replaceAll(' ', '-') + '.csv', new Blob([csv(columns, all)], { type: 'text/csv' }));
  });
  const tick = (id: string, on: boolean) => (chosen = on ? [...(chosen ?? []), id] : (chosen ?? []).filter((c) => c !== id));
  const all = $derived(drawn.length > 0 && drawn.every((row) => chosen?.includes(key(row))));

  function move(e: KeyboardEvent & { currentTarget: HTMLElement }): void {
    const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, Home: -Infinity, End: Infinity };
    const step = steps[e.key];
    const at = e.target as HTMLElement;
    if (step === undefined || at.matches('input:not([type=checkbox]), select, textarea')) return;
    const lines = [...e.currentTarget.querySelectorAll<HTMLElement>('tbody tr')].filter((line) => line.querySelector('a, button, input'));
    const now = lines.findIndex((line) => line.contains(at));
    const to = lines[Math.max(0, Math.min(lines.length - 1, now + step))];
    if (!to) return;
    e.preventDefault();
    (to.querySelector<HTMLElement>('td a, td button') ?? to.querySelector<HTMLElement>('input'))?.focus();
  }
</script>

{#if filterable || tools || many || bulk}
  <div class="tools">
    {#if filterable}
      <label class="filter"><span class="visually-hidden">Filter {label}</span>
        {#if list}<input type="search" placeholder="Filter {label}" value={list.text} oninput={(e) => list.search(e.currentTarget.value)} />
        {:else}<input type="search" placeholder="Filter {label}" bind:value={grid.filter} />{/if}
      </label>
    {/if}
    {#if tools}{@render tools()}{/if}
    {#if many}<span class="file"><Button busy={file.busy} onclick={toFile} aria-label="Save {label} as CSV">Save as CSV</Button></span>{/if}
  </div>
{/if}
{#if bulk && chosen?.length}<div class="tools bulk" role="group" aria-label="What to do with the chosen {label}"><span>{chosen.length} chosen</span>{@render bulk()}<Button onclick={() => (chosen = [])}>Choose none</Button></div>{/if}
<!-- scrolls sideways on narrow screens, so it must be reachable by keyboard -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div class="room"><div class="wrap" role="region" aria-label={label} tabindex="0" onkeydown={move}>
  <table>
    <thead>
      <tr>
        {#if chosen}<th class="tick"><input type="checkbox" aria-label="Choose all {label} shown" checked={all} onchange={(e) => (chosen = e.currentTarget.checked ? drawn.map(key) : [])} /></th>{/if}
        {#each columns as column (column.key)}
          <th scope="col" class={column.kind} aria-sort={sortable(column) ? grid.ariaSort(column.key) : undefined}>
            {#if sortable(column)}<button onclick={() => grid.toggle(column.key)}>{column.label}<span aria-hidden="true">{grid.by === column.key ? (grid.down ? ' ↓' : ' ↑') : ''}</span></button>
            {:else}<span class="head">{column.label}</span>{/if}
          </th>
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each drawn as row (key(row))}
        <tr>
          {#if chosen}<td class="tick"><input type="checkbox" aria-label="Choose {columns[0]?.text(row)}" checked={chosen.includes(key(row))} onchange={(e) => tick(key(row), e.currentTarget.checked)} /></td>{/if}
          {#each columns as column (column.key)}
            <td class={column.kind}>{#if cell}{@render cell(row, column)}{:else}{column.text(row)}{/if}</td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
</div></div>
{#if list?.hasMore}
  <p class="soft small">The first {list.rows.length} are shown. <Button onclick={() => void list.more()}>Show more</Button></p>
{:else if !list && grid.all.length > grid.visible.length}
  <p class="soft small">{grid.visible.length} of {grid.all.length} shown <Button onclick={() => grid.more()}>Show more</Button></p>
{:else if (list?.searched || grid.filter) && grid.all.length === 0}
  <p class="soft small">No match for “{list?.searched || grid.filter}”.</p>
{/if}

<style>
  .wrap { overflow-x: auto; }
  table { border-collapse: separate; border-spacing: 0; width: 100%; font-variant-numeric: tabular-nums; }
  th, td { text-align: left; padding: 0.3rem var(--gap-4) 0.3rem 0; border-bottom: 1px solid var(--line); vertical-align: baseline; }
  th { padding-block: 0; background: var(--ground); }
  th button, .head { font: 600 var(--size-small)/1.6 var(--font); color: var(--ink-soft); background: none; border: 0; padding: 0.2rem 0; cursor: pointer; white-space: nowrap; }
  .head { display: inline-block; cursor: default; }
  th button:hover { color: var(--ink); }
  @media (min-width: 721px) { td:first-child { white-space: nowrap; } }
  /* where nothing has to scroll sideways, the headings stay in sight */
  .room { container-type: inline-size; min-width: 0; }
  @container (min-width: 1160px) { .wrap { overflow: visible; } thead th { position: sticky; top: 0; z-index: 1; } }
  td.mono { font-family: var(--mono); font-size: 0.87em; white-space: nowrap; }
  td :global(.state) { white-space: nowrap; }
  .num { text-align: right; white-space: nowrap; }
  .tick { width: 1.6rem; padding-right: var(--gap-2); }
  tbody tr:hover, tbody tr:focus-within { background: var(--sunk); }
  .tools { display: flex; flex-wrap: wrap; gap: var(--gap-2); align-items: end; }
  .bulk { align-items: center; background: var(--sunk); padding: var(--gap-2) var(--gap-3); border-radius: var(--radius); }
  .filter { flex: 0 1 22rem; }
  .filter input { font: inherit; padding: 0.25rem 0.5rem; min-height: 2rem; width: 100%; border: 1px solid var(--line-strong); border-radius: var(--radius); background: var(--sheet); color: var(--ink); }
  .file { margin-left: auto; font-size: var(--size-small); }
</style>
