<script lang="ts">
  import { api } from '../lib/api';
  import { ended } from '../lib/change.svelte';
  import { Action } from '../lib/resource.svelte';
  import type { Authority, DeviceChange, Gateway, Ordered } from '../lib/types';
  import Button from './Button.svelte';
  import ChangeResult from './ChangeResult.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import Section from './Section.svelte';
  import Trouble from './Trouble.svelte';
  /** Gives a listener a certificate of one of the company's authorities; the device creates the key. */
  let { gateway }: { gateway: Gateway } = $props();
  let authorities = $state.raw<Authority[]>([]);
  let opened = $state(false);
  const opening = new Action();
  const open = () => opening.run(async () => {
    authorities = await api.list<Authority>('/authorities');
    opened = true;
  });
  const certified = $derived(gateway.listeners.filter((l) => !l.gone && ['openvpn', 'ikev2', 'tls'].some((p) => l.protocol.includes(p))));
  let listener = $state(''), authority = $state(''), names = $state(''), days = $state('');
  let sure = $state(false);
  let result = $state.raw<DeviceChange | null>(null);
  const action = new Action();
  const by = $derived(authority || authorities[0]?.name);
  const at = $derived(listener || certified[0]?.name);
  const make = () => action.run(async () => {
    const said = names.split(/[\s,]+/).filter(Boolean);
    const ordered = await api.post<Ordered>(`/gateways/${gateway.id}/certificate`, { listener: at, authority: by, names: said, days: days ? Number(days) : null });
    sure = false;
    result = await ended(ordered.change, '/changes/' + ordered.change.id);
  });
</script>

{#if certified.length > 0}
  <Section title="Listener's certificate" note="from an authority of yours">
    {#snippet actions()}{#if !opened}<Button busy={opening.busy} onclick={open}>Issue a new one</Button>{/if}{/snippet}
    <Trouble problem={opening.problem} />
    {#if opened && authorities.length === 0}<p class="soft">There is no certificate authority yet. <a href="/profiles/authorities">Create or import one first</a>.</p>
    {:else if opened}
    <form onsubmit={(e) => { e.preventDefault(); sure = true; }}>
      <Choice label="Listener" bind:value={listener} options={certified.map((l) => ({ value: l.name, label: l.name }))} />
      <Choice label="Authority" bind:value={authority} options={authorities.map((a) => ({ value: a.name, label: a.name }))} />
      <Field label="Names" bind:value={names} mono hint="Clients connect to them; empty: those of its present certificate" />
      <Field label="Days" type="number" min="1" bind:value={days} hint="Empty: 365" />
      <div><Button type="submit" disabled={sure}>Issue a certificate</Button></div>
    </form>
    {#if sure}
      <p>{at} of {gateway.name} will show a certificate of {by} and let nobody in by another authority's.</p>
      <p class="do"><Button onclick={() => (sure = false)}>Cancel</Button><Button look="harm" busy={action.busy} onclick={make}>Issue it</Button></p>
    {/if}
    {#if result}<ChangeResult change={result} />{/if}
    {/if}
    <Trouble problem={action.problem} />
  </Section>
{/if}

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(14rem, 1fr)); gap: var(--gap-3); align-items: start; }
  form div { padding-top: 1.6rem; }
  p { margin: 0; }
  .do { display: flex; gap: var(--gap-2); }
</style>
