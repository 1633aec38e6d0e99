<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import ChangeForm from '../components/ChangeForm.svelte';
  import ChangeList from '../components/ChangeList.svelte';
  import ChangeResult from '../components/ChangeResult.svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import Field from '../components/Field.svelte';
  import Impact from '../components/Impact.svelte';
  import Section from '../components/Section.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Gathered } from '../lib/change.svelte';
  import { Resource } from '../lib/resource.svelte';
  import { Chosen } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
  import type { DeviceChange, DeviceFacts, Gateway } from '../lib/types';
  /** Changes of gateways' settings: gathered, previewed, then made: all of them or none. */
  const named = new Chosen('gateway');
  const gateways = new Resource(() => api.list<Gateway>('/gateways'), ['gateway']);
  onMount(() => gateways.start());
  const able = $derived((gateways.data ?? []).filter((g) => g.identityAccepted && (g.connector === 'manual' || g.readAt !== null)));
  const g = $derived(able.find((one) => one.name === named.value) ?? able[0]);
  const facts = new Resource<DeviceFacts | null>(async () => (g ? api.get<DeviceFacts>(`/gateways/${g.id}/facts`) : null), ['gateway']);
  const made = new Resource<DeviceChange[]>(async () => (g ? api.list<DeviceChange>(`/gateways/${g.id}/changes`) : []), ['gateway']);
  onMount(() => facts.start());
  onMount(() => made.start());
  let shownFor = '';
  $effect(() => {
    if (!g || g.id === shownFor) return;
    shownFor = g.id;
    void facts.reload();
    void made.reload();
  });
  const gathered = new Gathered();
  let until = $state('');
  let at = $state('');
  let why = $state('');
  const byHand = $derived(!!g && !g.capabilities.includes('change'));
  const many = $derived(gathered.gateways.length > 1);
  const terms = $derived({ temporarySeconds: until && !many ? Number(until) * 60 : null, at: at && !many ? new Date(at).toISOString() : null, why: why || null });
</script>

<h1>Change gateways' settings</h1>
<Trouble problem={gateways.problem} />
{#if !session.mayWrite}<Empty>Operators and owners change gateways' settings here.</Empty>
{:else if g}
  <Section title="What to change" note="nothing is changed before you have seen the preview">
    <div class="which"><Choice label="Gateway" bind:value={() => g.name, (name) => (named.value = name)} options={able.map((one) => ({ value: one.name, label: one.name }))} /></div>
    {#if facts.data}{#key g.id}<ChangeForm facts={facts.data} add={(change, words) => gathered.add({ gatewayId: g.id, gateway: g.name, change, words })} />{/key}{/if}
    <Trouble problem={facts.problem} />
  </Section>
  {#if byHand}<p class="soft">Tender does not write {g.name}: what you apply becomes an instruction for a person, with the values to enter. It stands on the overview and on the gateway's page until it is done.</p>{/if}
  {#if gathered.wanted.length > 0}
    <Section title="To be changed" note={many ? 'together: on all of these gateways, or on none' : ''}>
      <ul>{#each gathered.wanted as w, i (i)}<li><span><strong>{w.gateway}</strong>: {w.words}</span><Button aria-label="Take out: {w.words}" onclick={() => gathered.drop(w)}>Take out</Button></li>{/each}</ul>
      <form onsubmit={(e) => { e.preventDefault(); void gathered.look(terms); }}>
        {#if !many && byHand}<Field label="Why" bind:value={why} hint="For whoever does it" />
        {:else if !many}
          <Field label="Roll back after, minutes" type="number" min="1" max="10080" bind:value={until} hint="Empty: it stays" />
          <Field label="When" type="datetime-local" bind:value={at} hint="Empty: now" />
        {/if}
        <Button type="submit" busy={gathered.looking.busy}>Preview</Button>
      </form>
      {#each gathered.previews as p (p.gateway)}{#if many}<h3>{p.gateway}</h3>{/if}<Impact preview={p.preview} />{/each}
      {#if gathered.previews.length > 0}<p><Button look="main" busy={gathered.making.busy} onclick={() => gathered.make(terms).then(() => made.reload())}>{many ? 'Apply all changes' : 'Apply'}</Button></p>{/if}
    </Section>
  {/if}
  <Trouble problem={gathered.looking.problem ?? gathered.making.problem} />
  {#each gathered.results as c (c.id)}<ChangeResult change={c} />{/each}
  {#if made.data?.length}<Section title="Changes of {g.name}"><ChangeList changes={made.data} changed={() => void made.reload()} /></Section>{/if}
{:else if gateways.data}<Empty>No gateway can be changed: accept a gateway's identity first, and read it.</Empty>{/if}

<style>
  .which { max-width: 20rem; }
  ul { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-1); }
  li { display: grid; grid-template-columns: minmax(0, 1fr) auto; gap: var(--gap-3); align-items: center; overflow-wrap: anywhere; }
  form { display: flex; flex-wrap: wrap; gap: var(--gap-3); align-items: start; }
  form :global(button) { margin-top: 1.6rem; }
  h3, p { margin: 0; }
</style>
