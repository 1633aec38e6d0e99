<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { DeviceLog } from '../lib/types';
  import Button from './Button.svelte';
  import Section from './Section.svelte';
  import Trouble from './Trouble.svelte';
  /** The last lines of a device's log, read when asked for. */
  let { gateway }: { gateway: string } = $props();
  let lines = $state.raw<string[] | null>(null);
  const action = new Action();
  const read = () => action.run(async () => { lines = (await api.get<DeviceLog>(`/gateways/${gateway}/log`)).lines; });
</script>

<Section title="Device's log">
  {#snippet actions()}<Button busy={action.busy} onclick={read}>{lines ? 'Read it again' : 'Read the last lines'}</Button>{/snippet}
  <Trouble problem={action.problem} />
  {#if lines?.length}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <pre class="mono small" role="region" aria-label="Last lines of the log" tabindex="0">{lines.join('\n')}</pre>
  {:else if lines}<p class="soft">The log is empty.</p>{/if}
</Section>

<style>
  pre { margin: 0; background: var(--sunk); padding: var(--gap-3); overflow: auto; max-height: 24rem; }
</style>
