<script lang="ts">
  import { onMount } from 'svelte';
  import Empty from '../components/Empty.svelte';
  import ExpiryAxis from '../components/ExpiryAxis.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import type { Expiry } from '../lib/types';
  /** When what lets people in ends, and who has to be told. */
  const expiries = new Resource(() => api.list<Expiry>('/expiries'), ['profile', 'gateway', 'authority']);
  onMount(() => expiries.start());
  const soon = $derived((expiries.data ?? []).filter((l) => l.state !== 'ok').length);
</script>

<h1>Expiries</h1>
<p class="soft">{expiries.data ? `${expiries.data.length} that expire within 400 days, ${soon} of them expired or within 30 days` : ''}</p>
<Trouble problem={expiries.problem} />
{#if expiries.data?.length}<ExpiryAxis expiries={expiries.data} />
{:else if expiries.data}<Empty>Nothing expires within 400 days. A profile expires if it is issued with <code>--until</code>, or when its certificate does.</Empty>{/if}
