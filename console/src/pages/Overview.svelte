<script lang="ts">
  import { onMount } from 'svelte';
  import ChangeList from '../components/ChangeList.svelte';
  import Columns from '../components/Columns.svelte';
  import Empty from '../components/Empty.svelte';
  import FindingList from '../components/FindingList.svelte';
  import NextExpiries from '../components/NextExpiries.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import Section from '../components/Section.svelte';
  import SessionGrid from '../components/SessionGrid.svelte';
  import Today from '../components/Today.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import type { DeviceChange, Overview } from '../lib/types';

  let { overview }: { overview: Resource<Overview> } = $props();
  const data = $derived(overview.data);
  const count = (area: string) => data?.areas.find((a) => a.key === area)?.count ?? 0;
  const places: Record<string, string> = {
    unreachable: '/gateways?state=unreachable', identity: '/gateways?state=identity-not-accepted', failed: '/profiles?show=state%3Dfailed',
    failing: '/profiles?show=open%3Dfailing', 'without-backup': '/gateways?sort=backup', 'not-handed-out': '/profiles?show=open%3Dnot-handed-out',
    uncollected: '/handouts', 'files-requested': '/gateways/file-requests', 'not-refused': '/people', unproven: '/profiles?show=open%3Dunproven',
  };
  const temporary = new Resource(() => api.list<DeviceChange>('/changes/temporary'), ['gateway']);
  onMount(() => temporary.start());
</script>

<h1 class="visually-hidden">Overview</h1>
<Trouble problem={overview.problem} />
{#if data}
  <Columns>
    {#snippet main()}
      <Section title="Needs attention">
        {#if count('gateways') === 0}
          <Empty>What do you have? <a href="/gateways/import">Files that your devices exported</a>, <a href="/gateways?add=ssh">a device that you can reach</a>, <a href="/gateways?add=manual">just its settings</a>, or <a href="/people">a list of people</a>. Start with any of them.</Empty>
        {:else if data.attention.length === 0 && data.findings.length === 0 && data.instructions.length === 0}
          <p>Nothing needs attention: every profile that was handed out is proven or seen, and every gateway answers.</p>
        {:else}
          <ul class="needs">{#each data.attention as need (need.kind)}<li><span>{need.words}</span> <a href={places[need.kind]} aria-label="{need.action}: {need.words}">{need.action}</a></li>{/each}</ul>
          <FindingList findings={data.findings.slice(0, 5)} />
          {#if data.findings.length > 5}<p><a href="/gateways/findings">All findings</a></p>{/if}
        {/if}
      </Section>
      {#if data.instructions.length > 0}
        <Section title="To be done by hand" note="on gateways that Tender cannot change">
          <ul>{#each data.instructions as i (i.id)}<li><a href={i.profileId ? '/profiles/' + i.profileId : '/gateways/' + i.gatewayId}>{i.profileId ? i.subject : i.gateway}</a> <span>{i.words}</span> <span class="soft">asked <When at={i.askedAt} />{i.askedOf ? `, sent to ${i.askedOf}` : ''}</span></li>{/each}</ul>
        </Section>
      {/if}
      {#if temporary.data?.length}
        <Section title="Temporary changes" note="rolled back when they expire"><ChangeList changes={temporary.data} withGateway changed={() => temporary.reload()} /></Section>
      {/if}
      {#if data.neverSeen.length > 0}
        <Section title="Handed out, never seen" note="nobody has connected with these yet"><ProfileGrid label="profiles never seen" profiles={data.neverSeen} /></Section>
      {/if}
    {/snippet}
    {#snippet side()}
      <Section title="Connected now" note={String(count('connections'))}>
        {#if data.connected.length > 0}<SessionGrid label="connections" sessions={data.connected} brief />
        {:else}<Empty>Nobody is connected. Connections appear here within seconds.</Empty>{/if}
      </Section>
      {#if count('profiles') > 0}<NextExpiries />{/if}
      {#if count('gateways') > 0}<Today />{/if}
    {/snippet}
  </Columns>
{/if}

<style>
  ul { margin: 0; padding-left: 1.2rem; display: grid; gap: var(--gap-1); }
  li { overflow-wrap: anywhere; }
  .needs { list-style: none; padding: 0; }
  .needs li { display: grid; grid-template-columns: minmax(0, 26rem) auto; gap: var(--gap-3); justify-content: start; }
</style>
