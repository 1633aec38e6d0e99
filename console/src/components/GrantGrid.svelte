<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Gateway, Team, Grant } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Empty from './Empty.svelte';
  import Field from './Field.svelte';
  import Grid from './Grid.svelte';
  import Section from './Section.svelte';
  import Trouble from './Trouble.svelte';
  /** What teams get where it differs from everyone else; a rule, which their profiles follow when they are renewed. */
  const grants = new Resource(() => api.list<Grant>('/grants'), ['grant', 'profile']);
  const gateways = new PagedList<Gateway>(() => '/gateways', ['gateway']);
  const allTeams = new Resource(() => api.list<Team>('/teams'), ['person']);
  onMount(() => grants.start());
  let open = $state(false);
  $effect(() => {
    if (open) { void gateways.reload(); void allTeams.reload(); }
  });
  const teams = $derived((allTeams.data ?? []).map((t) => t.name));
  const places = $derived(gateways.rows.flatMap((g) => g.listeners.filter((l) => l.protocol !== 'tls').map((l) => ({ value: g.name + '/' + l.name, label: g.name + ' ' + l.name }))));
  let place = $state(''), team = $state(''), reach = $state(''), dns = $state(''), days = $state(''), full = $state('no');
  const words = (text: string) => text.split(/[\s,]+/).filter(Boolean);
  const action = new Action();
  const put = (v: object) => action.run(async () => { await api.post('/grants', v); open = false; await grants.reload(); });
  const save = () => {
    const [gateway, listener] = (place || places[0]?.value || '/').split('/');
    return put({ gateway, listener, team: team || teams[0], reach: words(reach), dns: words(dns), fullTunnel: full === 'yes', validDays: days ? Number(days) : null });
  };
  const renew = (v: Grant) => put({ gateway: v.gateway, listener: v.listener, team: v.team, reach: v.reach, dns: v.dns, fullTunnel: v.fullTunnel, validDays: v.validDays, renew: true });
  const drop = (v: Grant) => action.run(async () => { await api.remove('/grants/' + v.id); await grants.reload(); });
  const gets = (v: Grant) =>
    (v.fullTunnel ? 'everything' : v.reach.length ? v.reach.join(', ') : 'what everyone reaches') + (v.dns.length ? `, names by ${v.dns.join(', ')}` : '') + (v.validDays ? `, for ${v.validDays} days` : '');
  const columns: Column<Grant>[] = [
    { key: 'team', label: 'Team', text: (v) => v.team },
    { key: 'where', label: 'Listener', text: (v) => `${v.gateway} ${v.listener}` },
    { key: 'gets', label: 'Grant', text: gets },
    { key: 'behind', label: 'To be renewed', text: (v) => String(v.behind.length), sort: (v) => v.behind.length },
    { key: 'do', label: 'To do', text: () => '', action: true },
  ];
</script>

<Section title="Grants of teams" note="what a team may use, where it differs from everyone else">
  {#snippet actions()}{#if session.mayWrite && !open}<Button onclick={() => (open = true)}>Add</Button>{/if}{/snippet}
  {#if open}
    <form onsubmit={(e) => { e.preventDefault(); void save(); }}>
      <Choice label="Team" bind:value={team} options={teams.map((t) => ({ value: t, label: t }))} />
      {#if gateways.hasMore || gateways.text}<Field label="Search gateways" bind:value={() => gateways.text, (t) => gateways.search(t)} hint="A part of name or site" />{/if}
      <Choice label="Listener" bind:value={place} options={places} />
      <Choice label="Everything through the tunnel" bind:value={full} options={[{ value: 'no', label: 'No' }, { value: 'yes', label: 'Yes' }]} />
      <Field label="Networks" bind:value={reach} mono hint="Empty: what everyone reaches" />
      <Field label="DNS servers of the team" bind:value={dns} mono hint="Empty: as for everyone" />
      <Field label="Valid for (days)" bind:value={days} hint="Empty: as for everyone" />
      <div class="end"><Button type="submit" look="main" busy={action.busy}>Save</Button><Button onclick={() => (open = false)}>Cancel</Button></div>
    </form>
  {/if}
  <Trouble problem={action.problem} />
  {#if grants.data?.length}
    <Grid label="grants" rows={grants.data} {columns}>
      {#snippet cell(v, column)}
        {#if column.key === 'behind'}{v.behind.length ? `${v.behind.length}: ${v.behind.slice(0, 3).join(', ')}${v.behind.length > 3 ? ' …' : ''}` : 'none'}
        {:else if column.key === 'do'}{#if session.mayWrite}<span class="end">{#if v.behind.length}<Button busy={action.busy} onclick={() => renew(v)}>Renew these profiles</Button>{/if}<Button busy={action.busy} onclick={() => drop(v)}>Remove</Button></span>{/if}
        {:else}{column.text(v)}{/if}
      {/snippet}
    </Grid>
  {:else if grants.data}<Empty>Every team gets the same as everyone. Add a grant to give one team other networks, other DNS servers or a shorter validity.</Empty>{/if}
</Section>

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  .end { display: flex; gap: var(--gap-2); align-self: end; }
  form .end { padding-bottom: 1.35rem; }
</style>
