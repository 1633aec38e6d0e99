<script lang="ts">
  import { api } from '../lib/api';
  import { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import { onMount } from 'svelte';
  import type { Device, Gateway, Profile } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import Trouble from './Trouble.svelte';
  /** Issues a profile for one of a person's devices; what it would hold is shown before anything is written. */
  let { person, devices, issued }: { person: string; devices: Device[]; issued: () => void } = $props();
  const gateways = new PagedList<Gateway>(() => '/gateways', ['gateway']);
  onMount(() => gateways.start());
  const ready = $derived(gateways.rows.filter((g) => g.identityAccepted && g.listeners.length > 0));
  let device = $state('');
  let gateway = $state('');
  let full = $state('rule');
  let dns = $state('');
  let publicKey = $state('');
  let preview = $state.raw<Profile | null>(null);
  const action = new Action();

  const call = (dryRun: boolean) => api.post<{ profile: Profile }>('/profiles', {
    person, device: device || devices[0]?.name, gateway: gateway || ready[0]?.name, fullTunnel: full === 'rule' ? null : full === 'full', dryRun,
    dns: dns.split(/[\s,]+/).filter(Boolean), publicKey: publicKey.trim() || null,
  });
  const look = () => action.run(async () => { preview = (await call(true)).profile; });
  const issue = () => action.run(async () => { await call(false); preview = null; issued(); });
</script>

<form onsubmit={(e) => { e.preventDefault(); void look(); }}>
  <Choice label="Device" bind:value={device} options={devices.map((d) => ({ value: d.name, label: d.name === d.kind ? d.name : `${d.name}, ${d.kind}` }))} />
  {#if gateways.hasMore || gateways.text}<Field label="Search gateways" bind:value={() => gateways.text, (t) => gateways.search(t)} hint="A part of name or site" />{/if}
  <Choice label="Gateway" bind:value={gateway} options={ready.map((g) => ({ value: g.name, label: g.name }))} />
  <Choice label="Through the tunnel" bind:value={full} options={[{ value: 'rule', label: 'As granted' }, { value: 'split', label: "The office's networks" }, { value: 'full', label: 'Everything' }]} />
  <Field label="DNS servers" bind:value={dns} mono hint="Empty: the device keeps its own" />
  <Field label="Public key created on the device" bind:value={publicKey} mono hint="Empty: Tender creates the keys" />
  <div class="end"><Button type="submit" busy={action.busy}>Preview</Button></div>
</form>
{#if preview}
  <p>
    <strong>{preview.label}</strong> gets <span class="mono">{preview.addresses.join(', ')}</span> and reaches <span class="mono">{preview.reach.join(', ')}</span>.
    {preview.gateway} is backed up, one peer is added, and it reloads; nobody is cut off.
    <Button look="main" busy={action.busy} onclick={issue}>Issue</Button>
  </p>
{/if}
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  .end { align-self: end; padding-bottom: 1.35rem; }
</style>
