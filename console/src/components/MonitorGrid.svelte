<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { Chosen } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { Monitor, MonitorCounts } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Empty from './Empty.svelte';
  import Grid from './Grid.svelte';
  import Latency from './Latency.svelte';
  import Section from './Section.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  import When from './When.svelte';
  /** All listeners now. */
  const choices = [
    { value: '', label: 'All' },
    { value: 'state=not-proven', label: 'Not proven' },
    { value: 'state=waiting', label: 'Waiting' },
    { value: 'state=proven', label: 'Proven' },
    { value: 'state=not-monitored', label: 'Not monitored' },
  ];
  const shown = new Chosen('listeners');
  const monitors = new PagedList<Monitor>(() => '/monitors' + (shown.value && '?' + shown.value), ['monitor', 'gateway']);
  const counts = new Resource(() => api.get<MonitorCounts>('/monitors/counts'), ['monitor', 'gateway']);
  onMount(() => {
    const ends = [monitors.start(), counts.start()];
    return () => ends.forEach((end) => end());
  });
  const choose = (value: string) => { shown.value = value; void monitors.again(); };
  const action = new Action();
  const standing = (r: Monitor) => 
    r.verdict ?? (r.everySeconds === null ? 'not monitored' : r.cause ? 'cannot be tried' : 'waiting');
  const share = (s: number | null) => (s === null ? '' : `${(s * 100).toFixed(s === 1 ? 0 : 1)} %`);
  const every = (s: number | null) => (s === null ? '' : s % 3600 === 0 ? `${s / 3600} h` : s % 60 === 0 ? `${s / 60} min` : `${s} s`);
  const cause = (r: Monitor) => (r.rung ? `${r.rung}: ` : '') + (r.cause ?? '');
  const order = ['not proven', 'does not answer', 'answers, not trusted', 'waiting', 'cannot be tried', 'proven', 'answers', 'not monitored'];
  const columns: Column<Monitor>[] = [
    { key: 'listener', label: 'Listener', text: (r) => `${r.gateway} ${r.listener}` },
    { key: 'kind', label: 'Kind', text: (r) => r.protocol },
    { key: 'state', label: 'Now', text: standing, sort: (r) => order.indexOf(standing(r)) },
    { key: 'since', label: 'Since', text: (r) => r.since ?? '' },
    { key: 'latest', label: 'Round trips', text: () => '' },
    { key: 'day', label: 'Day', text: (r) => share(r.day), sort: (r) => r.day ?? 2, kind: 'num' },
    { key: 'month', label: '30 days', text: (r) => share(r.month), sort: (r) => r.month ?? 2, kind: 'num' },
    { key: 'every', label: 'Every', text: (r) => every(r.everySeconds), sort: (r) => r.everySeconds ?? 1e9, kind: 'num' },
    { key: 'cause', label: 'Cause', text: cause },
  ];
  const idle = $derived(counts.data?.couldBeTried ?? 0);
  const note = $derived(counts.data ? `${counts.data.proven} ok, ${counts.data.notProven} failing, ${counts.data.waiting} waiting, ${counts.data.notMonitored} not monitored` : '');
  let asking = $state(false);
  const begin = () =>
    action.run(async () => {
      await api.post('/monitors', { everySeconds: 900 });
      asking = false;
      await Promise.all([monitors.reload(), counts.reload()]);
    });
</script>

<Section title="Monitors" {note}>
  {#snippet actions()}
    {#if session.mayWrite && idle && !asking}<Button onclick={() => (asking = true)}>{idle === 1 ? 'Monitor it every 15 min' : `Monitor the other ${idle} every 15 min`}</Button>{/if}
  {/snippet}
  {#if asking}
    <div class="ask" role="group" aria-label="Confirm">
      <p>Tender creates a canary profile for {idle === 1 ? 'this listener' : `each of these ${idle} listeners`}: a key, a certificate or an account with the same reach as its clients. L2TP and TLS listeners are only probed.</p>
      <div class="buttons"><Button look="main" busy={action.busy} onclick={begin}>Start</Button><Button onclick={() => (asking = false)}>Cancel</Button></div>
    </div>
  {/if}
  <Trouble problem={action.problem ?? monitors.problem} />
  {#if monitors.rows.length || monitors.text || shown.value}
    <Grid label="listeners" list={monitors} {columns}>
      {#snippet tools()}<Choice label="Show" bind:value={() => shown.value, choose} options={choices} inline />{/snippet}
      {#snippet cell(r, column)}
        {#if column.key === 'listener'}<a class="name" href="/proof/listeners/{r.id}">{r.gateway} {r.listener}</a>
        {:else if column.key === 'kind'}<span class="kind">{r.protocol}</span>
        {:else if column.key === 'state'}{#if r.trialId}<a class="quiet" href="/proof/{r.trialId}"><State state={standing(r)} /></a>{:else}<State state={standing(r)} />{/if}
        {:else if column.key === 'since'}{#if r.since}<When at={r.since} />{/if}
        {:else if column.key === 'latest'}{#if r.latest.length}<Latency results={r.latest} />{/if}
        {:else if column.key === 'cause'}<span class="note">{cause(r)}</span>
        {:else}{column.text(r)}{/if}
      {/snippet}
    </Grid>
  {:else if monitors.ready}<Empty>No gateway has been read yet. Add a gateway; its listeners are listed here.</Empty>{/if}
</Section>

<style>
  .note { display: block; min-width: 14rem; }
  @media (max-width: 720px) { .note { white-space: nowrap; } }
  .quiet { text-decoration: none; }
  .name, .kind { white-space: nowrap; }
  .ask { display: grid; gap: var(--gap-2); padding: var(--gap-3); background: var(--sunk); border-left: 3px solid var(--waiting); }
  .buttons { display: flex; gap: var(--gap-2); }
</style>
