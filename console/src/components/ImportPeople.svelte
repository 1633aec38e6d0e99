<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { ImportedPeople } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Section from './Section.svelte';
  import TextArea from './TextArea.svelte';
  import TypedPeople from './TypedPeople.svelte';
  import Trouble from './Trouble.svelte';
  /** People and their devices from a file, pasted or typed: checked first, then imported as a whole or not at all. */
  let { imported }: { imported: () => void } = $props();
  const id = $props.id();
  const few = 20;
  let csv = $state('');
  let checked = $state.raw<ImportedPeople | null>(null);
  let done = $state('');
  const action = new Action();
  const counts = (n: ImportedPeople) => `${n.people} ${n.people === 1 ? 'person' : 'people'} and ${n.devices} ${n.devices === 1 ? 'device' : 'devices'} added, ${n.changed} changed, ${n.unchanged} unchanged`;
  let way = $state('file');
  const look = (text: string) => action.run(async () => {
    checked = null;
    done = '';
    csv = text;
    if (csv.trim()) checked = await api.post<ImportedPeople>('/people/import', { csv, dryRun: true });
  });
  const choose = async (files: FileList | null) => look((await files?.[0]?.text()) ?? '');
  let pasted = $state('');
  const bring = () => action.run(async () => {
    done = `Imported: ${counts(await api.post<ImportedPeople>('/people/import', { csv, dryRun: false }))}.`;
    checked = null;
    imported();
  });
</script>

<Section title="Import people" note="all or nothing">
  <div class="from"><Choice label="From" bind:value={way} options={[{ value: 'file', label: 'a file' }, { value: 'paste', label: 'a spreadsheet, pasted' }, { value: 'type', label: 'typing them here' }]} /></div>
  {#if way === 'paste'}
    <form onsubmit={(e) => { e.preventDefault(); void look(pasted); }}>
      <TextArea label="Cells copied from a spreadsheet" bind:value={pasted} rows={8} hint="With a header, or name, mail, team and device in this order" />
      <div><Button type="submit" busy={action.busy} disabled={!pasted.trim()}>Check</Button></div>
    </form>
  {:else if way === 'type'}<TypedPeople busy={action.busy} check={look} />
  {:else}<div class="field">
    <label for={id}>CSV file, or a directory's export (LDIF)</label>
    <input {id} type="file" accept=".csv,.tsv,.txt,.ldif,text/csv" onchange={(e) => choose(e.currentTarget.files)} aria-describedby="{id}-hint" />
    <span class="small soft" id="{id}-hint">The first line has <code>name</code>, and any of <code>handle,mail,team,device,kind,system</code>; a person with several devices has several lines. Import it again whenever it changes.</span>
  </div>{/if}
  {#if checked}
    <p>If you import it: {counts(checked)}. <Button look="main" busy={action.busy} onclick={bring}>Import</Button></p>
    {#if checked.changes.length}<ul class="small">{#each checked.changes.slice(0, few) as c, i (i)}<li>Line {c.line}: <span class="mono">{c.handle}{c.device ? '/' + c.device : ''}</span> {c.state}{c.fields.length ? `: ${c.fields.join(', ')}` : ''}</li>{/each}</ul>{/if}
    {#if checked.changes.length > few}<p class="small soft">… and {checked.changes.length - few} more.</p>{/if}
    {#if checked.gone.length}<p class="small soft">Not on the list, and left as they are: {checked.gone.slice(0, few).join(', ')}{checked.gone.length > few ? ` and ${checked.gone.length - few} more` : ''}.</p>{/if}
  {/if}
  <p role="status" class="small">{done}</p>
  <Trouble problem={action.problem} />
</Section>

<style>
  .field { display: grid; gap: var(--gap-1); justify-items: start; }
  label { font-size: var(--size-small); font-weight: 600; }
  p { margin: 0; }
  .from { max-width: 22rem; }
  form { display: grid; gap: var(--gap-2); max-width: 48rem; }
</style>
