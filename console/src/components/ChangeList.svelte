<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { DeviceChange } from '../lib/types';
  import Button from './Button.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  import When from './When.svelte';
  /** Changes of devices; temporary ones are kept or rolled back from here. */
  let { changes, changed, withGateway = false }: { changes: DeviceChange[]; changed: () => void; withGateway?: boolean } = $props();
  const acting = new Action();
  const act = (c: DeviceChange, what: string) => acting.run(async () => { await api.post(`/changes/${c.id}/${what}`); changed(); });
</script>

<Trouble problem={acting.problem} />
<ul>
  {#each changes.slice(0, 20) as c (c.id)}
    <li>
      <State state={c.state} word={c.state === 'active' ? 'temporary' : c.state === 'by-hand' ? 'to be done by hand' : c.state} />
      <span>{withGateway ? `${c.gateway}: ` : ''}{c.words} <span class="soft small"><When at={c.orderedAt} />{c.note ? `, ${c.note}` : ''}{#if c.state === 'active' && c.revertAt}; ends {new Date(c.revertAt).toLocaleTimeString()}{/if}{#if c.usersLeft.length > 0}; {c.removeWhenUnused} is still held by {c.usersLeft.join(', ')}{/if}</span></span>
      {#if c.state === 'active' && session.mayWrite}<span class="do"><Button busy={acting.busy} onclick={() => act(c, 'keep')}>Keep</Button><Button busy={acting.busy} onclick={() => act(c, 'rollback')}>Roll back now</Button></span>{/if}
    </li>
  {/each}
</ul>

<style>
  ul { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-2); }
  li { display: grid; grid-template-columns: 9rem minmax(0, 1fr) auto; gap: var(--gap-3); align-items: baseline; overflow-wrap: anywhere; }
  .do { display: flex; gap: var(--gap-2); }
  @media (max-width: 560px) { li { grid-template-columns: 1fr; } }
</style>
