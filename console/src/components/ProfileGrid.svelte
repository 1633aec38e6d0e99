<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { Column } from '../lib/grid.svelte';
  import type { PagedList } from '../lib/paged.svelte';
  import type { Profile } from '../lib/types';
  import Grid from './Grid.svelte';
  import ProfileBulk from './ProfileBulk.svelte';
  import State from './State.svelte';
  import When from './When.svelte';
  /** With `bulk`, several can be chosen and acted on. */
  let { label, profiles = [], list, tools, bulk = false }: { label: string; profiles?: Profile[]; list?: PagedList<Profile>; tools?: Snippet; bulk?: boolean } = $props();
  let chosen = $state<string[]>([]);
  const known = $derived(list?.rows ?? profiles);
  const toDo = (p: Profile) =>
    p.state === 'failed' ? 'issue again' : p.state !== 'ready' ? '' : p.handout === null || p.handout === 'expired' || p.handout === 'withdrawn' ? 'hand out'
      : p.proof.state === 'failing' ? 'see the trial' : p.proof.state === 'unknown' && (p.custody === 'held' || p.custody === 'in file') ? 'prove' : '';
  const columns: Column<Profile>[] = [
    { key: 'label', label: 'Profile', text: (p) => p.label, order: 'label' },
    { key: 'person', label: 'Person', text: (p) => p.personName ?? '', order: 'person' },
    { key: 'gateway', label: 'Gateway', text: (p) => p.gateway, order: 'gateway' },
    { key: 'address', label: 'Tunnel address', text: (p) => p.addresses.join(', '), kind: 'mono' },
    { key: 'revision', label: 'Rev.', text: (p) => String(p.revision), sort: (p) => p.revision, kind: 'num' },
    { key: 'state', label: 'State', text: (p) => p.state, order: 'state' },
    { key: 'handout', label: 'Handout', text: (p) => p.handout ?? 'not handed out', order: 'handout' },
    { key: 'proof', label: 'Proof', text: (p) => p.proof.state, order: 'proof' },
    { key: 'do', label: 'To do', text: toDo },
  ];
</script>

<Grid {label} rows={profiles} {list} {columns} {tools} bulk={bulk ? several : undefined} bind:chosen={() => (bulk ? chosen : undefined), (c) => (chosen = c ?? [])}>
  {#snippet cell(p, column)}
    {#if column.key === 'label'}<a href="/profiles/{p.id}">{p.label}</a>
    {:else if column.key === 'person' && p.person}<a href="/people/{p.person}">{p.personName}</a>
    {:else if column.key === 'state'}<State state={p.state} />
    {:else if column.key === 'handout'}<State state={p.handout ?? 'not handed out'} />
    {:else if column.key === 'proof'}<State state={p.proof.state} word={p.connected ? `${p.proof.state}, connected` : p.proof.state} /> <span class="small soft"><When at={p.proof.at} /></span>
    {:else}{column.text(p)}{/if}
  {/snippet}
</Grid>
{#snippet several()}<ProfileBulk profiles={known.filter((p) => chosen.includes(p.id))} done={() => void list?.reload()} />{/snippet}
