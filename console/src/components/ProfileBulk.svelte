<script lang="ts">
  import { api, CallProblem } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Profile } from '../lib/types';
  import Button from './Button.svelte';
  import HandOutMany from './HandOutMany.svelte';
  import Overlay from './Overlay.svelte';
  import Trouble from './Trouble.svelte';
  /** What can be done with several profiles at once: one after the other, and what failed is named with its reason. */
  let { profiles, done }: { profiles: Profile[]; done: () => void } = $props();
  let asking = $state<'' | 'hand out' | 'withdraw'>('');
  let at = $state(0);
  let failed = $state.raw<string[]>([]);
  let words = $state('');
  const action = new Action();
  const ready = $derived(profiles.filter((p) => p.state === 'ready'));
  const tried = $derived(ready.filter((p) => p.custody === 'held' || p.custody === 'in file'));
  const ended = $derived(profiles.filter((p) => ['ready', 'waiting', 'failed'].includes(p.state)));

  const each = (all: Profile[], past: string, call: (p: Profile) => Promise<unknown>) => action.run(async () => {
    at = 0;
    failed = [];
    words = '';
    for (const p of all) {
      try {
        await call(p);
      } catch (e) {
        if (!(e instanceof CallProblem)) throw e;
        failed = [...failed, `${p.label}: ${e.problem.detail}`];
      }
      at++;
    }
    words = `${all.length - failed.length} ${past}${failed.length ? `, ${failed.length} failed` : ''}.`;
    asking = '';
    done();
  });
  const prove = () => each(tried, 'being tried', (p) => api.post('/trials', { profile: p.label }));
  const renew = () => each(ready, 'renewed', (p) => api.post(`/profiles/${p.id}/renew`, {}));
  const withdraw = () => each(ended, 'being withdrawn', (p) => api.post(`/profiles/${p.id}/withdraw`));
</script>

<Button disabled={ready.length === 0} onclick={() => (asking = 'hand out')}>Hand out {ready.length}</Button>
<Button disabled={tried.length === 0 || action.busy} onclick={prove}>Run {tried.length} {tried.length === 1 ? 'trial' : 'trials'}</Button>
<Button disabled={ready.length === 0 || action.busy} onclick={renew}>New revisions</Button>
<Button look="harm" disabled={ended.length === 0 || action.busy} onclick={() => (asking = 'withdraw')}>Withdraw {ended.length}</Button>
<span class="small" role="status">{action.busy ? `${at} done` : words}</span>
{#if failed.length}<ul class="small">{#each failed as f (f)}<li>{f}</li>{/each}</ul>{/if}
<Trouble problem={action.problem} />
{#if asking === 'hand out'}<HandOutMany profiles={ready} closing={() => { asking = ''; done(); }} />{/if}
{#if asking === 'withdraw'}
  <Overlay title="Withdraw {ended.length} {ended.length === 1 ? 'profile' : 'profiles'}?" closing={() => (asking = '')}>
    <p>Nobody can connect with {ended.length === 1 ? 'it' : 'them'} any more{ended.some((p) => p.connected) ? `; ${ended.filter((p) => p.connected).map((p) => p.personName ?? p.label).join(', ')} ${ended.filter((p) => p.connected).length === 1 ? 'is' : 'are'} cut off now` : ''}. Keys are erased and open links end. This cannot be taken back.</p>
    <ul class="small">{#each ended.slice(0, 20) as p (p.id)}<li>{p.label}{p.personName ? ` of ${p.personName}` : ''}</li>{/each}{#if ended.length > 20}<li>and {ended.length - 20} more</li>{/if}</ul>
    <div class="end"><Button onclick={() => (asking = '')}>Cancel</Button><Button look="harm" busy={action.busy} onclick={withdraw}>Withdraw {ended.length}</Button></div>
  </Overlay>
{/if}

<style>
  ul { margin: 0; padding-left: 1.2rem; }
  .end { display: flex; justify-content: end; gap: var(--gap-2); }
</style>
