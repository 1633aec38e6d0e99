<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { FileRequest } from '../lib/types';
  import Button from './Button.svelte';
  import Trouble from './Trouble.svelte';
  import When from './When.svelte';
  /** Client files that somebody has to make at a gateway. */
  let { requests, changed }: { requests: FileRequest[]; changed: () => void } = $props();
  const action = new Action();
  const cancel = (r: FileRequest) => action.run(async () => { await api.remove('/file-requests/' + r.id); changed(); });
</script>

<div class="wide">
  <table>
    <thead><tr><th scope="col">Person</th><th scope="col">Device</th><th scope="col">User there</th><th scope="col">Why</th><th scope="col">Requested</th><th scope="col"><span class="visually-hidden">Actions</span></th></tr></thead>
    <tbody>
      {#each requests as r (r.id)}
        <tr>
          <td><a href="/people?text={encodeURIComponent(r.person)}">{r.person}</a></td><td>{r.device}</td><td class="mono">{r.user}</td>
          <td>{#if r.reason === 'renewal' && r.ends}certificate ends <When at={r.ends} />{:else if r.replaces}replaces {r.replaces}{:else}has no file{/if}</td>
          <td><When at={r.askedAt} /></td>
          <td>{#if session.mayWrite}<Button look="plain" busy={action.busy} aria-label="Cancel the request for {r.person}, {r.device}" onclick={() => void cancel(r)}>Cancel</Button>{/if}</td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>
<Trouble problem={action.problem} />

<style>
  .wide { overflow-x: auto; }
  table { border-collapse: collapse; width: 100%; font-size: var(--size-small); }
  th, td { text-align: left; padding: 2px var(--gap-3) 2px 0; border-bottom: 1px solid var(--line); vertical-align: baseline; }
</style>
