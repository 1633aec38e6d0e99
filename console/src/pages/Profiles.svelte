<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import IssueMany from '../components/IssueMany.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import Section from '../components/Section.svelte';
  import Trouble from '../components/Trouble.svelte';
  import GrantGrid from '../components/GrantGrid.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Chosen } from '../lib/router.svelte';
  import { session } from '../lib/session.svelte';
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
  const shown = new Chosen('show');
  let issuing = $state(false);
  const profiles = new PagedList<Profile>(() => '/profiles' + (shown.value && '?' + shown.value), ['profile', 'handout', 'trial', 'session'], true, true);
  onMount(() => profiles.start());
  const choose = (value: string) => { shown.value = value; void profiles.again(); };
</script>

<h1>Profiles</h1>
<p><a href="/profiles/inspect">Inspect files</a> · <a href="/profiles/expiries">Expiries</a> · <a href="/profiles/authorities">Certificate authorities</a></p>
<Trouble problem={profiles.problem} />
{#if session.mayWrite && !issuing}<p><Button look="main" onclick={() => (issuing = true)}>Issue profiles</Button></p>{/if}
{#if issuing}<Section title="Issue profiles" note="nothing is written before you have seen what"><IssueMany issued={() => void profiles.reload()} closing={() => (issuing = false)} /></Section>{/if}
{#if profiles.rows.length || profiles.text || shown.value}
  <ProfileGrid label="profiles" list={profiles} bulk={session.mayWrite}>
    {#snippet tools()}<Choice label="Show" bind:value={() => shown.value, choose} options={choices} inline />{/snippet}
  </ProfileGrid>
  {#if profiles.ready && profiles.rows.length === 0 && !profiles.searched}<p class="soft">None.</p>{/if}
{:else if profiles.ready}<Empty>A profile is all that one device needs to connect. Add people and their devices under <a href="/people">People</a>, then issue profiles here.</Empty>{/if}
<GrantGrid />
