<script lang="ts">
  import Button from '../components/Button.svelte';
  import Field from '../components/Field.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';

  let seed = $state<{ seed: string; link: string } | null>(null);
  let code = $state('');
  const action = new Action();
  const make = () => action.run(async () => { seed = await api.post('/me/code'); });
  const confirm = () => action.run(async () => {
    await api.post('/me/code/confirm', { code });
    await session.look();
  });
</script>

<svelte:head><title>Tender, second factor</title></svelte:head>
<main>
  <h1>Set up one-time codes</h1>
  <p class="soft">This installation requires a one-time code in addition to the password. Set it up to continue.</p>
  {#if !seed}
    <Button look="main" busy={action.busy} onclick={make}>Create a secret</Button>
  {:else}
    <p>Enter this secret in your authenticator app, or <a href={seed.link}>open it there</a>. It is shown once.</p>
    <code>{seed.seed}</code>
    <form onsubmit={(e) => { e.preventDefault(); void confirm(); }}>
      <Field label="Six digits that it shows now" inputmode="numeric" pattern="[0-9]&#123;6&#125;" bind:value={code} autocomplete="one-time-code" required />
      <Button type="submit" look="main" busy={action.busy}>Turn it on</Button>
    </form>
  {/if}
  <Trouble problem={action.problem} />
</main>

<style>
  main { max-width: 26rem; margin: 12vh auto 0; padding: var(--gap-4); display: grid; gap: var(--gap-4); }
  form { display: grid; gap: var(--gap-4); }
  code { background: var(--sunk); padding: var(--gap-2); overflow-wrap: anywhere; }
</style>
