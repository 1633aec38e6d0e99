<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Gateway, Recognised } from '../lib/types';
  import Button from './Button.svelte';
  import Empty from './Empty.svelte';
  import Section from './Section.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  /** Which device descriptions fit a gateway, and taking those that do. */
  let { gateway, saved }: { gateway: Gateway; saved: () => void } = $props();
  let found = $state.raw<Recognised | null>(null);
  const looking = new Action();
  const taking = new Action();
  const look = () => looking.run(async () => { found = await api.post<Recognised>(`/gateways/${gateway.id}/recognise`); });
  const take = () => taking.run(async () => {
    await api.patch<Gateway>('/gateways/' + gateway.id, { description: found?.proposed }, gateway.version);
    await api.post(`/gateways/${gateway.id}/read`);
    found = null;
    saved();
  });
  const shown = $derived(found?.descriptions.filter((d) => d.fits) ?? []);
</script>

<Section title="What kind of device it is" note={gateway.description}>
  {#snippet actions()}<Button busy={looking.busy} onclick={look}>Recognise</Button>{/snippet}
  {#if found}
    {#each shown as d (d.description)}
      <p><State state="ok" word="fits" /> <strong>{d.description}</strong>: {d.title}. <span class="soft small">Found: <span class="mono">{d.found.join(', ')}</span></span></p>
    {:else}<Empty>No description fits. Write one for this kind of device: start from a shipped one under <a href="/administration/descriptions">Descriptions</a>.</Empty>{/each}
    {#if found.proposed && found.proposed !== gateway.description}<p><Button look="main" busy={taking.busy} onclick={take}>Use {found.proposed} and read again</Button></p>{/if}
  {:else}<p class="soft small">Its description says which files and commands Tender reads and writes. Recognise looks on the device which descriptions fit; nothing is changed there.</p>{/if}
  <Trouble problem={looking.problem ?? taking.problem} />
</Section>
