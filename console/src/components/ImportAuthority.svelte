<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Authority } from '../lib/types';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import TextArea from './TextArea.svelte';
  import Trouble from './Trouble.svelte';
  /** An authority that exists, with its private key; whoever it revoked stays revoked. */
  let { closing, imported }: { closing: () => void; imported: () => void } = $props();
  let name = $state(''), certificate = $state(''), key = $state(''), passphrase = $state(''), publishesAt = $state(''), revocationList = $state(''), issued = $state('');
  const action = new Action();
  const bring = () => action.run(async () => {
    await api.post<Authority>('/authorities/taken-in', {
      name, certificate, key, passphrase: passphrase || null, publishesAt: publishesAt || null, revocationList: revocationList || null, issued: issued || null,
    });
    key = passphrase = '';
    imported();
  });
</script>

<form onsubmit={(e) => { e.preventDefault(); void bring(); }}>
  <Field label="Name" bind:value={name} required />
  <Field label="Passphrase of the key" type="password" bind:value={passphrase} autocomplete="off" hint="If it has one; the key is kept encrypted" />
  <Field label="Revocation list (CRL) published at" bind:value={publishesAt} mono hint="Empty: not published" />
  <TextArea label="Certificate, PEM" bind:value={certificate} required />
  <TextArea label="Private key, PEM" bind:value={key} required />
  <TextArea label="Revocation list (CRL), PEM" bind:value={revocationList} hint="If there is one: whoever it revokes stays revoked" />
  <TextArea label="Index of issued certificates" bind:value={issued} hint="If there is one: the text file that openssl ca keeps" />
  <div class="end"><Button onclick={closing}>Cancel</Button><Button type="submit" look="main" busy={action.busy}>Import</Button></div>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  .end { grid-column: 1 / -1; display: flex; gap: var(--gap-2); justify-content: end; }
</style>
