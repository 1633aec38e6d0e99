<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Empty from '../components/Empty.svelte';
  import RequestList from '../components/RequestList.svelte';
  import Section from '../components/Section.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import { router } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { FileRequests } from '../lib/types';

  /** What somebody has to make at gateways, gateway by gateway. */
  const all = new Resource(() => api.get<FileRequests>('/file-requests'), ['gateway']);
  onMount(() => all.start());
  const gateways = $derived([...new Set((all.data?.requests ?? []).map((r) => r.gateway))]);
</script>

<h1>Requested client files</h1>
<Trouble problem={all.problem} />
{#if all.data}
  {#if gateways.length > 0 && session.mayWrite}<p><Button look="main" onclick={() => router.go('/gateways/import')}>Import client files</Button></p>{/if}
  {#each gateways as gateway, i (gateway)}
    <Section title={gateway}>
      <p>{all.data.instructions[i]}</p>
      <RequestList requests={all.data.requests.filter((r) => r.gateway === gateway)} changed={() => void all.reload()} />
    </Section>
  {:else}<Empty>No client file is requested. Request files on the page of a <a href="/gateways">gateway</a> that makes its client files itself.</Empty>{/each}
{/if}
