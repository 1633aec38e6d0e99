<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Gateway } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import Trouble from './Trouble.svelte';
  /** What a listener of a gateway managed by hand is set to; what is left empty stays as it is known. */
  let { gateway, saved }: { gateway: Gateway; saved: () => void } = $props();
  const protocols = [{ value: 'wireguard', label: 'WireGuard' }, { value: 'openvpn', label: 'OpenVPN' }, { value: 'ikev2', label: 'IPsec/IKEv2' }, { value: 'l2tp-ipsec', label: 'L2TP/IPsec' }, { value: 'tls', label: 'TLS-based VPN' }];
  const transports = [{ value: 'udp', label: 'UDP' }, { value: 'tcp', label: 'TCP' }];
  const texts = [
    { key: 'public-key', label: 'Public key', hint: 'Of WireGuard: in every client file', for: ['wireguard'] },
    { key: 'tunnel-network', label: 'Tunnel network', hint: 'Clients get their addresses from it, such as 10.99.5.0/24', for: [] },
    { key: 'reach', label: 'Reach', hint: 'Networks that go through the tunnel, with commas; 0.0.0.0/0 for all', for: [] },
    { key: 'dns', label: 'DNS servers', hint: 'That clients use, with commas', for: [] },
    { key: 'server-names', label: 'Names in the certificate', hint: 'With commas', for: ['openvpn', 'ikev2', 'tls'] },
    { key: 'certificate-expires', label: 'Certificate expires', hint: 'Such as 2027-11-23T10:00:00Z', for: ['openvpn', 'ikev2', 'tls'] },
  ];
  let entering = $state(false);
  let listener = $state('');
  let protocol = $state('wireguard');
  let transport = $state('udp');
  let port = $state('');
  let values = $state<Record<string, string>>({});
  const known = $derived(gateway.listeners.filter((l) => !l.gone));
  const shown = $derived(texts.filter((t) => t.for.length === 0 || t.for.includes(protocol)));
  const action = new Action();
  const choose = (name: string) => {
    listener = name;
    const l = known.find((x) => x.name === name);
    if (l) { protocol = l.protocol; transport = l.transport; port = String(l.port); values = { 'public-key': l.publicKey, 'tunnel-network': l.tunnels.join(', ') }; }
  };
  const enter = () => action.run(async () => {
    const settings: Record<string, string> = { protocol, transport, port: String(port) };
    shown.forEach((t) => { if (values[t.key]) settings[t.key] = values[t.key]; });
    await api.post<Gateway>(`/gateways/${gateway.id}/listeners/${encodeURIComponent(listener)}`, { settings });
    entering = false;
    saved();
  });
</script>

{#if entering}
  <form onsubmit={(e) => { e.preventDefault(); void enter(); }}>
    <Field label="Listener" bind:value={() => listener, choose} required hint="A new name adds one" />
    <Choice label="Protocol" bind:value={protocol} options={protocols} />
    <Choice label="Transport" bind:value={transport} options={transports} />
    <Field label="Port" bind:value={port} type="number" min="1" max="65535" required />
    {#each shown as t (t.key)}<Field label={t.label} bind:value={() => values[t.key] ?? '', (v) => (values[t.key] = v)} mono hint={t.hint} />{/each}
    <div class="end"><Button onclick={() => (entering = false)}>Not now</Button><Button type="submit" look="main" busy={action.busy}>Enter</Button></div>
  </form>
  <Trouble problem={action.problem} />
{:else}
  <p><Button onclick={() => { entering = true; choose(known[0]?.name ?? ''); }}>Enter a listener's settings</Button></p>
{/if}

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3) var(--gap-4); align-items: start; padding: var(--gap-4); background: var(--sheet); border: 1px solid var(--line); }
  .end { grid-column: 1 / -1; display: flex; gap: var(--gap-2); justify-content: end; }
</style>
