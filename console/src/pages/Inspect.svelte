<script lang="ts">
  import Button from '../components/Button.svelte';
  import Field from '../components/Field.svelte';
  import Inspected from '../components/Inspected.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { InspectionReport } from '../lib/types';

  const mostBytes = 4 * 1024 * 1024;
  const mostFiles = 20;
  let dropped = $state.raw<File[]>([]);
  let found = $state.raw<InspectionReport | null>(null);
  let tooLarge = $state.raw<string[]>([]);
  let passphrase = $state('');
  let over = $state(false);
  const looking = new Action();
  const locked = $derived(found?.asksPassphrase ?? false);

  /** The file's bytes in base64, read in pieces that fit a call's arguments. */
  async function base64(file: File): Promise<string> {
    const bytes = new Uint8Array(await file.arrayBuffer());
    let text = '';
    for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
    return btoa(text);
  }
  const look = () => looking.run(async () => {
    const files = await Promise.all(dropped.map(async (file) => ({ name: file.name, content: await base64(file) })));
    found = await api.post<InspectionReport>('/inspections', { files, passphrase: passphrase || null });
  });
  function take(files: FileList | null | undefined) {
    const all = [...(files ?? [])].slice(0, mostFiles);
    let left = mostBytes;
    dropped = all.filter((f) => (f.size <= left ? ((left -= f.size), true) : false));
    tooLarge = all.filter((f) => !dropped.includes(f)).map((f) => f.name);
    found = null;
    passphrase = '';
    if (dropped.length) void look();
  }
</script>

<h1>Inspect a file</h1>
<p>Choose any profile, certificate, key store or archive. Tender shows what it is, where it connects and what is wrong with it. Files that belong together can be chosen together. Nothing is kept.</p>
<label class="drop" class:over ondragover={(e) => { e.preventDefault(); over = true; }} ondragleave={() => { over = false; }}
  ondrop={(e) => { e.preventDefault(); over = false; take(e.dataTransfer?.files); }}>
  <input type="file" multiple onchange={(e) => take(e.currentTarget.files)} />
  <span class="soft">Drop files here, or choose them.</span>
</label>
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
  .drop { display: flex; flex-wrap: wrap; gap: var(--gap-3); align-items: center; border: 1px dashed var(--line-strong, var(--line)); padding: var(--gap-4); }
  .drop.over { border-style: solid; }
  .drop:focus-within { outline: 2px solid currentColor; outline-offset: 2px; }
  .verdict { margin-top: var(--gap-4); font-weight: 600; }
  form { display: flex; flex-wrap: wrap; gap: var(--gap-3); align-items: end; margin-top: var(--gap-4); }
</style>
