<script lang="ts">
  import { onMount } from 'svelte';
  import ChangeList from '../components/ChangeList.svelte';
  import Empty from '../components/Empty.svelte';
  import FindingList from '../components/FindingList.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import Section from '../components/Section.svelte';
  import SessionGrid from '../components/SessionGrid.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import type { DeviceChange, Overview } from '../lib/types';

  let { overview }: { overview: Resource<Overview> } = $props();
  const data = $derived(overview.data);
  const waiting = $derived((data?.areas ?? []).filter((s) => s.worst !== ''));
  const started = $derived((data?.areas ?? []).some((s) => s.key === 'gateways' && s.count > 0));
  const temporary = new Resource(() => api.list<DeviceChange>('/changes/temporary'), ['gateway']);
  onMount(() => temporary.start());
</script>

<h1 class="visually-hidden">Overview</h1>
<Trouble problem={overview.problem} />
{#if data}
  <Section title="Needs attention">
    {#if !started}
      <Empty>Start here: <a href="/gateways">add a gateway</a>.</Empty>
    {:else if waiting.length === 0 && data.findings.length === 0 && data.instructions.length === 0}
      <p>Nothing needs attention: every profile that was handed out is proven or seen, and every gateway answers.</p>
    {:else}
      <ul>
        {#each waiting as area (area.key)}<li><a href="/{area.key}">{area.worst}</a> <span class="soft">at {area.label.toLowerCase()}</span></li>{/each}
      </ul>
      <FindingList findings={data.findings.slice(0, 5)} />
      {#if data.findings.length > 5}<p><a href="/gateways">All findings, to be worked through</a></p>{/if}
    {/if}
  </Section>
  {#if data.instructions.length > 0}
    <Section title="To be done by hand" note="on gateways that Tender cannot change">
      <ul>{#each data.instructions as i (i.profileId)}<li><a href="/profiles/{i.profileId}">{i.profile}</a> <span>{i.words}</span> <span class="soft">asked <When at={i.askedAt} /></span></li>{/each}</ul>
    </Section>
  {/if}
  {#if temporary.data?.length}
    <Section title="Temporary changes" note="rolled back when they expire"><ChangeList changes={temporary.data} withGateway changed={() => temporary.reload()} /></Section>
  {/if}
  <Section title="Connected now" note={String(data.areas.find((s) => s.key === 'connections')?.count ?? 0)}>
    {#if data.connected.length > 0}<SessionGrid label="connections" sessions={data.connected} />
    {:else}<Empty>Nobody is connected. Connections appear here within seconds.</Empty>{/if}
  </Section>
  {#if data.neverSeen.length > 0}
    <Section title="Handed out, never seen" note="nobody has connected with these yet">
      <ProfileGrid label="profiles never seen" profiles={data.neverSeen} />
    </Section>
  {/if}
{/if}

<style>
  ul { margin: 0; padding-left: 1.2rem; display: grid; gap: var(--gap-1); }
</style>
