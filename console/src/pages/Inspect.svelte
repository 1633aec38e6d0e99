<script lang="ts">
  import Button from '../components/Button.svelte';
  import Field from '../components/Field.svelte';
  import FileDrop from '../components/FileDrop.svelte';
  import Inspected from '../components/Inspected.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { fitting, sent } from '../lib/files';
  import { Action } from '../lib/resource.svelte';
  import type { InspectionReport } from '../lib/types';

  const mostFiles = 20;
  let dropped = $state.raw<File[]>([]);
  let found = $state.raw<InspectionReport | null>(null);
  let tooLarge = $state.raw<string[]>([]);
  let passphrase = $state('');
  const looking = new Action();
  const locked = $derived(found?.asksPassphrase ?? false);

  const look = () => looking.run(async () => {
    found = await api.post<InspectionReport>('/inspections', { files: await sent(dropped), passphrase: passphrase || null });
  });
  function take(files: File[]) {
    const chosen = fitting(files, mostFiles);
    dropped = chosen.fit;
    tooLarge = chosen.left;
    found = null;
    passphrase = '';
    if (dropped.length) void look();
  }
</script>

<h1>Inspect a file</h1>
<p>Choose any profile, certificate, key store or archive. Tender shows what it is, where it connects and what is wrong with it. Files that belong together can be chosen together. Nothing is kept.</p>
<FileDrop {take} />
{#each tooLarge as name (name)}<p class="soft">{name} is too large, or too much with the others (4 MiB in all); <span class="mono">tender profile inspect</span> looks into larger ones.</p>{/each}
<Trouble problem={looking.problem} />
<div aria-live="polite" aria-busy={looking.busy}>
  {#if locked}
    <form onsubmit={(e) => { e.preventDefault(); void look(); }}>
      <Field label="Passphrase" type="password" bind:value={passphrase} required />
      <Button type="submit" busy={looking.busy}>Inspect</Button>
    </form>
  {/if}
  {#if found}
    <p class="verdict"><State state={found.verdict.verdict} word={found.verdict.words} /></p>
    {#each found.files as i, m (m)}<Inspected of={i} archive={found.files.length > 1} />{/each}
  {/if}
</div>

<style>
  .verdict { margin-top: var(--gap-4); font-weight: 600; }
  form { display: flex; flex-wrap: wrap; gap: var(--gap-3); align-items: end; margin-top: var(--gap-4); }
</style>
