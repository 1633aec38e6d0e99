<script lang="ts">
  import { onMount } from 'svelte';
  import { bytes } from '../lib/format';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { session } from '../lib/session.svelte';
  import type { Backup } from '../lib/types';
  import Button from './Button.svelte';
  import Download from './Download.svelte';
  import Empty from './Empty.svelte';
  import Grid from './Grid.svelte';
  import When from './When.svelte';
  /** Backups, of one gateway or all, with what changed since the one before. */
  let { gateway = '' }: { gateway?: string } = $props();
  const backups = new PagedList<Backup>(() => '/backups' + (gateway ? '?gateway=' + gateway : ''), ['backup'], false);
  onMount(() => backups.start());
  let chosen = $state.raw<Backup | null>(null);
  const changed = (b: Backup) => b.differences.map((d) => `${d.path} +${d.linesAdded} −${d.linesRemoved}`).join(', ') || 'as before';
  const columns: Column<Backup>[] = [
    { key: 'gateway', label: 'Gateway', text: (b) => b.gateway },
    { key: 'number', label: 'No.', text: (b) => String(b.number), sort: (b) => b.number, kind: 'num' },
    { key: 'taken', label: 'Taken', text: (b) => b.takenAt },
    { key: 'reason', label: 'Reason', text: (b) => b.reason },
    { key: 'release', label: 'Release', text: (b) => b.release },
    { key: 'size', label: 'Size', text: (b) => bytes(b.bytes), sort: (b) => b.bytes, kind: 'num' },
    { key: 'digest', label: 'SHA-256', text: (b) => b.digest.slice(0, 12), kind: 'mono' },
    { key: 'changed', label: 'Changed', text: changed, kind: 'mono' },
    { key: 'do', label: 'Download', text: () => '' },
  ];
</script>

{#if backups.rows.length}
  <Grid label="backups" list={backups} {columns}>
    {#snippet cell(b, column)}
      {#if column.key === 'taken'}<When at={b.takenAt} />
      {:else if column.key === 'do' && session.mayWrite}<Button aria-label="Download backup {b.number} of {b.gateway}" onclick={() => (chosen = b)}>Download</Button>
      {:else}{column.text(b)}{/if}
    {/snippet}
  </Grid>
{:else if backups.ready}<Empty>No backup yet. The first is taken as soon as a gateway's identity is accepted, and one more before every change.</Empty>{/if}
{#if chosen}<Download backup={chosen} closing={() => (chosen = null)} />{/if}
