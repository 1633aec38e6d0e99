<script lang="ts">
  import type { Column } from '../lib/grid.svelte';
  import type { Listener } from '../lib/types';
  import Empty from './Empty.svelte';
  import Grid from './Grid.svelte';
  import State from './State.svelte';
  let { listeners, byHand = false }: { listeners: Listener[]; byHand?: boolean } = $props();
  const words = (l: Listener) => (l.gone ? 'gone from the device' : l.active ? 'active' : 'written, not active');
  const columns: Column<Listener>[] = [
    { key: 'name', label: 'Listener', text: (l) => l.name },
    { key: 'what', label: 'Kind', text: (l) => `${l.protocol}, ${l.transport} ${l.port}` },
    { key: 'endpoint', label: 'Endpoint', text: (l) => l.endpoint ?? 'nothing yet', kind: 'mono' },
    { key: 'tunnels', label: 'Tunnel network', text: (l) => l.tunnels.join(', '), kind: 'mono' },
    { key: 'key', label: 'Public key', text: (l) => l.publicKey, kind: 'mono' },
    { key: 'peers', label: 'Peers', text: (l) => String(l.peers), sort: (l) => l.peers, kind: 'num' },
    { key: 'state', label: 'State', text: words },
  ];
</script>

{#if listeners.length > 0}
  <Grid label="listeners" rows={listeners} {columns}>
    {#snippet cell(l, column)}
      {#if column.key === 'state'}<State state={l.active ? 'active' : 'not active'} word={words(l)} />{:else}{column.text(l)}{/if}
    {/snippet}
  </Grid>
{:else}<Empty>{#if byHand}No listener is known. Enter one, or import the client files that the gateway exports.{:else}Its files contain no listener. Create one on the device, then read the gateway again.{/if}</Empty>{/if}
