<script lang="ts">
  import { api, save } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Authority, Signed } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import TextArea from './TextArea.svelte';
  import Trouble from './Trouble.svelte';
  /** Signs a certificate: for a request, or with a key that is given once, in a key store. */
  let { authority, closing, signed }: { authority: Authority; closing: () => void; signed: () => void } = $props();
  let purpose = $state('client'), commonName = $state(''), names = $state(''), days = $state('365');
  let by = $state('store'), key = $state('ec-p256'), request = $state(''), passphrase = $state(''), legacy = $state('false');
  const keys = ['ec-p256', 'rsa-2048', 'rsa-3072', 'rsa-4096', 'ed25519'].map((k) => ({ value: k, label: k }));
  const action = new Action();
  const sign = () => action.run(async () => {
    const store = by === 'store';
    const made = await api.post<Signed>(`/authorities/${authority.id}/certificates`, {
      purpose, commonName, names: purpose === 'server' ? names.split(/[\s,]+/).filter(Boolean) : null, days: Number(days),
      key: store ? key : null, request: store ? null : request, passphrase: store ? passphrase : null, legacy: store ? legacy === 'true' : null,
    });
    const stem = commonName.toLowerCase().replace(/[^a-z0-9.-]+/g, '-') || 'certificate';
    save(stem + '.pem', new Blob([made.pem], { type: 'application/x-pem-file' }));
    if (made.keyStore) save(stem + '.p12', new Blob([Uint8Array.from(atob(made.keyStore), (c) => c.charCodeAt(0))], { type: 'application/x-pkcs12' }));
    passphrase = '';
    signed();
  });
</script>

<form onsubmit={(e) => { e.preventDefault(); void sign(); }}>
  <Choice label="For" bind:value={purpose} options={[{ value: 'client', label: 'a person or device' }, { value: 'server', label: 'a server' }]} />
  <Field label={purpose === 'server' ? "Server's name" : 'Name'} bind:value={commonName} required />
  {#if purpose === 'server'}<Field label="Other names and addresses" bind:value={names} mono hint="Separated by commas" />{/if}
  <Field label="Days" type="number" min="1" bind:value={days} required />
  <Choice label="Private key" bind:value={by} options={[{ value: 'store', label: 'Tender creates it' }, { value: 'request', label: 'stays on the device, which made a request' }]} />
  {#if by === 'store'}
    <Choice label="Kind of key" bind:value={key} options={keys} />
    <Field label="Passphrase of the key store" type="password" bind:value={passphrase} minlength={8} required autocomplete="new-password" hint="The file opens with it alone; Tender does not keep it" />
    <Choice label="Key store for" bind:value={legacy} options={[{ value: 'false', label: 'present systems' }, { value: 'true', label: 'systems from before about 2019' }]} />
  {:else}<TextArea label="Request (CSR), PEM" bind:value={request} required />{/if}
  <div class="end"><Button onclick={closing}>Cancel</Button><Button type="submit" look="main" busy={action.busy}>Sign and save</Button></div>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  .end { grid-column: 1 / -1; display: flex; gap: var(--gap-2); justify-content: end; }
</style>
