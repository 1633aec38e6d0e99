<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Grid from '../components/Grid.svelte';
  import Remove from '../components/Remove.svelte';
  import Section from '../components/Section.svelte';
  import State from '../components/State.svelte';
  import TextArea from '../components/TextArea.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Description } from '../lib/types';
  /** How each kind of device is read and changed: those that ship, and the company's own. */
  const all = new Resource(() => api.list<Description>('/device-descriptions'), ['gateway']);
  onMount(() => all.start());
  const owner = $derived(session.operator?.role === 'owner');
  let chosen = $state.raw<Description | null>(null);
  let text = $state('');
  let editing = $state(false);
  let done = $state('');
  const action = new Action();
  const condition = (d: Description) => (d.shipped ? 'ships with Tender' : d.approved ? 'approved' : 'waits for approval');
  const columns: Column<Description>[] = [
    { key: 'name', label: 'Description', text: (d) => d.name },
    { key: 'title', label: 'Kind of device', text: (d) => d.title },
    { key: 'state', label: 'State', text: condition },
    { key: 'files', label: 'Files that are read', text: (d) => d.files.join(', '), kind: 'mono' },
  ];
  const read = async (d: Description) => (await (await api.download(`/device-descriptions/${encodeURIComponent(d.name)}/text`)).blob.text());
  const show = (d: Description) => action.run(async () => { text = await read(d); chosen = d; editing = false; done = ''; });
  const fresh = () => { chosen = null; text = ''; editing = true; done = ''; };
  const put = () => action.run(async () => {
    chosen = await api.post<Description>('/device-descriptions', { text });
    editing = false;
    done = `${chosen.name} was saved; it takes effect when an owner approves it.`;
    await all.reload();
  });
  const approve = (d: Description) => action.run(async () => {
    chosen = await api.post<Description>(`/device-descriptions/${encodeURIComponent(d.name)}/approve`, { digest: d.digest });
    done = `${d.name} is approved.`;
    await all.reload();
  });
  const gone = () => { chosen = null; text = ''; void all.reload(); };
</script>

<h1>Device descriptions</h1>
<Section title="Known kinds of devices">
  {#snippet actions()}{#if session.mayWrite && !editing}<Button onclick={fresh}>Add a description</Button>{/if}{/snippet}
  {#if all.data}
    <Grid label="device descriptions" key={(d) => d.name} rows={all.data} {columns}>
      {#snippet cell(d, column)}
        {#if column.key === 'name'}<button class="link" aria-expanded={chosen?.name === d.name} onclick={() => show(d)}>{d.name}</button>
        {:else if column.key === 'state'}<State state={d.shipped || d.approved ? 'ok' : 'waiting'} word={condition(d)} />
        {:else if column.key === 'files'}<span class="files">{column.text(d)}</span>
        {:else}{column.text(d)}{/if}
      {/snippet}
    </Grid>
  {/if}
  <Trouble problem={action.problem ?? all.problem} />
  <p role="status" class="small">{done}</p>
</Section>
{#if editing}
  <Section title={chosen ? `Change ${chosen.name}` : 'A description of your own'} note="in YAML; docs/device-descriptions.md explains each field">
    <form onsubmit={(e) => { e.preventDefault(); void put(); }}>
      <TextArea label="Description" bind:value={text} rows={24} required hint="Start from the text of one that ships, under another name" />
      <p class="do"><Button onclick={() => (editing = false)}>Cancel</Button><Button type="submit" look="main" busy={action.busy}>Save</Button></p>
    </form>
  </Section>
{:else if chosen}
  {@const d = chosen}
  <Section title={d.name} note={d.title}>
    {#snippet actions()}
      {#if session.mayWrite}<Button onclick={() => (editing = true)}>{d.shipped ? 'Copy to a new one' : 'Change'}</Button>{/if}
      {#if owner && !d.approved && !d.shipped}<Button look="main" busy={action.busy} onclick={() => approve(d)}>Approve</Button>{/if}
    {/snippet}
    {#if !d.shipped && !d.approved}<p class="small">Approving lets Tender run these commands on devices:</p><ul class="mono small">{#each d.commands as c (c)}<li>{c}</li>{/each}</ul>{/if}
    <pre class="mono small">{text}</pre>
    {#if session.mayWrite && !d.shipped}<div><Remove path={'/device-descriptions/' + encodeURIComponent(d.name)} removed={gone} /></div>{/if}
  </Section>
{/if}

<style>
  .link { font: inherit; color: var(--accent); background: none; border: 0; padding: 0; text-decoration: underline; cursor: pointer; text-align: left; }
  .files { white-space: normal; overflow-wrap: anywhere; }
  pre { margin: 0; background: var(--sunk); padding: var(--gap-3); overflow-x: auto; max-height: 40rem; }
  ul { margin: 0; }
  .do { display: flex; gap: var(--gap-2); justify-content: end; margin: var(--gap-2) 0 0; }
</style>
