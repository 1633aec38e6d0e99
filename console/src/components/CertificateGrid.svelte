<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { day, exact } from '../lib/format';
  import type { Column } from '../lib/grid.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Certificate } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Empty from './Empty.svelte';
  import Grid from './Grid.svelte';
  import Overlay from './Overlay.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  /** What an authority signed. Revoking is asked about first, since it shuts somebody out. */
  let { authority }: { authority: string } = $props();
  const all = new Resource(() => api.list<Certificate>(`/authorities/${authority}/certificates`), ['authority', 'profile']);
  onMount(() => all.start());
  let asked = $state.raw<Certificate | null>(null);
  let reason = $state('unspecified');
  const action = new Action();
  const revoke = () => action.run(async () => {
    await api.post(`/certificates/${asked?.serial}/revoke`, { reason });
    asked = null;
    await all.reload();
  });
  const words: Record<string, string> = { 'expires-soon': 'expires soon' };
  const columns: Column<Certificate>[] = [
    { key: 'name', label: 'Name', text: (c) => c.commonName },
    { key: 'purpose', label: 'For', text: (c) => c.purpose },
    { key: 'state', label: 'State', text: (c) => words[c.state] ?? c.state },
    { key: 'expiresAt', label: 'Until', text: (c) => c.expiresAt },
    { key: 'custody', label: 'Key', text: (c) => c.custody },
    { key: 'serial', label: 'Serial number', text: (c) => c.serial },
    { key: 'do', label: 'To do', text: () => '', action: true },
  ];
</script>

{#if all.data?.length}
  <Grid label="certificates" rows={all.data} {columns}>
    {#snippet cell(c, column)}
      {#if column.key === 'state'}<State state={words[c.state] ?? c.state} />
      {:else if column.key === 'expiresAt'}<span title={exact(c.expiresAt)}>{day(c.expiresAt)}</span>
      {:else if column.key === 'serial'}<span class="mono small">{c.serial}</span>
      {:else if column.key === 'do'}{#if session.mayWrite && c.state !== 'revoked' && c.state !== 'ended'}<Button look="harm" onclick={() => (asked = c)}>Revoke</Button>{/if}
      {:else}{column.text(c)}{/if}
    {/snippet}
  </Grid>
{:else if all.data}<Empty>It has signed no certificate yet. Profiles for listeners that trust it get their certificates when they are issued.</Empty>{/if}
<Trouble problem={all.problem} />
{#if asked}
  <Overlay title="Revoke the certificate of {asked.commonName}" closing={() => (asked = null)}>
    <p>The certificate stops working as soon as the revocation list reaches the gateways; Tender delivers it now. This cannot be undone; you can issue a new certificate.</p>
    <Choice label="Why" bind:value={reason} options={['unspecified', 'key-compromise', 'affiliation-changed', 'superseded', 'cessation-of-operation'].map((r) => ({ value: r, label: r.replaceAll('-', ' ') }))} />
    <Trouble problem={action.problem} />
    <div class="end"><Button onclick={() => (asked = null)}>Cancel</Button><Button look="harm" busy={action.busy} onclick={revoke}>Revoke now</Button></div>
  </Overlay>
{/if}

<style>
  .end { display: flex; gap: var(--gap-2); justify-content: end; }
</style>
