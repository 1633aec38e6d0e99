<script lang="ts">
  import type { Column } from '../lib/grid.svelte';
  import { Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Site } from '../lib/types';
  import Button from './Button.svelte';
  import Empty from './Empty.svelte';
  import Grid from './Grid.svelte';
  import Remove from './Remove.svelte';
  import Section from './Section.svelte';
  import SiteForm from './SiteForm.svelte';
  /** The company's sites: added, changed and removed from here. */
  let { sites }: { sites: Resource<Site[]> } = $props();
  const columns: Column<Site>[] = [
    { key: 'title', label: 'Site', text: (s) => s.title },
    { key: 'name', label: 'Name', text: (s) => s.name },
    { key: 'zone', label: 'Time zone', text: (s) => s.timeZone },
    { key: 'domain', label: 'Routing domain', text: (s) => s.domain },
    { key: 'networks', label: 'Networks', text: (s) => Object.entries(s.networks).map(([n, c]) => `${n} ${c}`).join(', '), kind: 'mono' },
    ...(session.mayWrite ? [{ key: 'do', label: 'Change', text: () => '', action: true }] : []),
  ];
  let editing = $state<string | null>(null);
  const saved = () => { editing = null; void sites.reload(); };
</script>

<Section title="Sites">
  {#snippet actions()}{#if session.mayWrite && editing !== ''}<Button onclick={() => (editing = '')}>Add a site</Button>{/if}{/snippet}
  {#if editing === ''}<SiteForm closing={() => (editing = null)} {saved} />{/if}
  {#if sites.data?.length}
    <Grid label="sites" rows={sites.data} {columns}>
      {#snippet cell(s, column)}
        {#if column.key === 'do'}<span class="do"><Button aria-label="Change {s.title}" onclick={() => (editing = s.id)}>Change</Button><Remove path={'/sites/' + s.id} removed={() => void sites.reload()} /></span>
        {:else}{column.text(s)}{/if}
      {/snippet}
    </Grid>
    {#each sites.data.filter((s) => s.id === editing) as s (s.id)}<SiteForm site={s} closing={() => (editing = null)} {saved} />{/each}
  {:else if sites.data}<Empty>A site is a place of the company with its networks. Add one first: every gateway stands at a site.</Empty>{/if}
</Section>

<style>
  .do { display: flex; gap: var(--gap-2); align-items: start; }
</style>
