<script lang="ts">
  import { onMount } from 'svelte';
  import { api, CallProblem } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Job, KeyRotation } from '../lib/types';
  import Button from './Button.svelte';
  import Section from './Section.svelte';
  import Trouble from './Trouble.svelte';
  import When from './When.svelte';
  /** The master key, which encrypts every secret in the database: its last rotation, and a new one. */
  const newest = async (): Promise<KeyRotation | 'first'> => {
    try {
      return await api.get<KeyRotation>('/keys/rotation');
    } catch (e) {
      if (e instanceof CallProblem && e.problem.status === 404) return 'first';
      throw e;
    }
  };
  const last = new Resource(newest, ['job']);
  onMount(() => last.start());
  let asking = $state(false);
  const action = new Action();
  const rotate = () => action.run(async () => {
    await api.post<Job>('/keys/rotate');
    asking = false;
    await last.reload();
  });
  const running = $derived(last.data !== null && last.data !== 'first' && last.data.state === 'running');
</script>

<Section title="Master key" note="encrypts every secret in the database">
  {#if last.data === 'first'}<p>The key is the first one.</p>
  {:else if last.data}<p>Key <span class="mono">{last.data.keyId}</span>, rotated by {last.data.orderedBy} <When at={last.data.startedAt} />{#if running}; secrets are being encrypted under it{/if}.</p>{/if}
  {#if session.operator?.role === 'owner' && !running}
    {#if asking}
      <p>Tender makes a new key, encrypts every secret under it and retires the old key. The service works meanwhile. Copies of the old key file then open only old copies of the database.</p>
      <p class="do"><Button onclick={() => (asking = false)}>Cancel</Button><Button look="main" busy={action.busy} onclick={rotate}>Rotate the key</Button></p>
    {:else}<p><Button onclick={() => (asking = true)}>Rotate the master key</Button></p>{/if}
  {/if}
  <Trouble problem={action.problem ?? last.problem} />
</Section>

<style>
  p { margin: 0; max-width: 80ch; }
  .do { display: flex; gap: var(--gap-2); }
</style>
