<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Operator } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import Grid from './Grid.svelte';
  import OperatorPanel from './OperatorPanel.svelte';
  import Section from './Section.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  /** Who may sign in. Owners add and change them; everybody else sees the list. */
  const all = new Resource(() => api.list<Operator>('/operators'), []);
  onMount(() => all.start());
  const owner = $derived(session.operator?.role === 'owner');
  const roles = [
    { value: 'operator', label: 'operator: changes gateways and hands out' },
    { value: 'owner', label: 'owner: also operators, authorities and keys' },
    { value: 'auditor', label: 'auditor: sees everything but secrets' },
    { value: 'vantage', label: 'vantage: a machine that runs trials' },
  ];
  const condition = (o: Operator) => (o.disabled ? 'disabled' : o.mustChangePassword ? 'first password' : 'may sign in');
  const columns: Column<Operator>[] = $derived([
    { key: 'name', label: 'Operator', text: (o) => o.name },
    { key: 'role', label: 'Role', text: (o) => o.role },
    { key: 'state', label: 'State', text: condition },
    { key: 'code', label: 'Second factor', text: (o) => (o.hasCode ? 'on' : 'off') },
    ...(owner ? [{ key: 'do', label: 'Change', text: () => '', action: true }] : []),
  ]);
  let name = $state(''), role = $state('operator'), password = $state('');
  let adding = $state(false);
  let chosen = $state('');
  const action = new Action();
  const add = () => action.run(async () => {
    await api.post('/operators', { name, role, password });
    name = password = '';
    adding = false;
    await all.reload();
  });
</script>

<Section title="Operators" note="who may sign in to Tender">
  {#snippet actions()}{#if owner && !adding}<Button onclick={() => (adding = true)}>Add an operator</Button>{/if}{/snippet}
  {#if adding}
    <form onsubmit={(e) => { e.preventDefault(); void add(); }}>
      <Field label="Name" bind:value={name} required hint="Lower-case letters, digits, dots and hyphens" />
      <Choice label="Role" bind:value={role} options={roles} />
      <Field label="First password" type="password" bind:value={password} minlength={12} required autocomplete="new-password" hint="12 characters or more; changed at the first sign-in" />
      <div class="end"><Button onclick={() => (adding = false)}>Cancel</Button><Button type="submit" look="main" busy={action.busy}>Add</Button></div>
    </form>
  {/if}
  <Trouble problem={action.problem ?? all.problem} />
  {#if all.data}
    <Grid label="operators" key={(o) => o.name} rows={all.data} {columns}>
      {#snippet cell(o, column)}
        {#if column.key === 'state'}<State state={o.disabled ? 'failing' : o.mustChangePassword ? 'waiting' : 'ok'} word={condition(o)} />
        {:else if column.key === 'do'}<Button aria-label="Change {o.name}" aria-expanded={chosen === o.name} onclick={() => (chosen = chosen === o.name ? '' : o.name)}>Change</Button>
        {:else}{column.text(o)}{/if}
      {/snippet}
    </Grid>
    {#each all.data.filter((o) => o.name === chosen) as o (o.name)}<OperatorPanel operator={o} {roles} changed={() => void all.reload()} closing={() => (chosen = '')} />{/each}
  {/if}
</Section>

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  .end { display: flex; gap: var(--gap-2); padding-top: 1.6rem; }
</style>
