<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Empty from '../components/Empty.svelte';
  import FindingList from '../components/FindingList.svelte';
  import Grid from '../components/Grid.svelte';
  import Remove from '../components/Remove.svelte';
  import Section from '../components/Section.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Finding, Gateway, Site } from '../lib/types';
  import AddGateway from './AddGateway.svelte';
  import AddSite from './AddSite.svelte';

  const findings = new PagedList<Finding>(() => '/findings', ['finding'], false);
  onMount(() => findings.start());
  const gateways = new PagedList<Gateway>(() => '/gateways', ['gateway', 'backup']);
  const sites = new Resource(() => api.list<Site>('/sites'), ['site']);
  onMount(() => gateways.start());
  onMount(() => sites.start());
  let adding = $state(false);
  let addingSite = $state(false);
  const condition = (g: Gateway) => (!g.identityAccepted ? 'identity to accept' : g.readProblem ? 'does not answer' : g.readAt ? 'ok' : 'not read yet');
  const calls = (g: Gateway) => {
    const all = [...new Set(g.listeners.map((l) => l.endpoint ?? 'nothing yet'))];
    return all.slice(0, 1).join('') + (all.length > 1 ? ` and ${all.length - 1} more` : '');
  };
  const columns: Column<Gateway>[] = [
    { key: 'name', label: 'Gateway', text: (g) => g.name },
    { key: 'site', label: 'Site', text: (g) => g.site },
    { key: 'device', label: 'Make and release', text: (g) => `${g.make} ${g.model} ${g.release}` },
    { key: 'calls', label: 'Endpoint', text: calls, kind: 'mono' },
    { key: 'backup', label: 'Newest backup', text: (g) => g.newestBackup?.takenAt ?? '' },
    { key: 'state', label: 'State', text: condition },
  ];
  const siteColumns: Column<Site>[] = [
    { key: 'title', label: 'Site', text: (s) => s.title },
    { key: 'domain', label: 'Routing domain', text: (s) => s.domain },
    { key: 'networks', label: 'Networks', text: (s) => Object.entries(s.networks).map(([n, c]) => `${n} ${c}`).join(', '), kind: 'mono' },
  ];
</script>

<h1>Gateways</h1>
<p><a href="/gateways/sheet">Network sheet</a> draws all of it on one page; a <a href="/gateways/route">route walk</a> goes from a device outside to a host inside, hop by hop; networks, ports and tunnel types are explained <a href="/gateways/explain">in plain words</a>.</p>
<Trouble problem={gateways.problem} />
<Section title="Gateways" note="devices that take connections">
  {#snippet actions()}{#if session.mayWrite && !adding}<Button look="main" onclick={() => (adding = true)}>Add a gateway</Button>{/if}{/snippet}
  {#if adding}<AddGateway sites={sites.data ?? []} gateways={gateways.rows} closing={() => (adding = false)} />{/if}
  {#if gateways.rows.length || gateways.text}
    <Grid label="gateways" list={gateways} {columns}>
      {#snippet cell(g, column)}
        {#if column.key === 'name'}<a href="/gateways/{g.id}">{g.name}</a>
        {:else if column.key === 'backup'}{#if g.newestBackup}no. {g.newestBackup.number}, <When at={g.newestBackup.takenAt} />{:else}none{/if}
        {:else if column.key === 'state'}<State state={condition(g)} />
        {:else}{column.text(g)}{/if}
      {/snippet}
    </Grid>
  {:else if gateways.ready && !adding}<Empty>A gateway is a router, NAS or firewall that staff connect to. Add one: Tender backs it up before anything else.</Empty>{/if}
</Section>
{#if findings.rows.length}<Section title="Findings" note="{findings.hasMore ? `the first ${findings.rows.length}` : findings.rows.length}, wrong or about to be, worst first"><FindingList list={findings} work /></Section>{/if}
<Section title="Sites">
  {#snippet actions()}{#if session.mayWrite && !addingSite}<Button onclick={() => (addingSite = true)}>Add a site</Button>{/if}{/snippet}
  {#if addingSite}<AddSite closing={() => (addingSite = false)} added={() => { addingSite = false; void sites.reload(); }} />{/if}
  {#if sites.data?.length}<Grid label="sites" rows={sites.data} columns={session.mayWrite ? [...siteColumns, { key: 'remove', label: 'Remove', text: () => '' }] : siteColumns}>
    {#snippet cell(s, column)}{#if column.key === 'remove'}<Remove path={'/sites/' + s.id} removed={() => void sites.reload()} />{:else}{column.text(s)}{/if}{/snippet}
  </Grid>
  {:else if sites.data}<Empty>A site is a place of the company with its networks. Add one first: every gateway stands at a site.</Empty>{/if}
</Section>
