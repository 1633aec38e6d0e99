<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Gateway } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import TextArea from './TextArea.svelte';
  import Trouble from './Trouble.svelte';
  /** Where and as whom Tender signs in to a gateway. What is left as it is stays; a change is tried before it is kept. */
  let { gateway, saved }: { gateway: Gateway; saved: () => void } = $props();
  // svelte-ignore state_referenced_locally
  const before = gateway;
  let address = $state(before.address);
  let port = $state(String(before.port));
  let user = $state(before.user);
  let method = $state('');
  let key = $state('');
  let secret = $state('');
  let identity = $state('');
  const methods = $derived([
    { value: '', label: `the same ${gateway.signIn}` },
    ...(gateway.connector === 'https' ? [{ value: 'token', label: 'another token' }] : [{ value: 'key', label: 'another key' }, { value: 'password', label: 'another password' }]),
  ]);
  const action = new Action();
  const save = () => action.run(async () => {
    await api.patch('/gateways/' + gateway.id, {
      address: address === before.address ? null : address,
      port: Number(port) === before.port ? null : Number(port),
      user: user === before.user ? null : user,
      key: method === 'key' || method === 'token' ? key : null,
      passphrase: method === 'key' ? secret || null : null,
      password: method === 'password' ? secret : null,
      identity: identity || null,
    }, gateway.version);
    key = secret = '';
    saved();
  });
</script>

<form onsubmit={(e) => { e.preventDefault(); void save(); }}>
  <Field label="Address" bind:value={address} mono required />
  <Field label="Port" type="number" min="1" max="65535" bind:value={port} />
  {#if gateway.connector === 'ssh'}<Field label="User" bind:value={user} required />{/if}
  <Choice label="Sign in with" bind:value={method} options={methods} />
  {#if method === 'key' || method === 'password'}<Field label={method === 'key' ? 'Passphrase of the key' : 'Password'} type="password" autocomplete="off" bind:value={secret} required={method === 'password'} />{/if}
  <Field label="Fingerprint" bind:value={identity} mono hint="Only where its host keys changed: as read on the device" />
  {#if method === 'key' || method === 'token'}<TextArea label={method === 'key' ? 'Private SSH key' : 'Token'} bind:value={key} required />{/if}
  <Button type="submit" busy={action.busy}>Try and save</Button>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(14rem, 1fr)); gap: var(--gap-3); align-items: start; }
  form :global(button) { margin-top: 1.6rem; justify-self: start; }
</style>
