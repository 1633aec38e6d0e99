<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Columns from '../components/Columns.svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import Field from '../components/Field.svelte';
  import Grid from '../components/Grid.svelte';
  import IssueForm from '../components/IssueForm.svelte';
  import PersonForm from '../components/PersonForm.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import Remove from '../components/Remove.svelte';
  import Section from '../components/Section.svelte';
  import Timeline from '../components/Timeline.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { router } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { Device, Person } from '../lib/types';

  let { handle }: { handle: string } = $props();
  const person = new Resource(() => api.get<Person>('/people/' + encodeURIComponent(handle)), ['person', 'profile', 'handout', 'trial', 'session']);
  onMount(() => person.start());
  const kinds = ['phone', 'laptop', 'tablet', 'travel-router', 'server'].map((k) => ({ value: k, label: k }));
  let name = $state('');
  let kind = $state('phone');
  let system = $state('');
  const action = new Action();
  const add = () => action.run(async () => {
    await api.post(`/people/${encodeURIComponent(handle)}/devices`, { name, kind, system: system || null });
    name = system = '';
    await person.reload();
  });
  const columns: Column<Device>[] = [
    { key: 'name', label: 'Device', text: (d) => d.name },
    { key: 'kind', label: 'Kind', text: (d) => d.kind },
    { key: 'system', label: 'System', text: (d) => d.system },
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
      <Section title="Devices">
        {#if p.devices.length > 0}<Grid label="devices" rows={p.devices} columns={session.mayWrite ? [...columns, { key: 'remove', label: 'Remove', text: () => '', action: true }] : columns}>
          {#snippet cell(d, column)}{#if column.key === 'remove'}<Remove path={`/people/${encodeURIComponent(p.handle)}/devices/${encodeURIComponent(d.name)}`} removed={() => void person.reload()} />{:else}{column.text(d)}{/if}{/snippet}
        </Grid>{/if}
        {#if session.mayWrite}
          <form onsubmit={(e) => { e.preventDefault(); void add(); }}>
            <Field label="Name" bind:value={name} required hint="phone, laptop, bridge-tablet" />
            <Choice label="Kind" bind:value={kind} options={kinds} />
            <Field label="System" bind:value={system} hint="Operating system and release" />
            <Button type="submit" busy={action.busy}>Add device</Button>
          </form>
          <Trouble problem={action.problem} />
        {/if}
      </Section>
      {#if session.mayWrite}
        <Section title="Details" note="The language is that of the page, the steps and the sheets that {p.name} is given.">
          {#key p.version}<PersonForm person={p} saved={() => void person.reload()} />{/key}
          <div><Remove path={'/people/' + encodeURIComponent(p.handle)} label="Remove this person" removed={() => router.go('/people')} /></div>
        </Section>
      {/if}
    {/snippet}
    {#snippet side()}
      <Section title="Timeline" note="handouts, connections and trials"><Timeline person={p.handle} /></Section>
    {/snippet}
  </Columns>
{/if}

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  form :global(button) { margin-top: 1.6rem; justify-self: start; }
</style>
