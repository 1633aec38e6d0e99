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
  let csv = $state('');
  let checked = $state.raw<ImportedPeople | null>(null);
  let done = $state('');
  const action = new Action();
  const counts = (n: ImportedPeople) => `${n.people} ${n.people === 1 ? 'person' : 'people'} and ${n.devices} ${n.devices === 1 ? 'device' : 'devices'}`;
  const choose = (files: FileList | null) => action.run(async () => {
    checked = null;
    done = '';
    csv = (await files?.[0]?.text()) ?? '';
    if (csv) checked = await api.post<ImportedPeople>('/people/import', { csv, dryRun: true });
  });
  const bring = () => action.run(async () => {
    done = `${counts(await api.post<ImportedPeople>('/people/import', { csv, dryRun: false }))} were imported.`;
    checked = null;
    imported();
  });
</script>

<Section title="Import people" note="all or nothing">
  <div class="field">
    <label for={id}>CSV file</label>
    <input {id} type="file" accept=".csv,text/csv" onchange={(e) => choose(e.currentTarget.files)} aria-describedby="{id}-hint" />
    <span class="small soft" id="{id}-hint">Its first line is <code>handle,name,mail,team,device,kind,system</code>; a person with several devices has several lines.</span>
  </div>
  {#if checked}<p>{counts(checked)} will be imported. <Button look="main" busy={action.busy} onclick={bring}>Import</Button></p>{/if}
  <p role="status" class="small">{done}</p>
  <Trouble problem={action.problem} />
</Section>

<style>
  .field { display: grid; gap: var(--gap-1); justify-items: start; }
  label { font-size: var(--size-small); font-weight: 600; }
  p { margin: 0; }
</style>
