<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Facts from '../components/Facts.svelte';
  import Field from '../components/Field.svelte';
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
  import type { Description, Recognition } from '../lib/types';
  /** How each kind of device is read and changed: those that ship, and the company's own. */
  const all = new Resource(() => api.list<Description>('/device-descriptions'), ['gateway']);
  onMount(() => all.start());
  const writes = ['change', 'files', 'accounts', 'request', 'rollback'];
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
  const show = (d: Description) => action.run(async () => { text = await read(d); chosen = d; editing = false; done = ''; fits = null; });
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
  let against = $state('');
  let fits = $state.raw<Recognition | null>(null);
  const checking = new Action();
  const check = (d: Description) => checking.run(async () => { fits = null; fits = await api.post<Recognition>(`/device-descriptions/${encodeURIComponent(d.name)}/check`, { gateway: against.trim() }); });
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
    <Facts facts={[
      { term: d.can.some((c) => writes.includes(c)) ? 'Reads and writes' : 'Reads', text: d.files.join(', '), mono: true },
      { term: !d.shipped && !d.approved ? 'Runs once it is approved' : 'Runs', text: d.commands.join('; ') || 'nothing', mono: true },
      { term: 'Tender can then', text: d.can.map((c) => c.replace('-', ' ')).join(', ') || 'do nothing' },
    ]} />
    {#if session.mayWrite}
      <form class="check" onsubmit={(e) => { e.preventDefault(); void check(d); }}>
        <Field label="Check it against a gateway" bind:value={against} required hint="Its name. Looks whether the files are there; runs none of the commands" />
        <Button type="submit" busy={checking.busy}>Check</Button>
      </form>
      <div aria-live="polite">{#if fits}<p><State state={fits.fits ? 'ok' : 'failed'} word={fits.fits ? 'fits' : 'does not fit'} /> {#if fits.found.length}Found: <span class="mono">{fits.found.join(', ')}</span>.{/if} {#if fits.missing.length}Missing: <span class="mono">{fits.missing.join(', ')}</span>.{/if}</p>{/if}</div>
      <Trouble problem={checking.problem} />
    {/if}
    <pre class="mono small">{text}</pre>
    {#if session.mayWrite && !d.shipped}<div><Remove path={'/device-descriptions/' + encodeURIComponent(d.name)} removed={gone} /></div>{/if}
  </Section>
{/if}

<style>
  .link { font: inherit; color: var(--accent); background: none; border: 0; padding: 0; text-decoration: underline; cursor: pointer; text-align: left; }
  .files { white-space: normal; overflow-wrap: anywhere; }
  pre { margin: 0; background: var(--sunk); padding: var(--gap-3); overflow-x: auto; max-height: 40rem; }
  .check { display: grid; grid-template-columns: minmax(0, 22rem) auto; gap: var(--gap-3); align-items: start; margin: var(--gap-3) 0; }
  .check :global(button) { margin-top: 1.6rem; justify-self: start; }
  .do { display: flex; gap: var(--gap-2); justify-content: end; margin: var(--gap-2) 0 0; }
</style>
