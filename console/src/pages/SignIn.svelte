<script lang="ts">
  import Button from '../components/Button.svelte';
  import Field from '../components/Field.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';

  let name = $state('');
  let password = $state('');
  let code = $state('');
  const action = new Action();
  const signIn = () => action.run(async () => {
    await api.post('/sign-in', { name, password, code: code || null });
    await session.look();
  });
</script>

<svelte:head><title>Tender, sign in</title></svelte:head>
<main>
  <h1>Tender</h1>
  <p class="soft">Profiles for the people who connect to your offices, and the proof that they work.</p>
  <form onsubmit={(e) => { e.preventDefault(); void signIn(); }}>
    <Field label="Name" bind:value={name} autocomplete="username" required />
    <Field label="Password" type="password" bind:value={password} autocomplete="current-password" required />
    {#if action.problem?.code === 'code-needed' || code}<Field label="One-time code" bind:value={code} inputmode="numeric" autocomplete="one-time-code" hint="Six digits from your authenticator app" />{/if}
    <Button type="submit" look="main" busy={action.busy}>Sign in</Button>
  </form>
  <Trouble problem={action.problem} />
</main>

<style>
  main { max-width: 24rem; margin: 12vh auto 0; padding: var(--gap-4); display: grid; gap: var(--gap-4); }
  form { display: grid; gap: var(--gap-4); justify-items: stretch; }
</style>
