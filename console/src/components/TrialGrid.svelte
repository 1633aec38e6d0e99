<script lang="ts">
  import { onMount } from 'svelte';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import type { Trial } from '../lib/types';
  import Empty from './Empty.svelte';
  import Grid from './Grid.svelte';
  import State from './State.svelte';
  import When from './When.svelte';
  let { profile = '' }: { profile?: string } = $props();
  // svelte-ignore state_referenced_locally
  const trials = new PagedList<Trial>(() => '/trials' + (profile ? '?profile=' + profile : ''), ['trial'], true, profile === '');
  onMount(() => trials.start());
  const cause = (t: Trial) => t.rungs.flatMap((r) => r.causes.map((c) => `${r.rung}: ${c.what}`))[0] ?? t.note ?? '';
  const columns: Column<Trial>[] = [
    { key: 'profile', label: 'Profile or listener', text: (t) => t.profile, order: 'profile' },
    { key: 'verdict', label: 'Verdict', text: (t) => t.verdict ?? t.state, order: 'verdict' },
    { key: 'rests', label: 'Rests on', text: (t) => t.restsOn },
    { key: 'from', label: 'From', text: (t) => t.vantage },
    { key: 'when', label: 'When', text: (t) => t.createdAt, order: 'when' },
    { key: 'cause', label: 'Cause or note', text: cause },
  ];
</script>

{#if trials.rows.length || trials.text}
  <Grid label="trials" list={trials} {columns}>
    {#snippet cell(t, column)}
      {#if column.key === 'profile'}<a href="/proof/{t.id}">{t.profile}</a>
      {:else if column.key === 'verdict'}<State state={t.verdict ?? t.state} />
      {:else if column.key === 'when'}<When at={t.createdAt} />
      {:else if column.key === 'cause'}<span class="note">{cause(t)}</span>
      {:else}{column.text(t)}{/if}
    {/snippet}
  </Grid>
{:else if trials.ready}<Empty>A trial connects with the very file and reaches a host inside. Start one from a profile's page.</Empty>{/if}

<style>
  .note { display: block; min-width: 16rem; }
  @media (max-width: 720px) { .note { white-space: nowrap; } }
</style>
