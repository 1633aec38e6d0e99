<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Operator, Token } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import Remove from './Remove.svelte';
  import TokenList from './TokenList.svelte';
  import Trouble from './Trouble.svelte';
  /** What an owner does to one operator's account. */
  let { operator, roles, changed, closing }: { operator: Operator; roles: { value: string; label: string }[]; changed: () => void; closing: () => void } = $props();
  const path = $derived('/operators/' + encodeURIComponent(operator.name));
  const tokens = new Resource(() => api.list<Token>(path + '/tokens'), []);
  onMount(() => tokens.start());
  // svelte-ignore state_referenced_locally
  let role = $state(operator.role);
  let password = $state('');
  let done = $state('');
  const action = new Action();
  const does = (what: string, body: unknown, told: string) => action.run(async () => {
    await api.post(`${path}/${what}`, body);
    done = told;
    password = '';
    changed();
    await tokens.reload();
  });
</script>

<div class="panel" role="group" aria-label="Account of {operator.name}">
  <h3>{operator.name}</h3>
  <div class="rows">
    <form onsubmit={(e) => { e.preventDefault(); void does('role', { role }, `${operator.name} is ${role} now; sign-ins and tokens ended`); }}>
      <Choice label="Role" bind:value={role} options={roles} />
      <Button type="submit" busy={action.busy} disabled={role === operator.role}>Set role</Button>
    </form>
    <form onsubmit={(e) => { e.preventDefault(); void does('password', { password }, 'the password has to be changed at the next sign-in'); }}>
      <Field label="New first password" type="password" bind:value={password} minlength={12} required autocomplete="new-password" />
      <Button type="submit" busy={action.busy}>Reset password</Button>
    </form>
  </div>
  <p class="do">
    {#if operator.disabled}<Button busy={action.busy} onclick={() => does('enable', undefined, `${operator.name} may sign in again`)}>Enable</Button>
    {:else}<Button busy={action.busy} onclick={() => does('disable', undefined, `${operator.name} cannot sign in any more`)}>Disable</Button>{/if}
    {#if operator.hasCode}<Button busy={action.busy} onclick={() => does('reset-code', undefined, 'the second factor is off')}>Remove the second factor</Button>{/if}
    {#if tokens.data?.length}<Button busy={action.busy} onclick={() => does('end-tokens', undefined, 'all sign-ins and tokens ended')}>End all sign-ins</Button>{/if}
    <Button onclick={closing}>Close</Button>
  </p>
  <p role="status" class="small">{done}</p>
  <Trouble problem={action.problem ?? tokens.problem} />
  {#if tokens.data?.length}<TokenList tokens={tokens.data} />{:else if tokens.data}<p class="small soft">Not signed in anywhere.</p>{/if}
  {#if operator.name !== session.operator?.name}<div><Remove {path} label="Remove this operator" removed={() => { closing(); changed(); }} /></div>{/if}
</div>

<style>
  .panel { border: 1px solid var(--line-strong); padding: var(--gap-3) var(--gap-4); display: grid; gap: var(--gap-3); background: var(--sheet); }
  .rows { display: grid; grid-template-columns: repeat(auto-fit, minmax(min(20rem, 100%), 1fr)); gap: var(--gap-4); }
  form { display: grid; grid-template-columns: minmax(0, 1fr) auto; gap: var(--gap-2); align-items: end; }
  h3, p { margin: 0; }
  .do { display: flex; flex-wrap: wrap; gap: var(--gap-2); }
</style>
