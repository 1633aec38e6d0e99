<script lang="ts">
  import { api } from '../lib/api';
  import { fresh } from '../lib/fresh.svelte';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import Overlay from './Overlay.svelte';
  import Trouble from './Trouble.svelte';
  /** The password again, and the one-time code where there is one. */
  let password = $state('');
  let code = $state('');
  const action = new Action();
  const prove = () => action.run(async () => {
    await api.post('/me/fresh', { password, code: code || null });
    fresh.answer(true);
  });
</script>

<Overlay title="Confirm your password" closing={() => fresh.answer(false)}>
  <p class="soft">This reveals secrets or extends trust, so confirm your password. You are not asked again for five minutes.</p>
  <form onsubmit={(e) => { e.preventDefault(); void prove(); }}>
    <Field label="Password of {session.operator?.name ?? ''}" type="password" bind:value={password} autocomplete="current-password" required />
    {#if session.operator?.hasCode}<Field label="One-time code" inputmode="numeric" bind:value={code} autocomplete="one-time-code" required />{/if}
    <div class="end"><Button onclick={() => fresh.answer(false)}>Close</Button><Button type="submit" look="main" busy={action.busy}>Continue</Button></div>
  </form>
  <Trouble problem={action.problem} />
</Overlay>

<style>
  form { display: grid; gap: var(--gap-4); }
  .end { display: flex; justify-content: end; gap: var(--gap-2); }
</style>
