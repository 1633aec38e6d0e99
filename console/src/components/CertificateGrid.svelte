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
  const words: Record<string, string> = { 'ends-soon': 'ends soon' };
  const columns: Column<Certificate>[] = [
    { key: 'name', label: 'Name', text: (c) => c.commonName },
    { key: 'purpose', label: 'For', text: (c) => c.purpose },
    { key: 'state', label: 'State', text: (c) => words[c.state] ?? c.state },
    { key: 'ends', label: 'Until', text: (c) => c.ends },
    { key: 'custody', label: 'Key', text: (c) => c.custody },
    { key: 'serial', label: 'Serial number', text: (c) => c.serial },
    { key: 'do', label: 'To do', text: () => '' },
  ];
</script>

{#if all.data?.length}
  <Grid label="certificates" rows={all.data} {columns}>
    {#snippet cell(c, column)}
      {#if column.key === 'state'}<State state={words[c.state] ?? c.state} />
      {:else if column.key === 'ends'}<span title={exact(c.ends)}>{day(c.ends)}</span>
      {:else if column.key === 'serial'}<span class="mono small">{c.serial}</span>
      {:else if column.key === 'do'}{#if session.mayWrite && c.state !== 'revoked' && c.state !== 'ended'}<Button look="harm" onclick={() => (asked = c)}>Revoke</Button>{/if}
      {:else}{column.text(c)}{/if}
    {/snippet}
  </Grid>
{:else if all.data}<Empty>It has signed nothing yet. A profile for a listener that believes it gets its certificate when it is issued.</Empty>{/if}
<Trouble problem={all.problem} />
{#if asked}
  <Overlay title="Revoke the certificate of {asked.commonName}" closing={() => (asked = null)}>
    <p>Whoever has it is let in no more once the list reaches the gateways, which begins at once. It cannot be taken back; a new certificate can be issued.</p>
    <Choice label="Why" bind:value={reason} options={['unspecified', 'key-compromise', 'affiliation-changed', 'superseded', 'cessation-of-operation'].map((r) => ({ value: r, label: r.replaceAll('-', ' ') }))} />
    <Trouble problem={action.problem} />
    <div class="end"><Button onclick={() => (asked = null)}>Leave it</Button><Button look="harm" busy={action.busy} onclick={revoke}>Revoke it</Button></div>
  </Overlay>
{/if}

<style>
  .end { display: flex; gap: var(--gap-2); justify-content: end; }
</style>
