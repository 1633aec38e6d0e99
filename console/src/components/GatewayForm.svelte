<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Description, Gateway } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import Trouble from './Trouble.svelte';
  import UplinkFields from './UplinkFields.svelte';
  /** What an operator knows about a gateway: its name, kind, endpoint, uplink and more. What is left as it is stays. */
  let { gateway, saved, closing }: { gateway: Gateway; saved: () => void; closing: () => void } = $props();
  // svelte-ignore state_referenced_locally
  const before = gateway;
  let name = $state(before.name);
  let kind = $state(before.kind);
  let description = $state(before.description);
  let readOnly = $state(String(before.readOnly));
  let endpoint = $state('');
  let insideHost = $state('');
  let uplink = $state('');
  let factory = $state('');
  let jump = $state(before.jump ?? '');
  let joinedWith = $state('');
  let contact = $state(before.contact ?? '');
  let descriptions = $state.raw<Description[]>([]);
  let others = $state.raw<Gateway[]>([]);
  onMount(async () => {
    [descriptions, others] = await Promise.all([api.list<Description>('/device-descriptions'), api.list<Gateway>('/gateways')]);
    others = others.filter((g) => g.id !== before.id);
  });
  const kinds = ['router', 'nas', 'firewall'].map((k) => ({ value: k, label: k === 'nas' ? 'NAS' : k }));
  const isRead = $derived(before.connector !== 'https');
  const changed = (now: string, then: string) => (now === then ? null : now);
  const body = $derived({
    name: changed(name, before.name), kind: changed(kind, before.kind), description: changed(description, before.description),
    readOnly: readOnly === String(before.readOnly) ? null : readOnly === 'true', jump: changed(jump, before.jump ?? ''),
    endpoint: endpoint || null, insideHost: insideHost || null, uplinks: uplink ? [uplink] : null, factory: factory || null, joinedWith: joinedWith || null,
    contact: changed(contact, before.contact ?? ''),
  });
  const action = new Action();
  const set = () => action.run(async () => {
    await api.patch<Gateway>('/gateways/' + before.id, body, before.version);
    saved();
  });
</script>

<form onsubmit={(e) => { e.preventDefault(); void set(); }}>
  <Field label="Name" bind:value={name} required hint="Profiles and files that were handed out work on" />
  <Choice label="Kind" bind:value={kind} options={kinds} />
  <Field label="Endpoint" bind:value={endpoint} mono placeholder={before.hosts.join(', ')} hint="Name or address, without the port" />
  <Field label="Inside host" bind:value={insideHost} mono placeholder={before.insideHost ?? ''} hint="Answers ping; trials use it" />
  <UplinkFields bind:value={uplink} own={before.name} />
  <Choice label="Factory credentials" bind:value={factory} options={[{ value: '', label: `as noted: ${before.factory.replace('-', ' ')}` }, { value: 'changed', label: 'tried: changed' }, { value: 'still-work', label: 'tried: still work' }]} />
  {#if isRead && descriptions.length > 0}<Choice label="Device description" bind:value={description} options={descriptions.filter((d) => d.approved || d.name === description).map((d) => ({ value: d.name, label: d.title }))} />{/if}
  {#if before.connector !== 'manual'}<Choice label="Changes by Tender" bind:value={readOnly} options={[{ value: 'false', label: 'written by Tender' }, { value: 'true', label: 'made by hand: Tender reads only' }]} />{/if}
  <Field label="Contact" type="email" bind:value={contact} hint="Does by hand what Tender cannot; gets mail about it. Empty: nobody" />
  {#if others.length > 0}
    {#if before.connector === 'ssh'}<Choice label="Reached" bind:value={jump} options={[{ value: '', label: 'directly' }, ...others.filter((g) => g.connector === 'ssh' && g.identityAccepted).map((g) => ({ value: g.name, label: `through ${g.name}` }))]} />{/if}
    <Choice label="Joined with" bind:value={joinedWith} options={[{ value: '', label: 'as noted' }, ...others.map((g) => ({ value: g.name, label: `${g.name}, as one network` }))]} />
  {/if}
  <p><Button onclick={closing}>Cancel</Button><Button type="submit" look="main" busy={action.busy} disabled={Object.values(body).every((v) => v === null)}>Save</Button></p>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(14rem, 1fr)); gap: var(--gap-3); align-items: start; }
  p { margin: 1.6rem 0 0; display: flex; gap: var(--gap-2); }
</style>
