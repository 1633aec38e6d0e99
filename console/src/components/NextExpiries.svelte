<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { clock } from '../lib/clock.svelte';
  import { Resource } from '../lib/resource.svelte';
  import { exact } from '../lib/format';
  import type { Expiry, Page } from '../lib/types';
  import Section from './Section.svelte';
  import State from './State.svelte';
  /** What expires next, the soonest first. */
  const SHOWN = 5;
  const DAY = 86_400_000;
  const next = new Resource(async () => (await api.get<Page<Expiry>>(`/expiries?days=90&limit=${SHOWN}`)).items, ['profile', 'gateway', 'authority']);
  onMount(() => next.start());
  const states: Record<string, string> = { expired: 'expired', soon: 'waiting', ok: 'ok' };
  const days = (e: Expiry) => {
    const d = Math.round((Date.parse(e.expiresAt) - clock.now) / DAY);
    return e.state === 'expired' ? (d === 0 ? 'today' : `${-d} d ago`) : d === 0 ? 'today' : `in ${d} d`;
  };
</script>

<Section title="Next expiries">
  {#snippet actions()}<a class="small" href="/profiles/expiries">All expiries</a>{/snippet}
  {#if next.data?.length}
    <ul>{#each next.data as e (e.kind + e.id)}<li><span title={exact(e.expiresAt)}><State state={states[e.state] ?? e.state} word={days(e)} /></span> <span>{e.what}{e.tell ? ` of ${e.tell}` : ''}</span></li>{/each}</ul>
  {:else if next.data}<p class="soft">Nothing expires within 90 days.</p>{/if}
</Section>

<style>
  ul { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-1); }
  li { display: grid; grid-template-columns: 6rem minmax(0, 1fr); gap: var(--gap-2); overflow-wrap: anywhere; }
</style>
