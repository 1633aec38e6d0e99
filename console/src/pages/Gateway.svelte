<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Columns from '../components/Columns.svelte';
  import CertifyForm from '../components/CertifyForm.svelte';
  import EnterListener from '../components/EnterListener.svelte';
  import Empty from '../components/Empty.svelte';
  import Facts from '../components/Facts.svelte';
  import Field from '../components/Field.svelte';
  import GatewayForm from '../components/GatewayForm.svelte';
  import GatewayLog from '../components/GatewayLog.svelte';
  import ListenerList from '../components/ListenerList.svelte';
  import LoadFiles from '../components/LoadFiles.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import Section from '../components/Section.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import { counted, worst } from '../lib/findings';
  import { PagedList } from '../lib/paged.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { router } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { DeviceChange, DeviceFacts, Finding, Gateway, Profile } from '../lib/types';
  import ChangeList from '../components/ChangeList.svelte';
  import ExplainedListener from '../components/ExplainedListener.svelte';
  import FindingList from '../components/FindingList.svelte';
  import BackupGrid from '../components/BackupGrid.svelte';
  import HandWork from '../components/HandWork.svelte';
  import RecogniseDevice from '../components/RecogniseDevice.svelte';
  import RequestedFiles from '../components/RequestedFiles.svelte';
  import Remove from '../components/Remove.svelte';
  import SignInForm from '../components/SignInForm.svelte';

  let { id }: { id: string } = $props();
  const gateway = new Resource(() => api.get<Gateway>('/gateways/' + id), ['gateway', 'backup', 'profile', 'finding', 'session']);
  const profiles = new PagedList<Profile>(() => '/profiles?state=living&gateway=' + id, ['profile', 'session', 'trial', 'handout']);
  const facts = new Resource(() => api.get<DeviceFacts>(`/gateways/${id}/facts`), ['gateway', 'backup']);
  const changes = new Resource(() => api.list<DeviceChange>(`/gateways/${id}/changes`), ['gateway']);
  const findings = new PagedList<Finding>(() => '/findings?gateway=' + id, ['finding'], false);
  onMount(() => gateway.start());
  onMount(() => facts.start());
  onMount(() => changes.start());
  onMount(() => findings.start());
  onMount(() => profiles.start());
  let compared = $state('');
  let recording = $state(false);
  const g = $derived(gateway.data);
  const byHand = $derived(g?.connector === 'manual');
  const own = $derived(findings.rows);
  const open = $derived(facts.data?.drift ?? []);
  const noting = new Action();
  const reading = new Action();
  const backup = new Action();
  const applying = new Action();
</script>

