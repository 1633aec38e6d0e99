<script lang="ts">
  import Button from '../components/Button.svelte';
  import Choice from '../components/Choice.svelte';
  import Field from '../components/Field.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import { router } from '../lib/router.svelte';
  import type { Gateway, Site } from '../lib/types';

  let { sites, closing }: { sites: Site[]; closing: () => void } = $props();
  let name = $state('');
  let site = $state('');
  let address = $state('');
  let port = $state('22');
  let user = $state('');
  let key = $state('');
  const action = new Action();
  const id = $props.id();
  const add = () => action.run(async () => {
    const added = await api.post<Gateway>('/gateways', { name, site: site || sites[0]?.name, address, port: Number(port), user, key });
    key = '';
    router.go('/office/' + added.id);
  });
</script>

<form onsubmit={(e) => { e.preventDefault(); void add(); }}>
  <Field label="Name" bind:value={name} required hint="Short: it stands in labels and file names" />
  <Choice label="Site" bind:value={site} options={sites.map((s) => ({ value: s.name, label: s.title }))} />
  <Field label="Managed at" bind:value={address} mono required hint="Name or address" />
  <Field label="SSH port" type="number" min="1" max="65535" bind:value={port} />
  <Field label="SSH user" bind:value={user} required />
  <div class="key">
    <label for={id}>Private SSH key</label>
    <textarea {id} bind:value={key} rows="4" required spellcheck="false" autocomplete="off"></textarea>
    <span class="small soft">Kept encrypted, used for this device only. Next its host key is shown, to be compared on the device.</span>
  </div>
  <div class="end"><Button onclick={closing}>Not now</Button><Button type="submit" look="main" busy={action.busy}>Show its identity</Button></div>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3) var(--gap-4); align-items: start; padding: var(--gap-4); background: var(--sheet); border: 1px solid var(--line); }
  .key { grid-column: 1 / -1; display: grid; gap: var(--gap-1); }
  label { font-size: var(--size-small); font-weight: 600; }
  textarea { font: 0.85rem/1.4 var(--mono); border: 1px solid var(--line-strong); background: var(--ground); color: var(--ink); border-radius: var(--radius); }
  .end { grid-column: 1 / -1; display: flex; gap: var(--gap-2); justify-content: end; }
</style>
