<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Choice from '../components/Choice.svelte';
  import Field from '../components/Field.svelte';
  import TextArea from '../components/TextArea.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import { router } from '../lib/router.svelte';
  import type { Description, Gateway, Site } from '../lib/types';
  /** All ways in which a gateway can be managed; what is asked follows from the way. */
  let { sites, gateways, way = '', closing }: { sites: Site[]; gateways: Gateway[]; way?: string; closing: () => void } = $props();
  let name = $state('');
  let site = $state('');
  let kind = $state('router');
  // svelte-ignore state_referenced_locally
  let connector = $state(way || 'ssh');
  let protocol = $state('wireguard');
  let vpnPort = $state('51820');
  let description = $state('plain-router');
  let address = $state('');
  let port = $state('22');
  let user = $state('');
  let method = $state('key');
  let key = $state('');
  let secret = $state('');
  let jump = $state('');
  let identity = $state('');
  let endpoint = $state('');
  let descriptions = $state.raw<Description[]>([]);
  onMount(async () => (descriptions = await api.list<Description>('/device-descriptions')));
  const kinds = [{ value: 'router', label: 'Router' }, { value: 'nas', label: 'NAS' }, { value: 'firewall', label: 'Firewall' }];
  const connectors = [
    { value: 'ssh', label: 'SSH' },
    { value: 'https', label: 'Gateway API (HTTPS)' },
    { value: 'file', label: 'Files that you copy' },
    { value: 'manual', label: 'By hand: you enter its settings' },
  ];
  const protocols = [
    { value: 'wireguard', label: 'WireGuard', transport: 'udp', port: '51820' },
    { value: 'openvpn', label: 'OpenVPN', transport: 'udp', port: '1194' },
    { value: 'ikev2', label: 'IPsec/IKEv2', transport: 'udp', port: '500' },
    { value: 'l2tp-ipsec', label: 'L2TP/IPsec', transport: 'udp', port: '500' },
    { value: 'tls', label: 'TLS-based VPN', transport: 'tcp', port: '443' },
  ];
  const speaks = $derived(protocols.find((p) => p.value === protocol)!);
  const speak = (value: string) => { protocol = value; vpnPort = protocols.find((p) => p.value === value)!.port; };
  const methods = [{ value: 'key', label: 'Private key' }, { value: 'password', label: 'Password' }];
  const jumps = $derived([{ value: '', label: 'directly' }, ...gateways.filter((g) => g.connector === 'ssh' && g.identityAccepted).map((g) => ({ value: g.name, label: g.name }))]);
  const byKey = $derived(connector === 'https' || method === 'key');
  const action = new Action();
  const add = () => action.run(async () => {
    const calls = connector === 'ssh' || connector === 'https';
    const added = await api.post<Gateway>('/gateways', {
      name, site: site || sites[0]?.name || null, kind, connector,
      address, port: Number(port), user: connector === 'https' ? 'api' : user,
      description: connector === 'https' ? null : description,
      key: calls && byKey ? key : null,
      passphrase: connector === 'ssh' && byKey ? secret || null : null,
      password: connector === 'ssh' && !byKey ? secret : null,
      jump: connector === 'ssh' ? jump || null : null,
      identity: calls ? identity || null : null,
      endpoint: connector === 'manual' ? endpoint || null : null,
    });
    if (connector === 'manual') {
      await api.post(`/gateways/${added.id}/listeners/${protocol}`, { settings: { protocol, transport: speaks.transport, port: String(vpnPort) } });
    }
    key = secret = '';
    router.go('/gateways/' + added.id);
  });
</script>

<form onsubmit={(e) => { e.preventDefault(); void add(); }}>
  <Field label="Name" bind:value={name} required hint="Short; used in labels and file names" />
  {#if sites.length}<Choice label="Site" bind:value={site} options={sites.map((s) => ({ value: s.name, label: s.title }))} />{/if}
  <Choice label="Kind" bind:value={kind} options={kinds} />
  {#if !way}<Choice label="Managed over" bind:value={connector} options={connectors} />{/if}
  {#if connector === 'ssh' || connector === 'file'}
    <Choice label="Device description" bind:value={description} options={descriptions.filter((d) => d.approved).map((d) => ({ value: d.name, label: d.title }))} />
  {/if}
  {#if connector === 'manual'}
    <Field label="Endpoint" bind:value={endpoint} mono required={way !== ''} hint="Name or address that clients connect to" />
    <Choice label="Protocol" bind:value={() => protocol, speak} options={protocols} />
    <Field label="Port" bind:value={vpnPort} type="number" min="1" max="65535" required hint="Of the listener; everything else can be entered later" />
  {:else if connector !== 'file'}
    <Field label="Address" bind:value={address} mono required hint="Name or address for managing it" />
    <Field label="Port" type="number" min="1" max="65535" bind:value={port} />
    {#if connector === 'ssh'}
      <Field label="User" bind:value={user} required />
      <Choice label="Sign in with" bind:value={method} options={methods} />
      {#if jumps.length > 1}<Choice label="Reached" bind:value={jump} options={jumps} />{/if}
      <Field label={byKey ? 'Passphrase of the key' : 'Password'} type="password" bind:value={secret} required={!byKey} autocomplete="off" hint={byKey ? 'If it has one; the key is kept without it, encrypted' : 'Kept encrypted'} />
    {/if}
    <Field label="Fingerprint" bind:value={identity} mono hint="Of any of its keys, read on the device. Without it, the one it shows has to be accepted next" />
    {#if byKey}
      <TextArea label={connector === 'https' ? 'Token' : 'Private SSH key'} bind:value={key} required hint="Kept encrypted and used for this device only. The sign-in is tried before anything is kept." />
    {/if}
  {/if}
  <div class="end"><Button onclick={closing}>Not now</Button><Button type="submit" look="main" busy={action.busy}>Add</Button></div>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3) var(--gap-4); align-items: start; padding: var(--gap-4); background: var(--sheet); border: 1px solid var(--line); }
  .end { grid-column: 1 / -1; display: flex; gap: var(--gap-2); justify-content: end; }
</style>
