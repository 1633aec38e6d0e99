<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import { api } from '../lib/api';
  import { PagedList } from '../lib/paged.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import type { Device, Gateway, IssuedMany, Person, Team } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import IssueForm from './IssueForm.svelte';
  import Trouble from './Trouble.svelte';
  /** Issues to one person, to a team or to everyone; who would get what is shown before anything is written. */
  let { issued, closing }: { issued: () => void; closing: () => void } = $props();
  const gateways = new PagedList<Gateway>(() => '/gateways', ['gateway']);
  const people = new PagedList<Person>(() => '/people', ['person']);
  const teams = new Resource(() => api.list<Team>('/teams'), ['person']);
  onMount(() => gateways.start());
  onMount(() => people.start());
  onMount(() => teams.start());
  const ONE = 'person', EVERYONE = 'everyone';
  let whom = $state(ONE);
  let handle = $state('');
  let place = $state('');
  let accounts = $state('no');
  let until = $state('');
  let preview = $state.raw<IssuedMany | null>(null);
  let done = $state.raw<IssuedMany | null>(null);
  const action = new Action();
  const places = $derived(
    gateways.rows.filter((g) => g.identityAccepted).flatMap((g) => g.listeners.filter((l) => !l.gone && l.protocol !== 'tls').map((l) => ({ value: g.name + '/' + l.name, label: `${g.name} ${l.name}` }))),
  );
  const choices = $derived([
    { value: ONE, label: 'One person' },
    ...(teams.data ?? []).map((t) => ({ value: 'team ' + t.name, label: `Team ${t.name}, ${t.people} ${t.people === 1 ? 'person' : 'people'}` })),
    { value: EVERYONE, label: 'Everyone' },
  ]);
  const person = $derived(people.rows.find((p) => p.handle === handle) ?? people.rows[0]);
  const wanted = $derived(whom === ONE ? person?.handle : undefined);
  const owner = new Resource(async () => (wanted ? (await api.get<Person>('/people/' + encodeURIComponent(wanted))).devices : []), []);
  $effect(() => {
    void wanted;
    untrack(() => void owner.reload());
  });
  const devices: Device[] = $derived(owner.data ?? []);
  const order = (dryRun: boolean) => {
    const [gateway, listener] = (place || places[0]?.value || '/').split('/');
    return api.post<IssuedMany>('/profiles/many', {
      gateway, listener, team: whom === EVERYONE ? null : whom.slice('team '.length), makeAccounts: accounts === 'yes', until: until ? new Date(until + 'T23:59:59').toISOString() : null, dryRun,
    });
  };
  const look = () => action.run(async () => { preview = await order(true); done = null; });
  const issue = () => action.run(async () => { done = await order(false); preview = null; issued(); });
  const few = (labels: string[]) => labels.slice(0, 12).join(', ') + (labels.length > 12 ? ` and ${labels.length - 12} more` : '');
</script>

<div class="issue">
  <Choice label="For" bind:value={() => whom, (v) => { whom = v; preview = done = null; }} options={choices} />
  {#if whom === ONE}
    {#if people.hasMore || people.text}<Field label="Search people" bind:value={() => people.text, (t) => people.search(t)} hint="A part of name or handle" />{/if}
    <Choice label="Person" bind:value={handle} options={people.rows.map((p) => ({ value: p.handle, label: p.name }))} />
  {/if}
</div>
{#if whom === ONE}
  {#if person && devices.length > 0}
    {#key person.handle}<IssueForm person={person.handle} {devices} {issued} />{/key}
  {:else if person && !action.busy}<p class="soft"><a href="/people/{person.handle}">{person.name}</a> has no device yet. Add one first.</p>{/if}
{:else}
  <form onsubmit={(e) => { e.preventDefault(); void look(); }}>
    {#if gateways.hasMore || gateways.text}<Field label="Search gateways" bind:value={() => gateways.text, (t) => gateways.search(t)} hint="A part of name or site" />{/if}
    <Choice label="Listener" bind:value={place} options={places} />
    <Choice label="Accounts" bind:value={accounts} options={[{ value: 'no', label: 'Do not create any' }, { value: 'yes', label: 'Create them at the gateway' }]} />
    <Field label="Valid until" type="date" bind:value={until} hint="Empty: as granted" />
    <div class="end"><Button type="submit" busy={action.busy} disabled={places.length === 0}>Preview</Button></div>
  </form>
  {#if preview}
    {#if preview.issued.length}
      <p>{preview.issued.length} {preview.issued.length === 1 ? 'profile is' : 'profiles are'} issued in one change of the gateway, after a backup: <span class="mono small">{few(preview.issued)}</span>. <Button look="main" busy={action.busy} onclick={issue}>Issue {preview.issued.length}</Button></p>
    {:else}<p>Every device already has a profile there.</p>{/if}
    {#if preview.present.length}<p class="soft small">{preview.present.length} {preview.present.length === 1 ? 'device has' : 'devices have'} one already.</p>{/if}
  {/if}
  {#if done}<p role="status">{done.issued.length} {done.issued.length === 1 ? 'profile is' : 'profiles are'} being written.</p>{/if}
{/if}
<Trouble problem={action.problem ?? gateways.problem} />
<div><Button onclick={closing}>Close</Button></div>

<style>
  .issue, form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  .end { align-self: end; padding-bottom: 1.35rem; }
</style>
