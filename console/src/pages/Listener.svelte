<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import Field from '../components/Field.svelte';
  import Section from '../components/Section.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Monitor, MonitorResult } from '../lib/types';
  /** One listener's monitor: its state, its history and its schedule. */
  let { id }: { id: string } = $props();
  const monitor = new Resource(() => api.get<Monitor>('/monitors/' + id), ['monitor']);
  let days = $state('7');
  const history = new Resource(() => api.list<MonitorResult>(`/monitors/${id}/history?days=${days}`), ['monitor']);
  onMount(() => {
    const stops = [monitor.start(), history.start()];
    return () => stops.forEach((stop) => stop());
  });
  $effect(() => {
    if (days) void history.reload();
  });
  const action = new Action();
  let every = $state('900');
  let from = $state('');
  let to = $state('');
  const set = () =>
    action.run(async () => {
      await api.post('/monitors/' + id, { everySeconds: Number(every), ...(from && to ? { quietFrom: from, quietTo: to } : {}) });
      await monitor.reload();
    });
  const drop = () =>
    action.run(async () => {
      await api.remove('/monitors/' + id);
      await monitor.reload();
    });
  const r = $derived(monitor.data);
  const failed = $derived((history.data ?? []).filter((x) => !x.proven).reverse().slice(0, 20));
</script>

<h1>{r ? `${r.gateway} ${r.listener}` : 'Listener'}</h1>
{#if r}
  <p>
    <State state={r.verdict ?? (r.everySeconds === null ? 'not monitored' : 'waiting')} />
    {#if r.since}<span class="soft">since <When at={r.since} /></span>{/if}
    {#if r.trialId}<a href="/proof/{r.trialId}">its newest trial</a>{/if}
  </p>
  {#if r.cause}<p><strong>{r.rung}</strong> {r.cause}</p>{/if}
  <Section title="Round trips">
    {#snippet actions()}
      <Choice label="How far back" bind:value={days} options={[{ value: '1', label: 'a day' }, { value: '7', label: '7 days' }, { value: '30', label: '30 days' }, { value: '90', label: '90 days' }]} />
    {/snippet}
    {#if history.data?.length}
      {#await import('../components/LatencyChart.svelte') then chart}<chart.default results={history.data} />{/await}
    {:else if history.data}<Empty>No results in this time. Set a schedule below.</Empty>{/if}
    {#if failed.length}
      <ul>
        {#each failed as f (f.at)}<li><State state={f.verdict} word="{f.verdict}{f.rung ? ', at ' + f.rung : ''}" /> <span class="soft"><When at={f.at} /></span></li>{/each}
      </ul>
    {/if}
  </Section>
  {#if session.mayWrite}
    <Section title="Monitor" note={r.everySeconds === null ? 'off' : `every ${r.everySeconds / 60} min`}>
      <Trouble problem={action.problem} />
      <form onsubmit={(e) => { e.preventDefault(); void set(); }}>
        <Choice label="Every" bind:value={every} options={[{ value: '300', label: '5 min' }, { value: '900', label: '15 min' }, { value: '3600', label: 'hour' }, { value: '21600', label: '6 hours' }]} />
        <Field label="Quiet hours from (UTC, such as 22:00)" bind:value={from} />
        <Field label="to" bind:value={to} />
        <div class="buttons">
          <Button look="main" type="submit" busy={action.busy}>Save schedule</Button>
          {#if r.everySeconds !== null}<Button look="harm" onclick={drop}>Stop monitoring</Button>{/if}
        </div>
      </form>
    </Section>
  {/if}
{:else if monitor.data === null && !monitor.problem}<p class="soft">…</p>{/if}
<Trouble problem={monitor.problem} />

<style>
  p { display: flex; flex-wrap: wrap; gap: var(--gap-3); align-items: baseline; }
  ul { margin: 0; padding: 0; list-style: none; display: grid; gap: var(--gap-1); }
  form { display: grid; grid-template-columns: repeat(auto-fill, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: end; max-width: 48rem; }
  .buttons { display: flex; flex-wrap: wrap; gap: var(--gap-2); grid-column: 1 / -1; }
</style>
