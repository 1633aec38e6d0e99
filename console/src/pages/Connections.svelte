<script lang="ts">
  import { onMount } from 'svelte';
  import Empty from '../components/Empty.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import Section from '../components/Section.svelte';
  import SessionGrid from '../components/SessionGrid.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import type { Profile, Session } from '../lib/types';

  const now = new PagedList<Session>(() => '/sessions', ['session', 'profile'], true, true);
  const past = new PagedList<Session>(() => '/sessions?past=true', ['session']);
  const neverSeen = new PagedList<Profile>(() => '/profiles?open=never-seen', ['session', 'profile', 'handout']);
  onMount(() => now.start());
  onMount(() => past.start());
  onMount(() => neverSeen.start());
</script>

<h1>Connections</h1>
<Trouble problem={now.problem} />
<Section title="Now" note={now.hasMore ? `the first ${now.rows.length}` : String(now.rows.length)}>
  {#if now.rows.length || now.text}<SessionGrid label="connections" list={now} />
  {:else if now.ready}<Empty>Nobody is connected. Connections appear here within seconds.</Empty>{/if}
</Section>
<Section title="Handed out, never seen">
  {#if neverSeen.rows.length || neverSeen.text}<ProfileGrid label="profiles never seen" list={neverSeen} />
  {:else if neverSeen.ready}<p class="soft">Everybody who was handed a profile has connected.</p>{/if}
</Section>
<Section title="Ended">
  {#if past.rows.length || past.text}<SessionGrid label="ended connections" list={past} />
  {:else if past.ready}<p class="soft">None yet.</p>{/if}
</Section>
