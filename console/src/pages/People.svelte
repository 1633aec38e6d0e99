<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Empty from '../components/Empty.svelte';
  import Field from '../components/Field.svelte';
  import Grid from '../components/Grid.svelte';
  import Section from '../components/Section.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import { router } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { Person } from '../lib/types';

  const people = new PagedList<Person>(() => '/people', ['person']);
  onMount(() => people.start());
  let handle = $state('');
  let name = $state('');
  let team = $state('');
  const action = new Action();
  const add = () => action.run(async () => {
    await api.post('/people', { handle, name, team: team || null });
    router.go('/people/' + handle);
  });
  const columns: Column<Person>[] = [
    { key: 'name', label: 'Name', text: (p) => p.name },
    { key: 'handle', label: 'Handle', text: (p) => p.handle },
    { key: 'team', label: 'Team', text: (p) => p.team ?? '' },
    { key: 'devices', label: 'Devices', text: (p) => String(p.deviceCount), sort: (p) => p.deviceCount, kind: 'num' },
    { key: 'mail', label: 'Mail', text: (p) => p.mail },
  ];
</script>

<h1>People</h1>
<Trouble problem={people.problem} />
{#if people.rows.length || people.text}
  <Grid label="people" list={people} {columns}>
    {#snippet cell(p, column)}{#if column.key === 'name'}<a href="/people/{p.handle}">{p.name}</a>{:else}{column.text(p)}{/if}{/snippet}
  </Grid>
{:else if people.ready}<Empty>Whoever connects stands here, with their devices. Add the first below, or bring in a list: <code>tender person import people.csv</code></Empty>{/if}
{#if session.mayWrite}
  <Section title="Add a person">
    <form onsubmit={(e) => { e.preventDefault(); void add(); }}>
      <Field label="Handle" bind:value={handle} required hint="Short: it stands in labels and file names" />
      <Field label="Name" bind:value={name} required />
      <Field label="Team" bind:value={team} />
      <Button type="submit" look="main" busy={action.busy}>Add</Button>
    </form>
    <Trouble problem={action.problem} />
  </Section>
{/if}

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  form :global(button) { margin-top: 1.6rem; justify-self: start; }
</style>
