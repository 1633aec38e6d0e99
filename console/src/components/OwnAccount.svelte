<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Token } from '../lib/types';
  import Button from './Button.svelte';
  import CodeForm from './CodeForm.svelte';
  import Field from './Field.svelte';
  import Section from './Section.svelte';
  import TokenList from './TokenList.svelte';
  import Trouble from './Trouble.svelte';
  /** One's own password, second factor and sign-ins. */
  const tokens = new Resource(() => api.list<Token>('/me/tokens'), []);
  onMount(() => tokens.start());
  let old = $state(''), fresh = $state(''), done = $state('');
  const action = new Action();
  const ending = new Action();
  const change = () => action.run(async () => {
    await api.post('/me/password', { old, fresh });
    old = fresh = '';
    done = 'Your password was changed; your other sign-ins ended.';
    await tokens.reload();
  });
  const end = (t: Token) => ending.run(async () => {
    await api.remove('/me/tokens/' + t.id);
    await tokens.reload();
  });
</script>

<Section title="Your account" note={session.operator?.name === session.operator?.role ? session.operator?.role : `${session.operator?.name}, ${session.operator?.role}`}>
  <form onsubmit={(e) => { e.preventDefault(); void change(); }}>
    <Field label="Your password" type="password" bind:value={old} autocomplete="current-password" required />
    <Field label="New password" type="password" bind:value={fresh} autocomplete="new-password" minlength={12} required hint="12 characters or more" />
    <Button type="submit" busy={action.busy}>Change password</Button>
  </form>
  <p role="status" class="small">{done}</p>
  <Trouble problem={action.problem} />
  {#if session.operator?.hasCode}<p>The second factor is on: every sign-in asks for a one-time code.</p>
  {:else}<CodeForm done={() => void session.look()} />{/if}
  <Trouble problem={ending.problem ?? tokens.problem} />
  {#if tokens.data}<TokenList tokens={tokens.data} {end} busy={ending.busy} />{/if}
</Section>

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  form :global(button) { margin-top: 1.6rem; justify-self: start; }
  p { margin: 0; }
</style>
