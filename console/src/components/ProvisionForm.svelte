<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import { api, save } from '../lib/api';
  import { exact } from '../lib/format';
  import { PagedList } from '../lib/paged.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import type { Device, Gateway, Person, ProvisionsMade, Team } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import Overlay from './Overlay.svelte';
  import Trouble from './Trouble.svelte';
  /** Makes a provisioning file for a device or a team, and shows it, the code and the signer once. */
  let { person, devices = [], made, closing }: { person?: string; devices?: Device[]; made: () => void; closing: () => void } = $props();
  const NONE = '', TEAM = 'team ';
  const gateways = new PagedList<Gateway>(() => '/gateways', []);
  const people = new PagedList<Person>(() => '/people', []);
  const teams = new Resource(() => api.list<Team>('/teams'), []);
  onMount(() => gateways.start());
  // svelte-ignore state_referenced_locally
  if (!person) {
    onMount(() => people.start());
    onMount(() => teams.start());
  }
  // svelte-ignore state_referenced_locally
  let whom = $state(person ?? NONE);
  let device = $state('');
  let first = $state(NONE);
  let second = $state(NONE);
  let days = $state('7');
  let code = $state(false);
  let done = $state.raw<ProvisionsMade | null>(null);
  let kept = $state(false);
  const action = new Action();
  const isTeam = $derived(whom.startsWith(TEAM));
  const choices = $derived([
    { value: NONE, label: 'Choose' },
    ...(teams.data ?? []).map((t) => ({ value: TEAM + t.name, label: `Team ${t.name}, each by a code of their own` })),
    ...people.rows.map((p) => ({ value: p.handle, label: p.name })),
  ]);
  const places = $derived(gateways.rows.flatMap((g) => g.listeners.filter((l) => !l.gone && l.protocol !== 'tls').map((l) => ({ value: g.name + '/' + l.name, label: `${g.name} ${l.name}` }))));
  const owner = new Resource(async () => (whom && !isTeam && !person ? (await api.get<Person>('/people/' + encodeURIComponent(whom))).devices : []), []);
  $effect(() => {
    void whom;
    untrack(() => void owner.reload());
  });
  const owned = $derived(person ? devices : (owner.data ?? []));
  const chosen = $derived(device || owned[0]?.name || '');
  const make = () => action.run(async () => {
    done = await api.post<ProvisionsMade>('/provisions', {
      devices: isTeam ? [] : [`${whom}/${chosen}`], team: isTeam ? whom.slice(TEAM.length) : null, gateways: [first, second].filter((g) => g), services: [], days: Number(days), code, dryRun: false,
    });
    made();
  });
  const file = $derived(done?.files[0]);
  const toFile = () => { if (file?.file) save(file.fileName, new Blob([file.file], { type: 'application/octet-stream' })); };
</script>

<Overlay title={done ? 'The provisioning file' : 'Make a provisioning file'} closing={done ? null : closing}>
  {#if !done}
    <p class="soft">A device joins with it, gets its profiles and keeps them current by itself.</p>
    <form onsubmit={(e) => { e.preventDefault(); void make(); }}>
      {#if !person}<Choice label="For" bind:value={() => whom, (v) => { whom = v; device = ''; }} options={choices} />{/if}
      {#if whom && !isTeam}<Choice label="Device" bind:value={device} options={owned.map((d) => ({ value: d.name, label: d.name }))} />{/if}
      <Choice label="Gateway" bind:value={first} options={[{ value: NONE, label: isTeam ? 'Choose' : 'Where it has profiles' }, ...places]} />
      {#if first}<Choice label="If that one is down" bind:value={second} options={[{ value: NONE, label: 'None' }, ...places.filter((p) => p.value !== first)]} />{/if}
      <Field label="Can be used for (days)" type="number" min="1" max="90" bind:value={days} />
      {#if !isTeam}<label><input type="checkbox" bind:checked={code} /> Ask for a code as well, told another way</label>{/if}
      <div class="end"><Button onclick={closing}>Close</Button><Button type="submit" look="main" busy={action.busy} disabled={!whom || (!isTeam && !chosen)}>Make the file</Button></div>
    </form>
  {:else if file}
    <p>For {file.device ?? `team ${file.team}`}, until {exact(file.ends)}. The file and the codes are shown only once.</p>
    <div class="line"><span class="small soft">File, by mail or chat</span><code>{file.fileName}</code><Button onclick={toFile}>Save</Button></div>
    {#each Object.entries(file.codes) as [handle, word] (handle)}<div class="line"><span class="small soft">Code for {handle}, by telephone or in person</span><code>{word}</code></div>{/each}
    <div class="line"><span class="small soft">Signer, by telephone or in person: it is compared when the device joins</span><code>{done.signer}</code></div>
    <p class="small">On the device: <code>tender device join {file.fileName}</code></p>
    {#each done.notes as note (note)}<p class="small soft">{note}</p>{/each}
    <label><input type="checkbox" bind:checked={kept} /> I have saved or sent the file{Object.keys(file.codes).length ? ' and the codes' : ''}</label>
    <div class="end"><Button look="main" disabled={!kept} onclick={closing}>Done</Button></div>
  {/if}
  <Trouble problem={action.problem ?? owner.problem ?? gateways.problem} />
</Overlay>

<style>
  form { display: grid; gap: var(--gap-3); }
  .end { display: flex; gap: var(--gap-2); justify-content: end; }
  .line { display: grid; grid-template-columns: 1fr auto; gap: var(--gap-1) var(--gap-3); align-items: center; }
  .line span { grid-column: 1 / -1; }
  code { background: var(--sunk); padding: var(--gap-1) var(--gap-2); overflow-wrap: anywhere; }
</style>
