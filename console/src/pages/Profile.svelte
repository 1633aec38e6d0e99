<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Facts from '../components/Facts.svelte';
  import Grid from '../components/Grid.svelte';
  import HandOut from '../components/HandOut.svelte';
  import ProfileInstruction from '../components/ProfileInstruction.svelte';
  import Overlay from '../components/Overlay.svelte';
  import RevisionInside from '../components/RevisionInside.svelte';
  import Section from '../components/Section.svelte';
  import State from '../components/State.svelte';
  import TrialGrid from '../components/TrialGrid.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api, save } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import { router } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { Profile, Revision, Trial } from '../lib/types';

  let { id }: { id: string } = $props();
  const profile = new Resource(() => api.get<Profile>('/profiles/' + id), ['profile', 'handout', 'trial', 'session']);
  onMount(() => profile.start());
  let asking = $state<'' | 'hand out' | 'withdraw'>('');
  const action = new Action();
  const prove = () => action.run(async () => router.go('/proof/' + (await api.post<Trial>('/trials', { profile: p!.label })).id));
  const renew = () => action.run(async () => { await api.post(`/profiles/${id}/renew`); await profile.reload(); });
  const settings = () => action.run(async () => {
    const file = await api.download(`/profiles/${id}/settings?form=pdf`);
    save(file.name, file.blob);
  });
  let shownDone = $state(false);
  const withdraw = () => action.run(async () => { await api.post(`/profiles/${id}/withdraw`); asking = ''; await profile.reload(); });
  const p = $derived(profile.data);
  const named = $derived(p && p.identity.kind !== 'key' ? p.identity.value : '');
  const columns = [
    { key: 'number', label: 'Rev.', text: (r: Revision) => String(r.number), kind: 'num' as const },
    { key: 'file', label: 'File', text: (r: Revision) => r.fileName, kind: 'mono' as const },
    { key: 'digest', label: 'SHA-256', text: (r: Revision) => r.digest, kind: 'mono' as const },
    { key: 'made', label: 'Created', text: (r: Revision) => r.createdAt },
  ];
</script>

<Trouble problem={profile.problem} />
{#if p}
  <h1>{p.label}</h1>
  {#snippet condition()}<State state={p.state} />{#if p.problem} <span class="soft">{p.problem}</span>{/if}{/snippet}
  {#snippet who()}{#if p.person}<a href="/people/{p.person}">{p.personName}</a>, {p.device}{/if}{/snippet}
  {#snippet proof()}<State state={p.proof.state} /> <When at={p.proof.at} /> <span class="soft">{p.proof.restsOn}</span>{/snippet}
  {#snippet handout()}<State state={p.handout ?? 'not handed out'} />{/snippet}
  {#snippet heard()}{#if p.connected}<State state="connected" />{' '}{/if}<When at={p.lastHeard} none="never" />{/snippet}
  <Section title="What it is">
    {#snippet actions()}
      {#if session.mayWrite && p.state === 'ready'}
        <Button look="main" onclick={() => (asking = 'hand out')}>Hand out</Button>
        {#if p.custody === 'held' || p.custody === 'in file'}<Button busy={action.busy} onclick={prove}>Run trial</Button>{/if}
        <Button busy={action.busy} onclick={renew}>New revision</Button>
        <Button busy={action.busy} onclick={settings}>Settings sheet</Button>
      {/if}
      {#if session.mayWrite && ['ready', 'waiting', 'failed'].includes(p.state)}
        <Button look="harm" onclick={() => (asking = 'withdraw')}>Withdraw</Button>
      {/if}
    {/snippet}
    <Facts facts={[
      { term: 'For', value: who }, { term: 'State', value: condition }, { term: 'Handout', value: handout }, { term: 'Proof', value: proof }, { term: 'Last heard', value: heard },
      { term: 'Connects to', text: `${p.gateway} ${p.listener}` },
      { term: 'Tunnel address', text: p.addresses.join(', ') || 'given by the server', mono: p.addresses.length > 0 },
      { term: 'Reach', text: p.fullTunnel ? 'everything, 0.0.0.0/0 and ::/0' : p.reach.join(', ') || 'what the server pushes', mono: p.fullTunnel || p.reach.length > 0 },
      { term: 'DNS servers', text: p.dns.join(', ') || 'the device keeps its own', mono: p.dns.length > 0 },
      named ? { term: 'Signs in as', text: named, mono: true } : { term: 'Public key', text: p.identity.value, mono: true },
      { term: p.custody === 'in file' ? 'Password' : 'Private key', text: p.custody === 'in file' ? 'of an account of the gateway, in the file that it made' : p.custody === 'held' ? 'held by Tender, encrypted' : p.custody === 'device only' ? 'made on the device, never here: proven there, or by a session seen' : 'erased' },
    ]} />
    <Trouble problem={action.problem} />
  </Section>
  {#if p.instruction}
    <Section title="To be done by hand"><ProfileInstruction profile={id} changed={(done) => { shownDone = done; void profile.reload(); }} /></Section>
  {:else if shownDone}<p role="status"><State state="ok" word="A trial shows that it is done" /></p>{/if}
  {#if p.revisions.length}<Section title="Content"><RevisionInside profile={id} revisions={p.revisions} /></Section>{/if}
  <Section title="Trials"><TrialGrid profile={id} /></Section>
  <Section title="Revisions" note="a revision never changes"><Grid label="revisions" rows={p.revisions} {columns} cell={revision} /></Section>
  {#if asking === 'hand out'}<HandOut profile={p.label} id={p.id} closing={() => { asking = ''; void profile.reload(); }} />{/if}
  {#if asking === 'withdraw'}
    <Overlay title="Withdraw {p.label}?" closing={() => (asking = '')}>
      <p>{p.personName ?? 'Whoever holds it'} cannot connect with it any more{p.connected ? ', and is cut off now' : ''}. Its keys are erased, open links end, and its peer leaves {p.gateway} after a backup. This cannot be taken back; a new profile can be issued.</p>
      <div class="end"><Button onclick={() => (asking = '')}>Cancel</Button><Button look="harm" busy={action.busy} onclick={withdraw}>Withdraw</Button></div>
    </Overlay>
  {/if}
{/if}
{#snippet revision(r: Revision, column: { key: string; text: (r: Revision) => string })}{#if column.key === 'made'}<When at={r.createdAt} />{:else}{column.text(r)}{/if}{/snippet}

<style>
  .end { display: flex; justify-content: end; gap: var(--gap-2); }
</style>
