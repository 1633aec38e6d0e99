<script lang="ts">
  import { onMount } from 'svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import Trouble from '../components/Trouble.svelte';
  import GrantGrid from '../components/GrantGrid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import type { Profile } from '../lib/types';

  const choices = [
    { value: '', label: 'All' },
    { value: 'state=ready', label: 'Ready' },
    { value: 'state=failed', label: 'Failed' },
    { value: 'state=withdrawn', label: 'Withdrawn' },
    { value: 'open=not-handed-out', label: 'Not handed out' },
    { value: 'open=never-seen', label: 'Handed out, never seen' },
    { value: 'open=unproven', label: 'Without proof' },
    { value: 'open=failing', label: 'Last trial failed' },
  ];
  let shown = $state('');
  const profiles = new PagedList<Profile>(() => '/profiles' + (shown && '?' + shown), ['profile', 'handout', 'trial', 'session']);
  onMount(() => profiles.start());
  const choose = (value: string) => { shown = value; void profiles.again(); };
</script>

<h1>Profiles</h1>
<p><a href="/profiles/inspect">Inspect files</a> · <a href="/profiles/expiries">Expiries</a> · <a href="/profiles/authorities">Certificate authorities</a></p>
<Trouble problem={profiles.problem} />
{#if profiles.rows.length || profiles.text || shown}
  <ProfileGrid label="profiles" list={profiles}>
    {#snippet tools()}<Choice label="Show" bind:value={() => shown, choose} options={choices} inline />{/snippet}
  </ProfileGrid>
  {#if profiles.ready && profiles.rows.length === 0 && !profiles.searched}<p class="soft">None.</p>{/if}
{:else if profiles.ready}<Empty>A profile is all that one device needs to connect. Choose a person under <a href="/people">People</a> and issue one.</Empty>{/if}
<GrantGrid />
