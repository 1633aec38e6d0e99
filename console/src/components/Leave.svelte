<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { DeparturePlan } from '../lib/types';
  import Button from './Button.svelte';
  import Overlay from './Overlay.svelte';
  import Trouble from './Trouble.svelte';
  /** Somebody leaves, or a device is lost: what ends is shown first. */
  let { path, label, title, left }: { path: string; label: string; title: string; left: () => void } = $props();
  let plan = $state.raw<DeparturePlan | null>(null);
  const looking = new Action();
  const leaving = new Action();
  const look = () => looking.run(async () => { plan = await api.post<DeparturePlan>(path, { dryRun: true }); });
  const leave = () => leaving.run(async () => { await api.post<DeparturePlan>(path, {}); plan = null; left(); });
</script>

<Button look="harm" busy={looking.busy} aria-label="{label}: {title}" onclick={look}>{label}</Button>
<Trouble problem={looking.problem} />
{#if plan}
  <Overlay {title} closing={leaving.busy ? null : () => (plan = null)}>
    {#if plan.endings.length}
      <p>All of this is withdrawn and cannot be undone; open links and requests end. Then Tender tries each with the very file: it must be refused while another one of the same listener is let in.</p>
      <ul>{#each plan.endings as e (e.profileId)}<li><strong>{e.profile}</strong>{e.connected ? ', connected now' : ''}: {e.how}</li>{/each}</ul>
      {#if plan.secrets.length}<p>{plan.person} goes on knowing {plan.secrets.join(', ')}, which everybody there shares.</p>{/if}
    {:else}<p>There is no profile that is not withdrawn.</p>{/if}
    <Trouble problem={leaving.problem} />
    <div class="end"><Button disabled={leaving.busy} onclick={() => (plan = null)}>Cancel</Button>{#if plan.endings.length}<Button look="harm" busy={leaving.busy} onclick={leave}>Withdraw {plan.endings.length} {plan.endings.length === 1 ? 'profile' : 'profiles'}</Button>{/if}</div>
  </Overlay>
{/if}

<style>
  .end { display: flex; gap: var(--gap-2); justify-content: end; }
  ul { margin: 0; padding-left: 1.2rem; overflow-wrap: anywhere; }
</style>
