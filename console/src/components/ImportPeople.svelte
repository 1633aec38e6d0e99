<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { ImportedPeople } from '../lib/types';
  import Button from './Button.svelte';
  import Section from './Section.svelte';
  import Trouble from './Trouble.svelte';
  /** People and their devices from a CSV file: checked first, then imported as a whole or not at all. */
  let { imported }: { imported: () => void } = $props();
  const id = $props.id();
  const few = 20;
  let csv = $state('');
  let checked = $state.raw<ImportedPeople | null>(null);
  let done = $state('');
  const action = new Action();
  const counts = (n: ImportedPeople) => `${n.people} ${n.people === 1 ? 'person' : 'people'} and ${n.devices} ${n.devices === 1 ? 'device' : 'devices'} added, ${n.changed} changed, ${n.unchanged} unchanged`;
  const choose = (files: FileList | null) => action.run(async () => {
    checked = null;
    done = '';
    csv = (await files?.[0]?.text()) ?? '';
    if (csv) checked = await api.post<ImportedPeople>('/people/import', { csv, dryRun: true });
  });
  const bring = () => action.run(async () => {
    done = `Imported: ${counts(await api.post<ImportedPeople>('/people/import', { csv, dryRun: false }))}.`;
    checked = null;
    imported();
  });
</script>

<Section title="Import people" note="all or nothing">
  <div class="field">
    <label for={id}>CSV file, or a directory's export (LDIF)</label>
    <input {id} type="file" accept=".csv,.tsv,.txt,.ldif,text/csv" onchange={(e) => choose(e.currentTarget.files)} aria-describedby="{id}-hint" />
    <span class="small soft" id="{id}-hint">The first line has <code>handle</code> and <code>name</code>, and any of <code>mail,team,device,kind,system</code>; a person with several devices has several lines. Import it again whenever it changes.</span>
  </div>
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
</style>