<Trouble problem={gateway.problem} />
{#if g}
  <h1>{g.name} <span class="soft">{g.kind} at {g.site}</span></h1>
  {#snippet condition()}<State state={g.readProblem ? 'does not answer' : g.readAt ? 'ok' : 'not read yet'} word={g.readProblem ?? undefined} /> <span class="small soft">read <When at={g.readAt} none="never" /></span>{/snippet}
  {#snippet newest()}{#if g.newestBackup}no. {g.newestBackup.number}, <When at={g.newestBackup.takenAt} />{:else}none{/if}{/snippet}
  {#snippet attention()}
    {#if !counted(g.findings)}<State state="ok" word="nothing needs attention" />
    {:else}<a href="/gateways/findings?gateway={encodeURIComponent(g.name)}"><State state={worst(g.findings)} word={counted(g.findings)} /></a>{/if}
  {/snippet}
  {#if !g.identityAccepted}
    <Section title="Accept the identity">
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
          {#if byHand}<Button onclick={() => router.go('/gateways/import')}>Import client files</Button>
          {:else}<Button busy={reading.busy} onclick={() => reading.run(async () => { await api.post(`/gateways/${id}/read`); })}>Read again</Button>{/if}
          {#if g.capabilities.includes('export')}<Button onclick={() => router.go(`/gateways/${id}/files`)}>Import client files</Button>{/if}
          {#if (g.connector === 'manual' || g.readAt)}<Button onclick={() => router.go('/gateways/changes?gateway=' + encodeURIComponent(g.name))}>Change settings</Button>{/if}
          {#if g.connector !== 'file' && !byHand}<Button busy={applying.busy} onclick={() => applying.run(async () => { await api.post(`/gateways/${id}/apply`); })}>Write the records</Button>{/if}
          {#if !byHand}<Button busy={backup.busy} onclick={() => backup.run(async () => { await api.post(`/gateways/${id}/backups`, {}); })}>Back up now</Button>{/if}
        {/if}
      {/snippet}
      <Facts facts={[
        { term: 'State', value: condition },
        { term: 'Findings', value: attention },
        { term: 'Listeners', text: g.listeners.filter((l) => !l.gone).map((l) => `${l.name}, ${l.protocol}${l.active ? '' : ' (not active)'}`).join('; ') || 'none' },
        { term: 'People on it', text: `${g.use.people} with ${g.use.profiles} ${g.use.profiles === 1 ? 'profile' : 'profiles'}, ${g.use.connected} connected now` },
        { term: 'Newest backup', value: newest },
        ...(byHand ? [] : [{ term: 'Device', text: `${g.make} ${g.model}, release ${g.release}` }]),
        ...(byHand ? [{ term: 'Managed', text: 'by hand: what Tender wants there becomes an instruction' }] : [
          { term: 'Managed', text: `${g.user}@${g.address}:${g.port} over ${g.connector}`, mono: true },
          { term: 'Identity', text: g.identity, mono: true }]),
        { term: 'Uplink', text: g.uplinks.length > 0 ? g.uplinks.join('; ') : (facts.data?.uplinks ?? []).join('; ') || 'not recorded' },
        { term: 'Inside host', text: g.insideHost ?? 'none set: proofs stop at the gateway itself', mono: g.insideHost !== null },
      ]} />
      <Trouble problem={reading.problem ?? backup.problem ?? applying.problem} />
    </Section>
    <Columns>
      {#snippet main()}
        {#if g.use.toDo > 0}<HandWork gateway={g} changed={() => { void gateway.reload(); void facts.reload(); void changes.reload(); }} />{/if}
        {#if own.length > 0}<Section title="Needs attention" note="{findings.hasMore ? `the first ${own.length}` : own.length} {own.length === 1 ? 'finding' : 'findings'}"><FindingList list={findings} work /></Section>{/if}
        {#if open.length > 0}
          <Section title="Changed at the device" note="not made through Tender">
            {#snippet actions()}{#if session.mayWrite}<Button busy={noting.busy} onclick={() => noting.run(async () => { await api.post(`/gateways/${id}/drift/note`); await facts.reload(); })}>Take note</Button>{/if}{/snippet}
            <table>
              <thead><tr><th scope="col">What</th><th scope="col">Was</th><th scope="col">Is</th><th scope="col">Seen</th></tr></thead>
              <tbody>{#each open as d (d.field + d.was + d.becomes)}<tr><td>{d.field}</td><td class="mono">{d.was || 'not there'}</td><td class="mono">{d.becomes || 'gone'}</td><td><When at={d.seenAt} /></td></tr>{/each}</tbody>
            </table>
          </Section>
        {/if}
        <Section title="Listeners">
          <ListenerList listeners={g.listeners} {byHand} />
          {#each facts.data?.listeners ?? [] as l (l.name)}<ExplainedListener gateway={id} listener={l} mayChange={g.capabilities.includes('change')} />{/each}
          {#if byHand && session.mayWrite}<EnterListener gateway={g} saved={() => { void gateway.reload(); void facts.reload(); }} />{/if}
        </Section>
        {#if byHand}<RequestedFiles gateway={g} />{/if}
        <Section title="Profiles on it">
          {#if profiles.rows.length || profiles.text}<ProfileGrid label="profiles" list={profiles} />
          {:else if profiles.ready}<Empty>No profile connects to this gateway yet. Choose a person under <a href="/people">People</a> and issue one for a device.</Empty>{/if}
        </Section>
      {/snippet}
      {#snippet side()}
        {#if facts.data && facts.data.rules.length + facts.data.forwards.length + facts.data.networks.length > 0}
          <Section title="Firewall, port forwards and networks">
            <div class="lists">
              {#each [['Filter, first match decides', facts.data.rules], ['Forwards', facts.data.forwards], ['Networks', facts.data.networks], ['Interfaces', facts.data.interfaces], ['Accounts', facts.data.accounts]] as [title, lines] (title)}
                {#if lines.length > 0}<div><h3>{title}</h3><ul>{#each lines as line (line)}<li class="mono small">{line}</li>{/each}</ul></div>{/if}
              {/each}
            </div>
          </Section>
        {/if}
        {#if !byHand}<Section title="Backups"><BackupGrid gateway={id} /></Section>{/if}
        {#if session.mayWrite && g.capabilities.includes('change')}<CertifyForm gateway={g} />{/if}
        {#if session.mayWrite && g.connector !== 'file' && !byHand}<GatewayLog gateway={id} />{/if}
        {#if changes.data?.length}<Section title="Changes through Tender"><ChangeList changes={changes.data} changed={() => changes.reload()} /></Section>{/if}
        {#if session.mayWrite}
          <Section title="Recorded by hand" note="name, endpoint, uplink and more">
            {#snippet actions()}{#if !recording}<Button onclick={() => (recording = true)}>Change</Button>{/if}{/snippet}
            {#if recording}{#key g.version}<GatewayForm gateway={g} closing={() => (recording = false)} saved={() => { recording = false; void gateway.reload(); }} />{/key}
            {:else}<p class="soft small">Files that were handed out before keep the old values; findings name everybody affected.</p>{/if}
          </Section>
        {/if}
      {/snippet}
    </Columns>
    {#if session.mayWrite}
      {#if g.connector === 'file'}<LoadFiles gateway={g} loaded={() => void gateway.reload()} />
      {:else if !byHand}
        {#if g.connector === 'ssh'}<RecogniseDevice gateway={g} saved={() => void gateway.reload()} />{/if}
        <Section title="How Tender signs in" note="a change is tried before it is kept">
          {#key g.version}<SignInForm gateway={g} saved={() => void gateway.reload()} />{/key}
        </Section>
      {/if}
      <Section title="Remove this gateway"><div><Remove path={'/gateways/' + id} removed={() => router.go('/gateways')} /></div></Section>
    {/if}
  {/if}
{/if}

<style>
  table { border-collapse: collapse; width: 100%; font-size: var(--size-small); }
  th, td { text-align: left; padding: 2px var(--gap-3) 2px 0; border-bottom: 1px solid var(--line); vertical-align: top; overflow-wrap: anywhere; }
  .lists { display: grid; grid-template-columns: repeat(auto-fit, minmax(min(22rem, 100%), 1fr)); gap: var(--gap-4); }
  .lists h3 { font-size: var(--size-small); margin: 0 0 var(--gap-1); }
  .lists ul { list-style: none; margin: 0; padding: 0; overflow-wrap: anywhere; }
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(14rem, 1fr)); gap: var(--gap-3); align-items: start; }
  form :global(button) { margin-top: 1.6rem; justify-self: start; }
</style>
