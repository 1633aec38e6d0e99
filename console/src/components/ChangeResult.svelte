<script lang="ts">
  import type { DeviceChange } from '../lib/types';
  import State from './State.svelte';
  let { change }: { change: DeviceChange } = $props();
</script>

<p aria-live="polite">
  {#if change.state === 'by-hand'}<State state="by-hand" word="to be done by hand" /> {change.gateway}: {change.words}. What to enter stands on the gateway's page.
  {:else}<State state={change.state} word={change.state === 'active' ? 'temporary' : change.state} /> {change.words}: {change.note}.{/if}
</p>
