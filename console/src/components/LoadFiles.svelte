<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Gateway, Job } from '../lib/types';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import Section from './Section.svelte';
  import Trouble from './Trouble.svelte';
  /** Configuration files of a gateway that Tender cannot connect to, each with its path on the device. */
  let { gateway, loaded }: { gateway: Gateway; loaded: () => void } = $props();
  const id = $props.id();
  const LARGEST = 1024 * 1024;
  let files = $state<{ path: string; text: string; name: string }[]>([]);
  let taken = $state('');
  let refused = $state('');
  let done = $state('');
  const action = new Action();
  async function choose(list: FileList | null): Promise<void> {
    const all = [...(list ?? [])];
    refused = all.filter((f) => f.size > LARGEST).map((f) => `${f.name} is over 1 MiB`).join('; ');
    files = await Promise.all(all.filter((f) => f.size <= LARGEST).map(async (f) => ({ name: f.name, path: f.webkitRelativePath ? '/' + f.webkitRelativePath.split('/').slice(1).join('/') : '/etc/' + f.name, text: await f.text() })));
  }
  const load = () => action.run(async () => {
    const contents = Object.fromEntries(files.map((f) => [f.path, f.text]));
    await api.post<Job>(`/gateways/${gateway.id}/dropped`, { files: contents, taken: taken ? new Date(taken).toISOString() : null });
    done = `${files.length} ${files.length === 1 ? 'file was' : 'files were'} loaded; ${gateway.name} is read from them.`;
    files = [];
    loaded();
  });
</script>

<Section title="Load configuration files" note="Tender reads {gateway.name} from the files that you copied">
  <form onsubmit={(e) => { e.preventDefault(); void load(); }}>
    <div class="field"><label for={id}>Files copied from the device</label><input {id} type="file" multiple onchange={(e) => choose(e.currentTarget.files)} /></div>
    {#each files as f, i (i)}<Field label="Path of {f.name} on the device" bind:value={f.path} mono required />{/each}
    {#if files.length > 0}
      <Field label="Copied" type="datetime-local" bind:value={taken} hint="Empty: now" />
      <div><Button type="submit" look="main" busy={action.busy}>Load</Button></div>
    {/if}
  </form>
  {#if refused}<p class="small">{refused}</p>{/if}
  <p role="status" class="small">{done}</p>
  <Trouble problem={action.problem} />
</Section>

<style>
  form { display: grid; gap: var(--gap-3); }
  .field { display: grid; gap: var(--gap-1); justify-items: start; }
  label { font-size: var(--size-small); font-weight: 600; }
  p { margin: 0; }
</style>
