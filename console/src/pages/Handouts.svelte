<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Empty from '../components/Empty.svelte';
  import Grid from '../components/Grid.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Handout } from '../lib/types';

  const handouts = new PagedList<Handout>(() => '/handouts', ['handout', 'session'], true, true);
  onMount(() => handouts.start());
  const action = new Action();
  const open = (h: Handout) => h.state === 'prepared' || h.state === 'sent';
  const withdraw = (h: Handout) => action.run(async () => { await api.post(`/handouts/${h.id}/withdraw`); await handouts.reload(); });
  let chosen = $state<string[]>([]);
  const ending = $derived(handouts.rows.filter((h) => chosen.includes(h.id) && open(h)));
  const withdrawAll = () => action.run(async () => {
    for (const h of ending) await api.post(`/handouts/${h.id}/withdraw`);
    chosen = [];
    await handouts.reload();
  });
  const columns: Column<Handout>[] = [
    { key: 'profile', label: 'Profile', text: (h) => h.profile, order: 'profile' },
    { key: 'person', label: 'Person', text: (h) => h.personName ?? '', order: 'person' },
    { key: 'file', label: 'File', text: (h) => h.fileName, kind: 'mono' },
    { key: 'digest', label: 'SHA-256', text: (h) => h.digest.slice(0, 12), kind: 'mono' },
    { key: 'state', label: 'State', text: (h) => h.state },
    { key: 'prepared', label: 'Prepared', text: (h) => h.preparedAt, order: 'prepared' },
    { key: 'collected', label: 'Collected', text: (h) => h.collectedAt ?? '', order: 'collected' },
    { key: 'left', label: 'Collections left', text: (h) => `${h.collectionsLeft} of ${h.collectionsAllowed}`, sort: (h) => h.collectionsLeft, kind: 'num' },
    { key: 'do', label: 'To do', text: () => '', action: true },
  ];
</script>

<h1>Handouts</h1>
<p class="soft">A handout is collected once. Devices that join with a provisioning file fetch their profiles, and every change of them, by themselves: <a href="/handouts/devices">devices that keep themselves current</a>.</p>
<Trouble problem={handouts.problem ?? action.problem} />
{#if handouts.rows.length || handouts.text}
  <Grid label="handouts" list={handouts} {columns} bulk={session.mayWrite ? several : undefined} bind:chosen={() => (session.mayWrite ? chosen : undefined), (c) => (chosen = c ?? [])}>
    {#snippet cell(h, column)}
      {#if column.key === 'person' && h.person}<a href="/people/{h.person}">{h.personName}</a>
      {:else if column.key === 'state'}<State state={h.state} />
      {:else if column.key === 'prepared'}<When at={h.preparedAt} />
      {:else if column.key === 'collected'}<When at={h.collectedAt} />
      {:else if column.key === 'do' && session.mayWrite && open(h)}<Button look="harm" aria-label="End the link for {h.profile}" onclick={() => withdraw(h)}>End link</Button>
      {:else}{column.text(h)}{/if}
    {/snippet}
  </Grid>
{:else if handouts.ready}<Empty>A handout is a link to send and a passphrase to tell another way. Prepare one on a profile's page.</Empty>{/if}
{#snippet several()}
  {#if ending.length > 0}<Button look="harm" busy={action.busy} onclick={withdrawAll}>End {ending.length} open {ending.length === 1 ? 'link' : 'links'}</Button>
  {:else}<span class="soft">None of them has an open link.</span>{/if}
{/snippet}
