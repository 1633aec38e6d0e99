<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Language, Person } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import Trouble from './Trouble.svelte';
  /** The details of a person: of a new one, or of one there is. */
  let { person = null, saved }: { person?: Person | null; saved: (handle: string) => void } = $props();
  // svelte-ignore state_referenced_locally
  const before = person;
  let handle = $state(before?.handle ?? '');
  let name = $state(before?.name ?? '');
  let team = $state(before?.team ?? '');
  let mail = $state(before?.mail ?? '');
  let language = $state(before?.language ?? '');
  let languages = $state.raw([{ value: '', label: "their browser's" }]);
  onMount(async () => {
    languages = [...languages, ...(await api.list<Language>('/languages')).map((l) => ({ value: l.code, label: l.name }))];
  });
  const action = new Action();
  const save = () => action.run(async () => {
    if (person) await api.patch('/people/' + encodeURIComponent(person.handle), { handle, name, mail, team, language }, person.version);
    else await api.post('/people', { handle, name, mail: mail || null, team: team || null, language: language || null });
    saved(handle);
  });
</script>

<form onsubmit={(e) => { e.preventDefault(); void save(); }}>
  <Field label="Handle" bind:value={handle} required hint={person ? 'Labels of profiles that were issued stay' : 'Short; used in labels and file names'} />
  <Field label="Name" bind:value={name} required />
  <Field label="Team" bind:value={team} />
  <Field label="Mail" bind:value={mail} />
  <Choice label="Language" bind:value={language} options={languages} />
  <Button type="submit" look={person ? undefined : 'main'} busy={action.busy}>{person ? 'Save' : 'Add'}</Button>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  form :global(button) { margin-top: 1.6rem; justify-self: start; }
</style>
