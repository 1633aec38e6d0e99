<script lang="ts">
  import Button from '../components/Button.svelte';
  import Field from '../components/Field.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';

  let old = $state('');
  let fresh = $state('');
  const action = new Action();
  const change = () => action.run(async () => {
    await api.post('/me/password', { old, fresh });
    await session.look();
  });
</script>

<svelte:head><title>Tender, first password</title></svelte:head>
<main>
  <h1>Choose your password</h1>
  <p class="soft">Somebody else set this password, so you must change it now.</p>
  <form onsubmit={(e) => { e.preventDefault(); void change(); }}>
    <Field label="First password" type="password" bind:value={old} autocomplete="current-password" required />
    <Field label="New password" type="password" bind:value={fresh} autocomplete="new-password" minlength={12} required hint="12 characters or more" />
    <Button type="submit" look="main" busy={action.busy}>Change it</Button>
  </form>
  <Trouble problem={action.problem} />
</main>

<style>
  main { max-width: 24rem; margin: 12vh auto 0; padding: var(--gap-4); display: grid; gap: var(--gap-4); }
  form { display: grid; gap: var(--gap-4); }
</style>
