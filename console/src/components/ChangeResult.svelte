<script lang="ts">
  import type { DeviceChange } from '../lib/types';
  import State from './State.svelte';
  let { change }: { change: DeviceChange } = $props();
</script>

<p aria-live="polite"><State state={change.state} word={change.state === 'active' ? 'temporary' : change.state} /> {change.words}: {change.note}.</p>
