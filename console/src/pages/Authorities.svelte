<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import CertificateGrid from '../components/CertificateGrid.svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import Field from '../components/Field.svelte';
  import ImportAuthority from '../components/ImportAuthority.svelte';
  import Section from '../components/Section.svelte';
  import SignForm from '../components/SignForm.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { day } from '../lib/format';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Authority } from '../lib/types';
  /** The company's certificate authorities: what they sign, and the lists of what was revoked. */
  const all = new Resource(() => api.list<Authority>('/authorities'), ['authority']);
  onMount(() => all.start());
  const owner = $derived(session.operator?.role === 'owner');
  let open = $state(false);
  let importing = $state(false);
  let signing = $state('');
  let name = $state(''), key = $state('ec-p256'), years = $state('10'), publishesAt = $state('');
  const action = new Action();
  const make = () => action.run(async () => {
    await api.post('/authorities', { name, key, years: Number(years), publishesAt: publishesAt || null });
    open = false;
    await all.reload();
  });
</script>

<h1>Certificate authorities</h1>
{#if owner}
  {#if open}
    <form onsubmit={(e) => { e.preventDefault(); void make(); }}>
      <Field label="Name" bind:value={name} hint="appears in every certificate" />
      <Choice label="Key" bind:value={key} options={[{ value: 'ec-p256', label: 'EC P-256, the usual' }, { value: 'ed25519', label: 'Ed25519' }, { value: 'rsa-2048', label: 'RSA 2048' }, { value: 'rsa-3072', label: 'RSA 3072' }, { value: 'rsa-4096', label: 'RSA 4096, takes seconds' }]} />
      <Field label="Years" type="number" min="1" max="30" bind:value={years} />
      <Field label="Revocation list (CRL) published at" bind:value={publishesAt} mono hint="http://HOST/revocations/NAME.crl; empty: not published" />
      <div class="end"><Button type="submit" look="main" busy={action.busy}>Create</Button><Button onclick={() => (open = false)}>Cancel</Button></div>
    </form>
  {:else if importing}<ImportAuthority closing={() => (importing = false)} imported={() => { importing = false; void all.reload(); }} />
  {:else}<p class="end"><Button onclick={() => (open = true)}>Create an authority</Button><Button onclick={() => (importing = true)}>Import an existing one</Button></p>{/if}
{/if}
<Trouble problem={action.problem} />
<Trouble problem={all.problem} />
{#each all.data ?? [] as a (a.id)}
  <Section title={a.name} note="{a.key}, expires {day(a.expiresAt)}">
    {#snippet actions()}{#if session.mayWrite && signing !== a.id}<Button aria-label="Sign a certificate of {a.name}" onclick={() => (signing = a.id)}>Sign a certificate</Button>{/if}{/snippet}
    <dl>
      <dt>Revocation list (CRL)</dt><dd>number {a.listNumber}, {a.revoked} on it, valid until {day(a.listUntil)} <a href="/api/v1/authorities/{a.id}/list" download="{a.name}.crl">Download</a></dd>
      <dt>Published at</dt><dd>{#if a.publishesAt}<span class="mono">{a.publishesAt}</span>{:else}nowhere: gateways get it from Tender{/if}</dd>
    </dl>
    {#if signing === a.id}<SignForm authority={a} closing={() => (signing = '')} signed={() => { signing = ''; void all.reload(); }} />{/if}
    {#key a.id + signing}<CertificateGrid authority={a.id} />{/key}
  </Section>
{:else}{#if all.data}<Empty>There is no certificate authority yet. An authority of your own signs one certificate for each device, so a lost device can be revoked alone.</Empty>{/if}{/each}

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  .end { display: flex; gap: var(--gap-2); align-self: end; padding-bottom: 1.35rem; }
  dl { display: grid; grid-template-columns: max-content minmax(0, 1fr); gap: var(--gap-1) var(--gap-4); margin: 0; }
  dt { font-weight: 600; }
  dd { margin: 0; overflow-wrap: anywhere; }
  @media (max-width: 720px) { dl { grid-template-columns: 1fr; } }
</style>
