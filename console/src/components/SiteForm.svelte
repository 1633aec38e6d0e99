<script lang="ts">
  import Button from '../components/Button.svelte';
  import Field from '../components/Field.svelte';
  import TextArea from '../components/TextArea.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  /** A place of the company with its networks. */
  let { closing, added }: { closing: () => void; added: () => void } = $props();
  let name = $state('');
  let title = $state('');
  let timeZone = $state(Intl.DateTimeFormat().resolvedOptions().timeZone);
  let domain = $state('');
  let text = $state('');
  const action = new Action();
  const networks = () =>
    Object.fromEntries(text.split('\n').map((l) => l.trim()).filter(Boolean).map((l) => {
      const at = l.search(/[\s=]/);
      return at < 0 ? ['office', l] : [l.slice(0, at), l.slice(at + 1).trim()];
    }));
  const add = () => action.run(async () => {
    await api.post('/sites', { name, title: title || null, domain: domain || null, timeZone: timeZone || null, networks: networks() });
    added();
  });
</script>

<form onsubmit={(e) => { e.preventDefault(); void add(); }}>
  <Field label="Name" bind:value={name} required hint="Short, such as pier-two" />
  <Field label="Title" bind:value={title} hint="As people call the place" />
  <Field label="Time zone" bind:value={timeZone} />
  <Field label="Routing domain" bind:value={domain} hint="Only where its networks cannot meet those of other sites" />
  <TextArea label="Networks" bind:value={text} rows={3} hint="One on each line: a name and its addresses, such as office 10.20.4.0/24" />
  <div class="end"><Button onclick={closing}>Not now</Button><Button type="submit" look="main" busy={action.busy}>Add</Button></div>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3) var(--gap-4); align-items: start; padding: var(--gap-4); background: var(--sheet); border: 1px solid var(--line); }
  .end { grid-column: 1 / -1; display: flex; gap: var(--gap-2); justify-content: end; }
</style>
