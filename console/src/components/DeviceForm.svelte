<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Device } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import Trouble from './Trouble.svelte';
  /** A device of a person: a new one, or one there is. */
  let { person, device = null, saved, closing }: { person: string; device?: Device | null; saved: () => void; closing?: () => void } = $props();
  // svelte-ignore state_referenced_locally
  const before = device;
  const kinds = ['phone', 'laptop', 'tablet', 'travel-router', 'server'].map((k) => ({ value: k, label: k }));
  let name = $state(before?.name ?? '');
  let kind = $state(before?.kind ?? 'phone');
  let system = $state(before?.system ?? '');
  const action = new Action();
  const save = () => action.run(async () => {
    const path = `/people/${encodeURIComponent(person)}/devices`;
    if (before) await api.post(`${path}/${encodeURIComponent(before.name)}`, { name, kind, system });
    else await api.post(path, { name, kind, system: system || null });
    if (!before) name = system = '';
    saved();
  });
</script>

<form onsubmit={(e) => { e.preventDefault(); void save(); }}>
  <Field label="Name" bind:value={name} required hint="phone, laptop, bridge-tablet" />
  <Choice label="Kind" bind:value={kind} options={kinds} />
  <Field label="System" bind:value={system} hint="Operating system and release" />
  <p>{#if closing}<Button onclick={closing}>Cancel</Button>{/if}<Button type="submit" busy={action.busy}>{before ? 'Save' : 'Add device'}</Button></p>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(11rem, 1fr)); gap: var(--gap-3); align-items: start; }
  p { margin: 1.6rem 0 0; display: flex; gap: var(--gap-2); }
</style>
