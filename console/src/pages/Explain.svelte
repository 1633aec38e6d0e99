<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Field from '../components/Field.svelte';
  import Section from '../components/Section.svelte';
  import TextArea from '../components/TextArea.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import type { Choice, LogMeaning, PortSpec, Need, NetworkWords } from '../lib/types';

  const needs = new Resource(() => api.list<Need>('/explain/needs'), []);
  const ports = new Resource(() => api.list<PortSpec>('/explain/ports'), []);
  onMount(() => needs.start());
  onMount(() => ports.start());
  let wanted = $state<string[]>(['phones']);
  let choices = $state.raw<Choice[]>([]);
  const choosing = new Action();
  const choose = () => choosing.run(async () => { choices = (await api.post<{ items: Choice[] }>('/explain/choose', { needs: wanted })).items; });
  let network = $state('');
  let pool = $state('');
  let reserved = $state('');
  let words = $state.raw<NetworkWords | null>(null);
  const asking = new Action();
  const ask = () => asking.run(async () => {
    words = null;
    words = await api.post<NetworkWords>('/explain/network', { network: network.trim(), pool: pool.trim() || null, reserved: reserved.split(/[\s,]+/).filter(Boolean) });
  });
  let log = $state('');
  let meanings = $state.raw<LogMeaning[] | null>(null);
  const explaining = new Action();
  const explain = () => explaining.run(async () => { meanings = (await api.post<{ meanings: LogMeaning[] }>('/explain/log', { text: log })).meanings; });
</script>

<h1>In plain words</h1>
<Section title="Which tunnel type fits?" note="choose what people need">
  <form onsubmit={(e) => { e.preventDefault(); void choose(); }}>
    <fieldset>
      <legend class="visually-hidden">Needs</legend>
      {#each needs.data ?? [] as n (n.need)}<label><input type="checkbox" value={n.need} bind:group={wanted} /> {n.words}</label>{/each}
    </fieldset>
    <Button type="submit" look="main" busy={choosing.busy}>Compare</Button>
  </form>
  <Trouble problem={choosing.problem ?? needs.problem} />
  {#each choices as c, i (c.protocol)}
    <div>
      <strong>{c.title}</strong>{#if i === 0} <span class="soft">fits best</span>{/if}
      <ul>
        {#each c.speaksFor as r (r)}<li><span class="mono" aria-label="for">+</span> {r}</li>{/each}
        {#each c.speaksAgainst as r (r)}<li><span class="mono" aria-label="against">−</span> {r}</li>{/each}
      </ul>
    </div>
  {/each}
</Section>
<Section title="A log" note="of a VPN client or server; nothing of it is kept">
  <form onsubmit={(e) => { e.preventDefault(); void explain(); }}>
    <TextArea label="Log" bind:value={log} rows={6} required hint="Copy the lines around the failure" />
    <p><Button type="submit" busy={explaining.busy}>Explain the log</Button></p>
  </form>
  <Trouble problem={explaining.problem} />
  <div aria-live="polite">
    {#if meanings}
      {#each meanings as m (m.line + m.code)}
        <div><strong>{m.certainty}: {m.what}</strong><p>Do: {m.remedy}</p><p class="small soft">{m.rung}, line {m.line}: <span class="mono said">{m.said}</span></p></div>
      {:else}<p>No line of it says what went wrong; a trial does: run one on the profile's page.</p>{/each}
    {/if}
  </div>
</Section>
<Section title="A network" note="a network in plain words">
  <form class="row" onsubmit={(e) => { e.preventDefault(); void ask(); }}>
    <Field label="Network" bind:value={network} mono required placeholder="10.20.4.0/24" />
    <Field label="Pool" bind:value={pool} mono placeholder="10.20.4.100-10.20.4.199" />
    <Field label="Reserved addresses" bind:value={reserved} mono placeholder="printer=10.20.4.9" />
    <Button type="submit" busy={asking.busy}>Explain</Button>
  </form>
  <Trouble problem={asking.problem} />
  {#if words}
    <p aria-live="polite">Hosts go from <span class="mono">{words.firstUsable}</span> to <span class="mono">{words.lastUsable}</span>: {words.usable} in all, {words.leased} leased from the pool, {words.reserved} reserved, {words.rest} left{#if words.mask}; the mask is <span class="mono">{words.mask}</span>{/if}{#if words.broadcast}, the broadcast address <span class="mono">{words.broadcast}</span>{/if}.</p>
    {#each words.notes as n (n)}<p><strong>Mind</strong> {n}</p>{/each}
  {/if}
</Section>
<Section title="Ports" note="the ports that each VPN protocol needs">
  <table>
    <thead><tr><th scope="col">Kind</th><th scope="col">Reached by</th><th scope="col">Notes</th></tr></thead>
    <tbody>{#each ports.data ?? [] as d (d.kind)}<tr><th scope="row">{d.kind}</th><td>{d.reachedBy}</td><td>{d.notes}</td></tr>{/each}</tbody>
  </table>
</Section>

<style>
  fieldset { border: 0; margin: 0 0 var(--gap-2); padding: 0; display: grid; grid-template-columns: repeat(auto-fit, minmax(min(22rem, 100%), 1fr)); gap: var(--gap-1) var(--gap-4); }
  label { display: flex; gap: var(--gap-2); align-items: baseline; }
  p { margin: var(--gap-1) 0; }
  .said { overflow-wrap: anywhere; }
  ul { list-style: none; margin: 0; padding: 0 0 0 var(--gap-3); }
  .row { display: grid; grid-template-columns: repeat(auto-fit, minmax(12rem, 1fr)); gap: var(--gap-3); align-items: end; }
  .row :global(button) { justify-self: start; }
  table { border-collapse: collapse; width: 100%; }
  th, td { text-align: left; vertical-align: top; padding: var(--gap-1) var(--gap-3) var(--gap-1) 0; border-bottom: 1px solid var(--line); overflow-wrap: anywhere; }
</style>
