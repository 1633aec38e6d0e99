<script lang="ts">
  import { onMount } from 'svelte';
  import Empty from '../components/Empty.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import Section from '../components/Section.svelte';
  import SessionGrid from '../components/SessionGrid.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import type { Profile, Session } from '../lib/types';

  const now = new Resource(() => api.list<Session>('/sessions'), ['session', 'profile']);
  const past = new Resource(() => api.list<Session>('/sessions?past=true'), ['session']);
  const neverSeen = new Resource(() => api.list<Profile>('/profiles?never-seen=true'), ['session', 'profile', 'handout']);
  onMount(() => now.start());
  onMount(() => past.start());
  onMount(() => neverSeen.start());
</script>

<h1>Connections</h1>
<Trouble problem={now.problem} />
<Section title="Now" note={String(now.data?.length ?? 0)}>
  {#if now.data?.length}<SessionGrid label="connections" sessions={now.data} />
  {:else if now.data}<Empty>Nobody is connected. Whoever connects stands here within seconds.</Empty>{/if}
</Section>
<Section title="Handed out, never seen">
  {#if neverSeen.data?.length}<ProfileGrid label="profiles never seen" profiles={neverSeen.data} />
  {:else if neverSeen.data}<p class="soft">Everything handed out has been seen.</p>{/if}
</Section>
<Section title="Ended">
  {#if past.data?.length}<SessionGrid label="ended connections" sessions={past.data} />
  {:else if past.data}<p class="soft">None yet.</p>{/if}
</Section>
