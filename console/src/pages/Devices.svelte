<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import EnrolledGrid from '../components/EnrolledGrid.svelte';
  import Grid from '../components/Grid.svelte';
  import ProvisionForm from '../components/ProvisionForm.svelte';
  import Section from '../components/Section.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import { exact } from '../lib/format';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import { Chosen } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { Provision } from '../lib/types';

  /** Devices that keep themselves current, and the files with which they join. */
  const files = new PagedList<Provision>(() => '/provisions', ['provision', 'enrolment'], false);
  onMount(() => files.start());
  let making = $state(false);
  const shown = new Chosen('show', 'all');
  const action = new Action();
  const withdraw = (p: Provision) => action.run(async () => { await api.post(`/provisions/${p.id}/withdraw`); await files.again(); });
  const whom = (p: Provision) => p.device ?? `team ${p.team}`;
  const kind = (p: Provision) => (p.state === 'used' ? 'proven' : p.state === 'open' ? 'waiting' : 'withdrawn');
  const columns: Column<Provision>[] = [
    { key: 'whom', label: 'For', text: whom },
    { key: 'state', label: 'State', text: (p) => p.state },
    { key: 'joined', label: 'Joined', text: (p) => String(p.joined), kind: 'num' },
    { key: 'code', label: 'Asks for', text: (p) => (p.asksCode ? 'file and code' : 'file') },
    { key: 'made', label: 'Made', text: (p) => p.createdAt },
    { key: 'ends', label: 'Ends', text: (p) => exact(p.ends) },
    ...(session.mayWrite ? [{ key: 'do', label: 'Withdraw', text: () => '', action: true }] : []),
  ];
</script>

<h1>Devices that keep themselves current</h1>
{#if making}<ProvisionForm made={() => void files.again()} closing={() => (making = false)} />{/if}
<Section title="Devices" note="each fetches its profiles, connects with them, and says so">
  {#snippet actions()}{#if session.mayWrite}<Button look="main" onclick={() => (making = true)}>Make a provisioning file</Button>{/if}{/snippet}
  <div class="show"><Choice label="Show" inline bind:value={shown.value} options={[{ value: 'all', label: 'all' }, { value: 'behind', label: 'those that need attention' }]} /></div>
  {#key shown.value}<EnrolledGrid behind={shown.value === 'behind'} />{/key}
</Section>
<Section title="Provisioning files" note="with which devices join">
  <Trouble problem={action.problem ?? files.problem} />
  {#if files.rows.length}
    <Grid label="provisioning files" list={files} {columns}>
      {#snippet cell(p, column)}
        {#if column.key === 'state'}<State state={kind(p)} word={p.state} />
        {:else if column.key === 'made'}<When at={p.createdAt} />
        {:else if column.key === 'do'}{#if p.state === 'open'}<Button aria-label="Withdraw the file for {whom(p)}" busy={action.busy} onclick={() => void withdraw(p)}>Withdraw</Button>{/if}
        {:else}{column.text(p)}{/if}
      {/snippet}
    </Grid>
  {:else if files.ready}<Empty>No provisioning file was made yet.</Empty>{/if}
</Section>

<style>
  .show { justify-self: start; }
</style>
