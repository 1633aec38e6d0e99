<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import Grid from '../components/Grid.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import { Chosen } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { Job } from '../lib/types';
  /** Work in the background: what runs, what failed and why. */
  const states = ['', 'waiting', 'running', 'done', 'failed', 'cancelled'].map((s) => ({ value: s, label: s || 'All' }));
  const shown = new Chosen('state');
  const jobs = new PagedList<Job>(() => '/jobs' + (shown.value && '?state=' + shown.value), ['job'], false);
  onMount(() => jobs.start());
  const choose = (value: string) => { shown.value = value; void jobs.again(); };
  const open = (j: Job) => j.state === 'waiting' || j.state === 'running';
  const look = (j: Job) => ({ done: 'ok', failed: 'failing', waiting: 'waiting', running: 'waiting' })[j.state] ?? 'withdrawn';
  const columns: Column<Job>[] = [
    { key: 'kind', label: 'Job', text: (j) => j.kind.replaceAll('-', ' ') },
    { key: 'subject', label: 'About', text: (j) => j.subject ?? '' },
    { key: 'state', label: 'State', text: (j) => (j.state === 'running' && j.progress > 0 ? `running, ${j.progress} %` : j.state) },
    { key: 'note', label: 'Result', text: (j) => j.note },
    { key: 'attempts', label: 'Attempts', text: (j) => String(j.attempts), sort: (j) => j.attempts, kind: 'num' },
    { key: 'created', label: 'Ordered', text: (j) => j.createdAt },
    { key: 'ended', label: 'Ended', text: (j) => j.endedAt ?? '' },
    ...(session.mayWrite ? [{ key: 'do', label: 'Cancel', text: () => '', action: true }] : []),
  ];
  const action = new Action();
  const cancel = (j: Job) => action.run(async () => { await api.post(`/jobs/${j.id}/cancel`); await jobs.reload(); });
</script>

<h1>Jobs</h1>
<Trouble problem={action.problem ?? jobs.problem} />
{#if jobs.rows.length || shown.value}
  <Grid label="jobs" list={jobs} {columns}>
    {#snippet tools()}<Choice label="State" bind:value={() => shown.value, choose} options={states} inline />{/snippet}
    {#snippet cell(j, column)}
      {#if column.key === 'state'}<State state={look(j)} word={column.text(j)} />
      {:else if column.key === 'created'}<When at={j.createdAt} />
      {:else if column.key === 'ended'}<When at={j.endedAt} none="" />
      {:else if column.key === 'do'}{#if open(j)}<Button busy={action.busy} aria-label="Cancel {j.kind}" onclick={() => cancel(j)}>Cancel</Button>{/if}
      {:else}{column.text(j)}{/if}
    {/snippet}
  </Grid>
{:else if jobs.ready}<Empty>No job yet. Whatever takes time, such as reading a gateway, is a job and is listed here.</Empty>{/if}
