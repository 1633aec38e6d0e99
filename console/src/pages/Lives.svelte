<script lang="ts">
  import { onMount } from 'svelte';
  import Empty from '../components/Empty.svelte';
  import LifeAxis from '../components/LifeAxis.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import type { Life } from '../lib/types';
  /** When what lets people in ends, and who has to be told. */
  const lives = new Resource(() => api.list<Life>('/lives'), ['profile', 'gateway', 'authority']);
  onMount(() => lives.start());
  const soon = $derived((lives.data ?? []).filter((l) => l.state !== 'well').length);
</script>

<h1>What ends</h1>
<p class="soft">{lives.data ? `${lives.data.length} with an end within 400 days, ${soon} of them ended or within 30 days` : ''}</p>
<Trouble problem={lives.problem} />
{#if lives.data?.length}<LifeAxis lives={lives.data} />
{:else if lives.data}<Empty>Nothing ends within 400 days. A profile ends where it is issued with <code>--until</code>, or by its certificate.</Empty>{/if}
