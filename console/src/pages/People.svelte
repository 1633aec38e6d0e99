<script lang="ts">
  import { onMount } from 'svelte';
  import Empty from '../components/Empty.svelte';
  import Grid from '../components/Grid.svelte';
  import Departures from '../components/Departures.svelte';
  import ImportPeople from '../components/ImportPeople.svelte';
  import PersonForm from '../components/PersonForm.svelte';
  import Section from '../components/Section.svelte';
  import TeamGrid from '../components/TeamGrid.svelte';
  import Trouble from '../components/Trouble.svelte';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { router } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { Person } from '../lib/types';

  const people = new PagedList<Person>(() => '/people', ['person'], true, true);
  onMount(() => people.start());
  const columns: Column<Person>[] = [
    { key: 'name', label: 'Name', text: (p) => p.name, order: 'name' },
    { key: 'handle', label: 'Handle', text: (p) => p.handle, order: 'handle' },
    { key: 'team', label: 'Team', text: (p) => p.team ?? '', order: 'team' },
    { key: 'devices', label: 'Devices', text: (p) => String(p.deviceCount), sort: (p) => p.deviceCount, kind: 'num', order: 'devices' },
    { key: 'mail', label: 'Mail', text: (p) => p.mail, order: 'mail' },
  ];
</script>

<h1>People</h1>
<Trouble problem={people.problem} />
{#if people.rows.length || people.text}
  <Grid label="people" list={people} {columns}>
    {#snippet cell(p, column)}{#if column.key === 'name'}<a href="/people/{p.handle}">{p.name}</a>{:else}{column.text(p)}{/if}{/snippet}
  </Grid>
{:else if people.ready}<Empty>People and their devices are listed here. Add the first below, or import a list.</Empty>{/if}
{#if session.mayWrite}
  <Section title="Add a person">
    <PersonForm saved={(handle) => router.go('/people/' + handle)} />
  </Section>
  <ImportPeople imported={() => void people.again()} />
{/if}
<Departures />
<TeamGrid />
