<script lang="ts">
  import { api, save } from '../lib/api';
  import { csv } from '../lib/csv';
  import { Action } from '../lib/resource.svelte';
  import type { Prepared, PreparedMany, Profile } from '../lib/types';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import Overlay from './Overlay.svelte';
  import Trouble from './Trouble.svelte';
  /** Prepares handouts of several profiles: links in one file and passphrases in another, since they go two different ways. */
  let { profiles, closing }: { profiles: Profile[]; closing: () => void } = $props();
  // those that were chosen when it opened: what is handed out leaves the list behind it
  // svelte-ignore state_referenced_locally
  const labels = profiles.map((p) => p.label);
  let hours = $state('72');
  let prepared = $state.raw<PreparedMany | null>(null);
  let links = $state(false);
  let passphrases = $state(false);
  const action = new Action();
  const prepare = () => action.run(async () => {
    prepared = await api.post<PreparedMany>('/handouts/many', { profiles: labels, hours: Number(hours) });
  });
  const columns = (label: string, text: (p: Prepared) => string) => [
    { key: 'profile', label: 'Profile', text: (p: Prepared) => p.handout.profile },
    { key: 'person', label: 'Person', text: (p: Prepared) => p.handout.personName ?? '' },
    { key: 'it', label, text },
  ];
  const file = (name: string, label: string, text: (p: Prepared) => string) =>
    save(name, new Blob([csv(columns(label, text), prepared?.prepared ?? [])], { type: 'text/csv' }));
  const done = () => action.run(async () => {
    for (const p of prepared?.prepared ?? []) await api.post(`/handouts/${p.handout.id}/sent`);
    closing();
  });
</script>

<Overlay title="Hand out {labels.length} {labels.length === 1 ? 'profile' : 'profiles'}" closing={prepared?.prepared.length ? null : closing}>
  {#if !prepared}
    <p class="soft">Each gets a link of its own and a passphrase that is told another way. What is not fit to be handed out is left out and named.</p>
    <Field label="Links valid for (hours)" type="number" min="1" max="720" bind:value={hours} />
    <div class="end"><Button onclick={closing}>Close</Button><Button look="main" busy={action.busy} onclick={prepare}>Prepare</Button></div>
  {:else}
    <p><strong>{prepared.prepared.length} prepared.</strong> {prepared.prepared.length ? 'Links and passphrases are shown only now: save both files, and send them two different ways.' : ''}</p>
    {#if prepared.unfit.length}
      <p>Not fit to be handed out:</p>
      <ul class="small">{#each prepared.unfit as u (u.profile)}<li><strong>{u.profile}</strong> {u.reasons.map((r) => r.words).join('; ')}</li>{/each}</ul>
    {/if}
    <div class="end">
      {#if prepared.prepared.length}
        <Button onclick={() => { file('links.csv', 'Link', (p) => p.link); links = true; }}>Save links{links ? ', saved' : ''}</Button>
        <Button onclick={() => { file('passphrases.csv', 'Passphrase', (p) => p.passphrase); passphrases = true; }}>Save passphrases{passphrases ? ', saved' : ''}</Button>
        <Button look="main" busy={action.busy} disabled={!links || !passphrases} onclick={done}>Done</Button>
      {:else}<Button onclick={closing}>Close</Button>{/if}
    </div>
  {/if}
  <Trouble problem={action.problem} />
</Overlay>

<style>
  .end { display: flex; flex-wrap: wrap; justify-content: end; gap: var(--gap-2); }
  ul { margin: 0; padding-left: 1.2rem; max-height: 30vh; overflow-y: auto; }
</style>
