<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import type { JournalEntry, Page } from '../lib/types';
  import Section from './Section.svelte';
  import When from './When.svelte';
  /** What happened since midnight, newest first. */
  const SHOWN = 8;
  const entries = new Resource(async () => (await api.get<Page<JournalEntry>>('/journal?limit=100')).items, ['gateway', 'profile', 'handout', 'trial', 'backup', 'person']);
  onMount(() => entries.start());
  const midnight = $derived.by(() => { void entries.data; return new Date().setHours(0, 0, 0, 0); });
  const today = $derived((entries.data ?? []).filter((e) => Date.parse(e.at) >= midnight));
</script>

<Section title="Today" note={today.length ? `${today.length === 100 ? 'more than 99' : today.length} entries in the journal` : ''}>
  {#snippet actions()}<a class="small" href="/journal">Journal</a>{/snippet}
  {#if today.length}
    <ul>{#each today.slice(0, SHOWN) as e (e.number)}<li><span class="small soft"><When at={e.at} /></span> <span>{e.who}: {e.what}</span></li>{/each}</ul>
  {:else if entries.data}<p class="soft">Nothing yet.</p>{/if}
</Section>

<style>
  ul { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-1); }
  li { display: grid; grid-template-columns: 6rem minmax(0, 1fr); gap: var(--gap-2); overflow-wrap: anywhere; }
</style>
