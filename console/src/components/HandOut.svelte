<script lang="ts">
  import { api } from '../lib/api';
  import { onMount } from 'svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { exact } from '../lib/format';
  import type { Fitness, Prepared } from '../lib/types';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import Overlay from './Overlay.svelte';
  import Trouble from './Trouble.svelte';
  /** Prepares a handout, shows link and passphrase once, and asks that both are kept before it lets go. */
  let { profile, id, closing }: { profile: string; id: string; closing: () => void } = $props();
  let hours = $state('72');
  let collections = $state('1');
  let prepared = $state.raw<Prepared | null>(null);
  let kept = $state(false);
  let copied = $state('');
  let reason = $state('');
  const action = new Action();
  const fitness = new Resource(() => api.get<Fitness>(`/profiles/${id}/fitness`), []);
  onMount(() => fitness.start());

  const prepare = () => action.run(async () => {
    prepared = await api.post<Prepared>('/handouts', { profile, hours: Number(hours), collections: Number(collections), override: reason || null });
  });
  const done = () => action.run(async () => {
    await api.post(`/handouts/${prepared?.handout.id}/sent`);
    closing();
  });
  async function copy(what: string, text: string): Promise<void> {
    await navigator.clipboard.writeText(text);
    copied = what;
  }
</script>

<Overlay title="Hand out {profile}" closing={prepared ? null : closing}>
  {#if !prepared}
    <p class="soft">Send the link, and tell the passphrase another way. One without the other is useless.</p>
    <div class="two"><Field label="Link valid for (hours)" type="number" min="1" max="720" bind:value={hours} /><Field label="Can be collected" type="number" min="1" max="10" bind:value={collections} hint="times" /></div>
    {#if fitness.data?.reasons.length}
      <p><strong>Not fit to be handed out.</strong> What is named here has to be put right first:</p>
      <ul>{#each fitness.data.reasons as r (r.code)}<li>{r.words} {r.detail}</li>{/each}</ul>
      <Field label="Or say why you hand it out anyway" bind:value={reason} hint="recorded in the journal" />
    {/if}
    <div class="end"><Button onclick={closing}>Close</Button><Button look="main" busy={action.busy} onclick={prepare}>Prepare link and passphrase</Button></div>
  {:else}
    <p>Both are shown only once. The link works until {exact(prepared.handout.expiresAt)}.</p>
    <div class="secret"><span class="small soft">Link, by mail or chat</span><code>{prepared.link}</code><Button onclick={() => copy('link', prepared!.link)}>{copied === 'link' ? 'Copied' : 'Copy'}</Button></div>
    <div class="secret"><span class="small soft">Passphrase, by telephone or in person</span><code>{prepared.passphrase}</code><Button onclick={() => copy('passphrase', prepared!.passphrase)}>{copied === 'passphrase' ? 'Copied' : 'Copy'}</Button></div>
    <label><input type="checkbox" bind:checked={kept} /> I have saved or sent both the link and the passphrase</label>
    <div class="end"><Button look="main" busy={action.busy} disabled={!kept} onclick={done}>Done</Button></div>
  {/if}
  <Trouble problem={action.problem} />
</Overlay>

<style>
  .two { display: grid; grid-template-columns: 1fr 1fr; gap: var(--gap-4); align-items: start; }
  .end { display: flex; justify-content: end; gap: var(--gap-2); }
  .secret { display: grid; grid-template-columns: 1fr auto; gap: var(--gap-1) var(--gap-3); align-items: center; }
  .secret span { grid-column: 1 / -1; }
  code { background: var(--sunk); padding: var(--gap-2); overflow-wrap: anywhere; }
</style>
