<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import Grid from '../components/Grid.svelte';
  import Section from '../components/Section.svelte';
  import SiteGrid from '../components/SiteGrid.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import { counted, worst } from '../lib/findings';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { Chosen, router } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { Gateway, ReadAll, Site } from '../lib/types';
  import AddGateway from './AddGateway.svelte';

  const choices = [
    { value: '', label: 'All' },
    { value: 'ok', label: 'Ok' },
    { value: 'unreachable', label: 'Does not answer' },
    { value: 'identity-not-accepted', label: 'Identity to accept' },
    { value: 'not-read', label: 'Not read yet' },
  ];
  const shown = new Chosen('state');
  const gateways = new PagedList<Gateway>(() => '/gateways' + (shown.value && '?state=' + shown.value), ['gateway', 'backup', 'finding', 'session'], true, true);
  const choose = (value: string) => { shown.value = value; void gateways.again(); };
  const sites = new Resource(() => api.list<Site>('/sites'), ['site']);
  onMount(() => gateways.start());
  onMount(() => sites.start());
  const way = new Chosen('add');
  let adding = $state(way.value !== '');
  let ordered = $state('');
  const reading = new Action();
  const readAll = () => reading.run(async () => {
    const jobs = (await api.post<ReadAll>('/gateways/read')).jobs.length;
    ordered = `${jobs} ${jobs === 1 ? 'gateway is' : 'gateways are'} backed up and read; one that does not answer delays nobody.`;
  });
  const condition = (g: Gateway) => (!g.identityAccepted ? 'identity to accept' : g.readProblem ? 'does not answer' : g.readAt ? 'ok' : 'not read yet');
  const calls = (g: Gateway) => {
    const all = [...new Set(g.listeners.map((l) => l.endpoint?.replace(/:\d+$/, '') ?? 'nothing yet'))];
    return all.slice(0, 1).join('') + (all.length > 1 ? ` +${all.length - 1}` : '');
  };
  const found = (g: Gateway) => counted(g.findings) || 'none';
  const columns: Column<Gateway>[] = [
    { key: 'name', label: 'Gateway', text: (g) => g.name, order: 'name' },
    { key: 'state', label: 'State', text: condition },
    { key: 'findings', label: 'Findings', text: found, sort: (g) => g.findings.errors * 10_000 + g.findings.warnings * 100 + g.findings.notices, order: 'findings' },
    { key: 'people', label: 'People', text: (g) => String(g.use.people), sort: (g) => g.use.people, kind: 'num', order: 'people' },
    { key: 'connected', label: 'Connected', text: (g) => String(g.use.connected), sort: (g) => g.use.connected, kind: 'num' },
    { key: 'site', label: 'Site', text: (g) => g.site, order: 'site' },
    { key: 'device', label: 'Make and release', text: (g) => `${g.make} ${g.model} ${g.release}`, order: 'device' },
    { key: 'calls', label: 'Endpoint', text: calls, kind: 'mono' },
    { key: 'backup', label: 'Newest backup', text: (g) => g.newestBackup?.takenAt ?? '', order: 'backup' },
  ];
</script>

<h1>Gateways</h1>
<p><a href="/gateways/findings">Findings</a> tell what is wrong or about to be; the <a href="/gateways/sheet">network sheet</a> draws all of it on one page; a <a href="/gateways/route">route walk</a> goes from a device outside to a host inside, hop by hop; networks, ports and tunnel types are explained <a href="/gateways/explain">in plain words</a>.{#if session.mayWrite}{' '}<a href="/gateways/changes">Change settings</a> of one gateway, or of several together.{/if}</p>
<Trouble problem={gateways.problem} />
<Section title="Gateways" note="devices that take connections">
  {#snippet actions()}
    {#if session.mayWrite && gateways.rows.length > 0}<Button busy={reading.busy} onclick={readAll}>Read all again</Button>{/if}
    {#if session.mayWrite}<Button onclick={() => router.go('/gateways/import')}>Import client files</Button>{/if}
    {#if session.mayWrite && !adding}<Button look="main" onclick={() => (adding = true)}>Add a gateway</Button>{/if}
  {/snippet}
  <Trouble problem={reading.problem} />
  {#if ordered}<p class="small" role="status">{ordered}</p>{/if}
  {#if adding}<AddGateway sites={sites.data ?? []} gateways={gateways.rows} way={way.value} closing={() => { adding = false; way.value = ''; }} />{/if}
  {#if gateways.rows.length || gateways.text || shown.value}
    <Grid label="gateways" list={gateways} {columns}>
      {#snippet tools()}<Choice label="State" bind:value={() => shown.value, choose} options={choices} inline />{/snippet}
      {#snippet cell(g, column)}
        {#if column.key === 'name'}<a href="/gateways/{g.id}">{g.name}</a>
        {:else if column.key === 'backup'}<When at={g.newestBackup?.takenAt} none="none" />
        {:else if column.key === 'site' || column.key === 'device'}<span class="line">{column.text(g)}</span>
        {:else if column.key === 'state'}<State state={condition(g)} />{#if g.use.toDo > 0}{' '}<a class="small" href="/gateways/{g.id}">{g.use.toDo} to do by hand</a>{/if}
        {:else if column.key === 'findings'}{#if found(g) === 'none'}<span class="soft">none</span>{:else}<a class="quiet" href="/gateways/findings?gateway={encodeURIComponent(g.name)}"><State state={worst(g.findings)} word={found(g)} /></a>{/if}
        {:else}{column.text(g)}{/if}
      {/snippet}
    </Grid>
  {:else if gateways.ready && !adding}<Empty>A gateway is a router, NAS or firewall that staff connect to. Add one, or <a href="/gateways/import">import the client files</a> that your devices exported; nothing has to be entered before.</Empty>{/if}
</Section>
<SiteGrid {sites} />

<style>
  .line { white-space: nowrap; }
  .quiet { text-decoration: none; }
</style>
