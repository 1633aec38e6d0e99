<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Empty from '../components/Empty.svelte';
  import Facts from '../components/Facts.svelte';
  import Field from '../components/Field.svelte';
  import ListenerList from '../components/ListenerList.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import Section from '../components/Section.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Gateway, Profile } from '../lib/types';
  import BackupGrid from '../components/BackupGrid.svelte';

  let { id }: { id: string } = $props();
  const gateway = new Resource(() => api.get<Gateway>('/gateways/' + id), ['gateway', 'backup', 'profile']);
  const profiles = new Resource(() => api.list<Profile>('/profiles?gateway=' + id), ['profile', 'session', 'trial', 'handout']);
  onMount(() => gateway.start());
  onMount(() => profiles.start());
  let compared = $state('');
  let endpoint = $state('');
  let insideHost = $state('');
  const g = $derived(gateway.data);
  const reading = new Action();
  const backup = new Action();
  const setting = new Action();
  const set = () => setting.run(async () => {
    gateway.data = await api.patch<Gateway>('/gateways/' + id, { endpoint: endpoint || null, insideHost: insideHost || null }, g!.version);
    await gateway.reload();
  });
</script>

<Trouble problem={gateway.problem} />
{#if g}
  <h1>{g.name} <span class="soft">{g.kind} at {g.site}</span></h1>
  {#snippet condition()}<State state={g.readProblem ? 'does not answer' : g.readAt ? 'well' : 'not read yet'} word={g.readProblem ?? undefined} /> <span class="small soft">read <When at={g.readAt} none="never" /></span>{/snippet}
  {#if !g.identityAccepted}
    <Section title="Is it the right device?">
      <p>It shows the host key <code>{g.identity}</code>. Read the fingerprint on the device itself, or over another way, and enter it here; then Tender backs it up and reads it.</p>
      <form onsubmit={(e) => { e.preventDefault(); void reading.run(async () => { await api.post(`/gateways/${id}/accept`, { identity: compared.trim() }); }); }}>
        <Field label="Fingerprint as read on the device" bind:value={compared} mono required />
        <Button type="submit" look="main" busy={reading.busy}>Accept and read</Button>
      </form>
      <Trouble problem={reading.problem} />
    </Section>
  {:else}
    <Section title="What it is">
      {#snippet actions()}
        {#if session.mayWrite}
          <Button busy={reading.busy} onclick={() => reading.run(async () => { await api.post(`/gateways/${id}/read`); })}>Read again</Button>
          <Button busy={backup.busy} onclick={() => backup.run(async () => { await api.post(`/gateways/${id}/backups`, {}); })}>Back up now</Button>
        {/if}
      {/snippet}
      <Facts facts={[
        { term: 'State', value: condition },
        { term: 'Box', text: `${g.make} ${g.model}, release ${g.release}` },
        { term: 'Managed', text: `${g.user}@${g.address}:${g.port} over ${g.connector}`, mono: true },
        { term: 'Identity', text: g.identity, mono: true },
        { term: 'Inside host', text: g.insideHost ?? 'none set: proofs stop at the gateway itself', mono: g.insideHost !== null },
      ]} />
      <Trouble problem={reading.problem ?? backup.problem} />
    </Section>
    <Section title="Listeners"><ListenerList listeners={g.listeners} /></Section>
    <Section title="Profiles on it">
      {#if profiles.data?.length}<ProfileGrid label="profiles" profiles={profiles.data} />
      {:else if profiles.data}<Empty>No profile leads here yet. Choose a person under <a href="/people">People</a> and issue one for a device.</Empty>{/if}
    </Section>
    {#if session.mayWrite}
      <Section title="What clients call" note="files handed out before keep the old address: a finding names each holder">
        <form onsubmit={(e) => { e.preventDefault(); void set(); }}>
          <Field label="Endpoint" bind:value={endpoint} mono placeholder={g.hosts.join(', ')} hint="Name or address, without the port" />
          <Field label="Inside host" bind:value={insideHost} mono placeholder={g.insideHost ?? ''} hint="Answers echo; proofs rest on it" />
          <Button type="submit" busy={setting.busy} disabled={!endpoint && !insideHost}>Set</Button>
        </form>
        <Trouble problem={setting.problem} />
      </Section>
    {/if}
    <Section title="Backups"><BackupGrid gateway={id} /></Section>
  {/if}
{/if}

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(14rem, 1fr)); gap: var(--gap-3); align-items: start; }
  form :global(button) { margin-top: 1.6rem; justify-self: start; }
</style>
