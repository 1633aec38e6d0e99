<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import Field from '../components/Field.svelte';
  import Section from '../components/Section.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import type { Profile, RoutePath } from '../lib/types';

  const profiles = new PagedList<Profile>(() => '/profiles?state=ready&handed-out=true', ['profile', 'handout']);
  onMount(() => profiles.start());
  const given = $derived(profiles.rows);
  let profile = $state('');
  let place = $state('hotel');
  let lan = $state('192.168.1.0/24');
  let web = $state('no');
  let to = $state('');
  let port = $state('');
  let path = $state.raw<RoutePath | null>(null);
  const walking = new Action();
  const walk = () => walking.run(async () => {
    path = null;
    path = await api.post<RoutePath>('/walks', { profile: profile || given[0]?.label, place, lan: lan || null, onlyWeb: web === 'yes', to, port: port || null });
  });
</script>

<h1>Route walk</h1>
<p class="soft">From a device outside to a host inside and back, hop by hop, worked out from the records before anybody tries.</p>
{#if profiles.ready && given.length === 0 && !profiles.text}<Empty>A route walk starts from an issued profile. <a href="/profiles">Issue one first</a>.</Empty>
{:else}
  <form onsubmit={(e) => { e.preventDefault(); void walk(); }}>
    {#if profiles.hasMore || profiles.text}<Field label="Search profiles" bind:value={() => profiles.text, (t) => profiles.search(t)} hint="A part of label or person" />{/if}
    <Choice label="Profile on the device" bind:value={profile} options={given.map((p) => ({ value: p.label, label: p.label }))} />
    <Choice label="Location" bind:value={place} options={['hotel', 'home', 'carrier', 'office'].map((v) => ({ value: v, label: v }))} />
    <Field label="Network at that place" bind:value={lan} mono hint="Empty when not known" />
    <Choice label="Only web traffic is allowed out" bind:value={web} options={[{ value: 'no', label: 'no' }, { value: 'yes', label: 'yes, tcp 443 alone' }]} />
    <Field label="Inside host" bind:value={to} mono required placeholder="10.20.4.20" />
    <Field label="Port" bind:value={port} mono placeholder="tcp 445" hint="Empty: ping" />
    <Button type="submit" look="main" busy={walking.busy}>Walk</Button>
  </form>
  <Trouble problem={walking.problem} />
{/if}
{#if path}
  <Section title={path.passes ? 'Every hop lets it through' : `It stops at: ${path.failsAt}`} note={path.passes ? 'as far as the records tell' : ''}>
    {#if path.remedy}<p><strong>Do</strong> {path.remedy}</p>{/if}
    <ol aria-live="polite">
      {#each path.hops as hop, i (i)}
        <li>
          <span class="hop">{hop.hop}</span>
          <State state={hop.verdict} />
          <span>{hop.detail} <span class="soft small">at {hop.place}, decided by {hop.decidedBy}</span></span>
        </li>
      {/each}
    </ol>
  </Section>
{/if}

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  form :global(button) { justify-self: start; margin-top: 1.5rem; }
  ol { list-style: none; margin: 0; padding: 0 0 0 1rem; border-left: 2px solid var(--line-strong); display: grid; gap: var(--gap-2); }
  li { display: grid; grid-template-columns: 8rem 6rem minmax(0, 1fr); gap: var(--gap-3); position: relative; overflow-wrap: anywhere; }
  li::before { content: ''; position: absolute; left: -1rem; top: 0.75em; width: 0.8rem; border-top: 2px solid var(--line-strong); }
  .hop { font-weight: 600; }
  @media (max-width: 560px) { li { grid-template-columns: 1fr auto; } li > span:last-child { grid-column: 1 / -1; } }
</style>
