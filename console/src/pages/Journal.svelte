<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Grid from '../components/Grid.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import type { JournalEntry } from '../lib/types';

  const journal = new PagedList<JournalEntry>(() => '/journal', ['gateway', 'profile', 'handout', 'trial', 'backup', 'person'], false);
  onMount(() => journal.start());
  let chain = $state('');
  const action = new Action();
  const verify = () => action.run(async () => {
    const answer = await api.post<{ whole: boolean; firstBroken: number | null }>('/journal/verify');
    chain = answer.whole ? 'The chain is whole.' : `The chain is broken at entry ${answer.firstBroken}.`;
  });
  const columns: Column<JournalEntry>[] = [
    { key: 'number', label: 'No.', text: (e) => String(e.number), sort: (e) => e.number, kind: 'num' },
    { key: 'at', label: 'When', text: (e) => e.at },
    { key: 'who', label: 'Who', text: (e) => e.who },
    { key: 'what', label: 'What', text: (e) => e.what },
    { key: 'detail', label: 'Detail', text: (e) => e.detail },
  ];
</script>

<h1>Journal</h1>
<p><Button busy={action.busy} onclick={verify}>Check the chain</Button> <span role="status">{chain}</span></p>
<Trouble problem={journal.problem ?? action.problem} />
{#if journal.ready}
  <Grid label="entries" key={(e) => String(e.number)} list={journal} {columns}>
    {#snippet cell(e, column)}{#if column.key === 'at'}<When at={e.at} />{:else}{column.text(e)}{/if}{/snippet}
  </Grid>
{/if}
