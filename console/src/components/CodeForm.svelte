<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import Trouble from './Trouble.svelte';
  /** Turns one-time codes on: a secret that is shown once, and the first code. */
  let { done, main = false }: { done: () => void; main?: boolean } = $props();
  let seed = $state<{ seed: string; link: string } | null>(null);
  let code = $state('');
  const action = new Action();
  const make = () => action.run(async () => { seed = await api.post('/me/code'); });
  const confirm = () => action.run(async () => {
    await api.post('/me/code/confirm', { code });
    done();
  });
</script>

{#if !seed}
  <p class="start"><Button look={main ? 'main' : 'plain'} busy={action.busy} onclick={make}>{main ? 'Create a secret' : 'Turn on one-time codes'}</Button></p>
{:else}
  <p>Enter this secret in your authenticator app, or <a href={seed.link}>open it there</a>. It is shown once.</p>
  <code>{seed.seed}</code>
  <form onsubmit={(e) => { e.preventDefault(); void confirm(); }}>
    <Field label="Six digits that it shows now" inputmode="numeric" pattern="[0-9]&#123;6&#125;" bind:value={code} autocomplete="one-time-code" required />
    <Button type="submit" look="main" busy={action.busy}>Turn it on</Button>
  </form>
{/if}
<Trouble problem={action.problem} />

<style>
  form { display: grid; gap: var(--gap-4); max-width: 24rem; }
  code { background: var(--sunk); padding: var(--gap-2); overflow-wrap: anywhere; }
  p { margin: 0; }
  .start { display: grid; justify-items: start; }
</style>
