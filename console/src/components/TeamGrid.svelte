<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Team } from '../lib/types';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import Grid from './Grid.svelte';
  import Remove from './Remove.svelte';
  import Section from './Section.svelte';
  import Trouble from './Trouble.svelte';
  /** Teams of people: renamed and removed from here; a team begins with its first person. */
  const teams = new Resource(() => api.list<Team>('/teams'), ['person']);
  onMount(() => teams.start());
  let editing = $state('');
  let name = $state('');
  const action = new Action();
  const rename = () => action.run(async () => {
    await api.post('/teams/' + encodeURIComponent(editing), { name });
    editing = '';
    await teams.reload();
  });
  const columns: Column<Team>[] = [
    { key: 'name', label: 'Team', text: (t) => t.name },
    { key: 'people', label: 'People', text: (t) => String(t.people), sort: (t) => t.people, kind: 'num' },
    ...(session.mayWrite ? [{ key: 'do', label: 'Change', text: () => '', action: true }] : []),
  ];
</script>

{#if teams.data?.length}
  <Section title="Teams" note="grants at listeners are given to teams">
    <Grid label="teams" key={(t) => t.name} rows={teams.data} {columns}>
      {#snippet cell(t, column)}
        {#if column.key === 'do'}<span class="do"><Button aria-label="Rename {t.name}" onclick={() => { editing = t.name; name = t.name; }}>Rename</Button><Remove path={'/teams/' + encodeURIComponent(t.name)} removed={() => void teams.reload()} /></span>
        {:else}{column.text(t)}{/if}
      {/snippet}
    </Grid>
    {#if editing}
      <form onsubmit={(e) => { e.preventDefault(); void rename(); }}>
        <Field label="New name of {editing}" bind:value={name} required hint="Its people and grants stay" />
        <p class="do"><Button onclick={() => (editing = '')}>Cancel</Button><Button type="submit" busy={action.busy}>Rename</Button></p>
      </form>
    {/if}
    <Trouble problem={action.problem ?? teams.problem} />
  </Section>
{/if}

<style>
  .do { display: flex; gap: var(--gap-2); align-items: start; margin: 0; }
  form { display: flex; flex-wrap: wrap; gap: var(--gap-3); align-items: start; }
  form .do { padding-top: 1.6rem; }
</style>
