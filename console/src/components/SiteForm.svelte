<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Site } from '../lib/types';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import TextArea from './TextArea.svelte';
  import Trouble from './Trouble.svelte';
  /** A place of the company with its networks: a new one, or one there is. */
  let { site = null, closing, saved }: { site?: Site | null; closing: () => void; saved: () => void } = $props();
  // svelte-ignore state_referenced_locally
  const before = site;
  let name = $state(before?.name ?? '');
  let title = $state(before?.title ?? '');
  let timeZone = $state(before?.timeZone ?? Intl.DateTimeFormat().resolvedOptions().timeZone);
  let domain = $state('');
  let text = $state(Object.entries(before?.networks ?? {}).map(([n, c]) => `${n} ${c}`).join('\n'));
  const action = new Action();
  const networks = (): Record<string, string> =>
    Object.fromEntries(text.split('\n').map((l) => l.trim()).filter(Boolean).map((l) => {
      const at = l.search(/[\s=]/);
      return at < 0 ? ['office', l] : [l.slice(0, at), l.slice(at + 1).trim()];
    }));
  const save = () => action.run(async () => {
    const now = networks();
    if (before) {
      const drop = Object.keys(before.networks).filter((n) => !(n in now));
      await api.patch('/sites/' + before.id, { name, title, timeZone, networks: now, drop }, before.version);
    } else await api.post('/sites', { name, title: title || null, domain: domain || null, timeZone: timeZone || null, networks: now });
    saved();
  });
</script>

<form onsubmit={(e) => { e.preventDefault(); void save(); }}>
  <Field label="Name" bind:value={name} required hint="Short, such as pier-two" />
  <Field label="Title" bind:value={title} hint="As people call the place" />
  <Field label="Time zone" bind:value={timeZone} />
  {#if !before}<Field label="Routing domain" bind:value={domain} hint="Only where its networks cannot meet those of other sites" />{/if}
  <TextArea label="Networks" bind:value={text} rows={3} hint="One on each line: a name and its addresses, such as office 10.20.4.0/24" />
  <div class="end"><Button onclick={closing}>Cancel</Button><Button type="submit" look="main" busy={action.busy}>{before ? 'Save' : 'Add'}</Button></div>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3) var(--gap-4); align-items: start; padding: var(--gap-4); background: var(--sheet); border: 1px solid var(--line); }
  .end { grid-column: 1 / -1; display: flex; gap: var(--gap-2); justify-content: end; }
</style>
