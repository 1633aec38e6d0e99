<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { FileRequests, Gateway } from '../lib/types';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import RequestList from './RequestList.svelte';
  import Section from './Section.svelte';
  import Trouble from './Trouble.svelte';
  /** Client files that are requested at one gateway, and the form that requests more. */
  let { gateway }: { gateway: Gateway } = $props();
  const path = $derived(`/gateways/${gateway.id}/file-requests`);
  const all = new Resource(() => api.get<FileRequests>(path), ['gateway']);
  onMount(() => all.start());
  let asking = $state(false);
  let devices = $state('');
  let team = $state('');
  const action = new Action();
  const ask = () => action.run(async () => {
    await api.post(path, { devices: devices.split(/[\s,]+/).filter((d) => d), team: team.trim() || null });
    asking = false;
    devices = team = '';
    await all.reload();
  });
</script>

<Section title="Requested client files" note="made on the gateway, then imported">
  {#snippet actions()}{#if session.mayWrite && !asking}<Button onclick={() => (asking = true)}>Request files</Button>{/if}{/snippet}
  {#if asking}
    <form onsubmit={(e) => { e.preventDefault(); void ask(); }}>
      <Field label="Whose" bind:value={devices} mono placeholder="ana/laptop, bo" hint="Person and device; the device may be left out where there is one" />
      <Field label="Or everybody in a team" bind:value={team} hint="Devices without a file here" />
      <div class="end"><Button onclick={() => (asking = false)}>Not now</Button><Button type="submit" look="main" busy={action.busy} disabled={!devices.trim() && !team.trim()}>Request</Button></div>
    </form>
    <Trouble problem={action.problem} />
  {/if}
  {#if all.data?.requests.length}
    {#each all.data.instructions as i (i)}<p>{i} <a href="/gateways/import">Import client files</a></p>{/each}
    <RequestList requests={all.data.requests} changed={() => void all.reload()} />
  {:else if all.data}<p class="soft small">None is requested. Request files that only this gateway can make; renewals are requested by themselves a month ahead.</p>{/if}
  <Trouble problem={all.problem} />
</Section>

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3) var(--gap-4); align-items: start; padding: var(--gap-4); margin-bottom: var(--gap-3); background: var(--sheet); border: 1px solid var(--line); }
  .end { grid-column: 1 / -1; display: flex; gap: var(--gap-2); justify-content: end; }
</style>
