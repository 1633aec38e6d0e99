<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Columns from '../components/Columns.svelte';
  import DeviceForm from '../components/DeviceForm.svelte';
  import Empty from '../components/Empty.svelte';
  import Grid from '../components/Grid.svelte';
  import IssueForm from '../components/IssueForm.svelte';
  import Departures from '../components/Departures.svelte';
  import Leave from '../components/Leave.svelte';
  import PersonForm from '../components/PersonForm.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import ProvisionForm from '../components/ProvisionForm.svelte';
  import Remove from '../components/Remove.svelte';
  import Section from '../components/Section.svelte';
  import Timeline from '../components/Timeline.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { Resource } from '../lib/resource.svelte';
  import { router } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { Device, Person } from '../lib/types';

  let { handle }: { handle: string } = $props();
  const person = new Resource(() => api.get<Person>('/people/' + encodeURIComponent(handle)), ['person', 'profile', 'handout', 'trial', 'session']);
  onMount(() => person.start());
  let editing = $state('');
  let provisioning = $state(false);
  const columns: Column<Device>[] = [
    { key: 'name', label: 'Device', text: (d) => d.name },
    { key: 'kind', label: 'Kind', text: (d) => d.kind },
    { key: 'system', label: 'System', text: (d) => d.system },
    ...(session.mayWrite ? [{ key: 'do', label: 'Change', text: () => '', action: true }] : []),
  ];
  const p = $derived(person.data);
</script>

<Trouble problem={person.problem} />
{#if p}
  <h1>{p.name} <span class="soft">{[p.handle, p.team, p.mail].filter(Boolean).join(', ')}</span></h1>
  <Columns>
    {#snippet main()}
      <Section title="Profiles">
        {#if p.profiles.length > 0}<ProfileGrid label="profiles" profiles={p.profiles} />
        {:else}<Empty>{p.name} has no profile yet. {p.devices.length === 0 ? 'Add a device first.' : 'Issue one below.'}</Empty>{/if}
      </Section>
      {#if session.mayWrite && p.devices.length > 0}
        <Section title="Issue a profile"><IssueForm person={p.handle} devices={p.devices} issued={() => void person.reload()} /></Section>
      {/if}
      {#if p.profiles.some((one) => ['withdrawing', 'closing', 'withdrawn'].includes(one.state))}<Departures person={p.handle} />{/if}
      <Section title="Devices">
        {#if p.devices.length > 0}<Grid label="devices" rows={p.devices} {columns}>
          {#snippet cell(d, column)}
            {#if column.key === 'do'}<span class="do"><Button aria-label="Change {d.name}" onclick={() => (editing = d.id)}>Change</Button><Leave path={`/people/${encodeURIComponent(p.handle)}/devices/${encodeURIComponent(d.name)}/lost`} label="Lost" title="{p.name}'s {d.name} is lost" left={() => void person.reload()} /><Remove path={`/people/${encodeURIComponent(p.handle)}/devices/${encodeURIComponent(d.name)}`} removed={() => void person.reload()} /></span>
            {:else}{column.text(d)}{/if}
          {/snippet}
        </Grid>{/if}
        {#each p.devices.filter((d) => d.id === editing) as d (d.id)}<DeviceForm person={p.handle} device={d} closing={() => (editing = '')} saved={() => { editing = ''; void person.reload(); }} />{/each}
        {#if session.mayWrite && p.devices.length > 0}<p class="small"><Button onclick={() => (provisioning = true)}>Make a provisioning file</Button> <span class="soft">A device that joins with one keeps its profiles current by itself; <a href="/handouts/devices?text={encodeURIComponent(p.handle)}">devices that have joined</a>.</span></p>{/if}
        {#if provisioning}<ProvisionForm person={p.handle} devices={p.devices} made={() => void person.reload()} closing={() => (provisioning = false)} />{/if}
        {#if session.mayWrite && !editing}<DeviceForm person={p.handle} saved={() => void person.reload()} />{/if}
      </Section>
      {#if session.mayWrite}
        <Section title="Details" note="The language is that of the page, the steps and the sheets that {p.name} is given.">
          {#key p.version}<PersonForm person={p} saved={(now) => (now === handle ? void person.reload() : router.go('/people/' + encodeURIComponent(now)))} />{/key}
          <div class="do"><Leave path={`/people/${encodeURIComponent(p.handle)}/leave`} label="Leaves" title="{p.name} leaves" left={() => void person.reload()} /><Remove path={'/people/' + encodeURIComponent(p.handle)} label="Remove this person" removed={() => router.go('/people')} /></div>
        </Section>
      {/if}
    {/snippet}
    {#snippet side()}
      <Section title="Timeline" note="handouts, connections and trials"><Timeline person={p.handle} /></Section>
    {/snippet}
  </Columns>
{/if}

<style>
  .do { display: flex; gap: var(--gap-2); align-items: start; }
</style>
