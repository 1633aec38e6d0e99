<script lang="ts">
  import { api, save } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Backup } from '../lib/types';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import Overlay from './Overlay.svelte';
  import Trouble from './Trouble.svelte';
  let { backup, closing }: { backup: Backup; closing: () => void } = $props();
  let passphrase = $state('');
  let again = $state('');
  const action = new Action();
  const download = () => action.run(async () => {
    const file = await api.file(`/backups/${backup.id}/download`, { passphrase });
    save(file.name, file.blob);
    closing();
  });
</script>

<Overlay title="Download backup {backup.number} of {backup.gateway}" {closing}>
  <p class="soft">One encrypted file, which <code>openssl cms -decrypt -inform DER -pwri_password</code> opens without Tender. The passphrase is not kept here: without it the file is lost.</p>
  <form onsubmit={(e) => { e.preventDefault(); void download(); }}>
    <Field label="Passphrase for this file" type="password" bind:value={passphrase} minlength={12} required autocomplete="new-password" hint="12 characters or more" />
    <Field label="Repeat the password" type="password" bind:value={again} required autocomplete="new-password" />
    <div><Button onclick={closing}>Close</Button> <Button type="submit" look="main" busy={action.busy} disabled={passphrase !== again || passphrase.length < 12}>Download</Button></div>
  </form>
  <Trouble problem={action.problem} />
</Overlay>

<style>
  form { display: grid; gap: var(--gap-3); }
  div { justify-self: end; }
</style>
