<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Field from '../components/Field.svelte';
  import Grid from '../components/Grid.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import type { Chain, JournalEntry } from '../lib/types';

  const journal = new PagedList<JournalEntry>(() => '/journal', ['gateway', 'profile', 'handout', 'trial', 'backup', 'person'], false);
  onMount(() => journal.start());
  let kept = $state('');
  let chain = $state.raw<Chain | null>(null);
  const action = new Action();
  /** A head as it was written down, NUMBER:HASH. */
  const head = () => { const [number, hash] = kept.trim().split(':'); return kept.trim() ? { number: Number(number), hash } : null; };
  const verify = () => action.run(async () => { chain = await api.post<Chain>('/journal/verify', head() ?? undefined); });
  const columns: Column<JournalEntry>[] = [
    { key: 'number', label: 'No.', text: (e) => String(e.number), sort: (e) => e.number, kind: 'num' },
    { key: 'at', label: 'When', text: (e) => e.at },
    { key: 'who', label: 'Who', text: (e) => e.who },
    { key: 'what', label: 'What', text: (e) => e.what },
    { key: 'detail', label: 'Detail', text: (e) => e.detail },
  ];
</script>

<h1>Journal</h1>
<form onsubmit={(e) => { e.preventDefault(); void verify(); }}>
  <Field label="End of the chain that you kept" bind:value={kept} mono pattern="\s*[0-9]{'{'}1,18{'}'}:[0-9a-f]{'{'}64{'}'}\s*" placeholder="NUMBER:HASH" hint="Optional: it must still be in the chain" />
  <Button type="submit" busy={action.busy}>Check the chain</Button>
</form>
<div role="status">
  {#if chain}
    <p>{chain.whole ? 'The chain is whole.' : `The chain is broken at entry ${chain.firstBroken}.`} {#if chain.headHolds === true}What you kept is in it.{:else if chain.headHolds === false}<strong>What you kept is not in it: entries were changed or cut off.</strong>{/if}</p>
    <p class="small soft">Its end, to keep elsewhere: <span class="mono end">{chain.head.number}:{chain.head.hash}</span></p>
  {/if}
</div>
<Trouble problem={journal.problem ?? action.problem} />
{#if journal.ready}
  <Grid label="entries" key={(e) => String(e.number)} list={journal} {columns}>
    {#snippet cell(e, column)}{#if column.key === 'at'}<When at={e.at} />{:else}{column.text(e)}{/if}{/snippet}
  </Grid>
{/if}

<style>
  form { display: flex; flex-wrap: wrap; gap: var(--gap-3); align-items: center; }
  form :global(.field) { width: min(28rem, 100%); }
  .end { overflow-wrap: anywhere; }
</style>
