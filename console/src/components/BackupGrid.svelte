<script lang="ts">
  import { onMount } from 'svelte';
  import { bytes } from '../lib/format';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { session } from '../lib/session.svelte';
  import type { Backup, SettingDifference } from '../lib/types';
  import Button from './Button.svelte';
  import Download from './Download.svelte';
  import Empty from './Empty.svelte';
  import Grid from './Grid.svelte';
  import When from './When.svelte';
  /** Backups, of one gateway or all, with what changed since the one before. */
  let { gateway = '' }: { gateway?: string } = $props();
  // svelte-ignore state_referenced_locally
  const backups = new PagedList<Backup>(() => '/backups' + (gateway ? '?gateway=' + gateway : ''), ['backup'], false, gateway === '');
  onMount(() => backups.start());
  const FEW = 4;
  let chosen = $state.raw<Backup | null>(null);
  const changed = (b: Backup) => b.differences.map((d) => `${d.path} +${d.linesAdded} −${d.linesRemoved}`).join(', ') || 'as before';
  const setting = (d: SettingDifference) => (d.was === '' ? `${d.field}: ${d.becomes === 'there' ? 'added' : d.becomes}` : d.becomes === '' ? `${d.field}: ${d.was === 'there' ? '' : d.was + ' '}removed` : `${d.field}: ${d.was} → ${d.becomes}`);
  const columns: Column<Backup>[] = [
    { key: 'gateway', label: 'Gateway', text: (b) => b.gateway, order: 'gateway' },
    { key: 'number', label: 'No.', text: (b) => String(b.number), sort: (b) => b.number, kind: 'num' },
    { key: 'taken', label: 'Taken', text: (b) => b.takenAt, order: 'taken' },
    { key: 'reason', label: 'Reason', text: (b) => b.reason, order: 'reason' },
    { key: 'release', label: 'Release', text: (b) => b.release, order: 'release' },
    { key: 'size', label: 'Size', text: (b) => bytes(b.bytes), sort: (b) => b.bytes, kind: 'num', order: 'size' },
    { key: 'digest', label: 'SHA-256', text: (b) => b.digest.slice(0, 12), kind: 'mono' },
    { key: 'settings', label: 'Settings changed', text: (b) => b.settings.map(setting).join('; ') },
    { key: 'changed', label: 'Lines changed', text: changed, kind: 'mono' },
    { key: 'do', label: 'Download', text: () => '', action: true },
  ];
</script>

{#if backups.rows.length}
  <Grid label="backups" list={backups} {columns}>
    {#snippet cell(b, column)}
      {#if column.key === 'taken'}<When at={b.takenAt} />
      {:else if column.key === 'settings'}
        {#if b.settings.length}<ul>{#each b.settings.slice(0, FEW) as d (d.field + d.was + d.becomes)}<li class="small">{setting(d)}</li>{/each}{#if b.settings.length > FEW}<li class="small soft" title={b.settings.slice(FEW).map(setting).join('\n')}>and {b.settings.length - FEW} more</li>{/if}</ul>{:else}<span class="soft">none</span>{/if}
      {:else if column.key === 'do' && session.mayWrite}<Button aria-label="Download backup {b.number} of {b.gateway}" onclick={() => (chosen = b)}>Download</Button>
      {:else}{column.text(b)}{/if}
    {/snippet}
  </Grid>
{:else if backups.ready}<Empty>No backup yet. The first is taken as soon as a gateway's identity is accepted, and one more before every change.</Empty>{/if}
{#if chosen}<Download backup={chosen} closing={() => (chosen = null)} />{/if}

<style>
  ul { list-style: none; margin: 0; padding: 0; min-width: 14rem; overflow-wrap: anywhere; }
</style>
