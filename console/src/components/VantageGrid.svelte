<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Vantage } from '../lib/types';
  import Grid from './Grid.svelte';
  import Remove from './Remove.svelte';
  import Section from './Section.svelte';
  import When from './When.svelte';
  /** Where trials run from: the service, and machines that stand outside. */
  const all = new Resource(() => api.list<Vantage>('/vantages'), ['trial']);
  onMount(() => all.start());
  const columns: Column<Vantage>[] = [
    { key: 'name', label: 'Vantage', text: (v) => v.name },
    { key: 'kind', label: 'Kind', text: (v) => v.kind },
    { key: 'heard', label: 'Asked for work', text: (v) => v.heardAt ?? '' },
    { key: 'trials', label: 'Trials', text: (v) => String(v.trials), sort: (v) => v.trials, kind: 'num' },
    ...(session.mayWrite ? [{ key: 'do', label: 'Remove', text: () => '', action: true }] : []),
  ];
</script>

{#if all.data?.length}
  <Section title="Vantages" note="where trials run from; tender vantage run adds one outside">
    <Grid label="vantages" key={(v) => v.name} rows={all.data} {columns}>
      {#snippet cell(v, column)}
        {#if column.key === 'heard'}<When at={v.heardAt} none={v.kind === 'standing' ? 'never' : ''} />
        {:else if column.key === 'do'}{#if v.kind === 'standing'}<Remove path={'/vantages/' + encodeURIComponent(v.name)} removed={() => void all.reload()} />{/if}
        {:else}{column.text(v)}{/if}
      {/snippet}
    </Grid>
  </Section>
{/if}
