<script lang="ts">
  import { onMount } from 'svelte';
  import Empty from '../components/Empty.svelte';
  import ProfileGrid from '../components/ProfileGrid.svelte';
  import Trouble from '../components/Trouble.svelte';
  import VariantGrid from '../components/VariantGrid.svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import type { Profile } from '../lib/types';

  const profiles = new Resource(() => api.list<Profile>('/profiles'), ['profile', 'handout', 'trial', 'session']);
  onMount(() => profiles.start());
</script>

<h1>Profiles</h1>
<p><a href="/profiles/inspect">Look into a file</a> · <a href="/profiles/lives">What ends and when</a> · <a href="/profiles/authorities">Certificate authorities</a></p>
<Trouble problem={profiles.problem} />
{#if profiles.data?.length}<ProfileGrid label="profiles" profiles={profiles.data} />
{:else if profiles.data}<Empty>A profile is all that one device needs to connect. Choose a person under <a href="/people">People</a> and issue one.</Empty>{/if}
<VariantGrid />
