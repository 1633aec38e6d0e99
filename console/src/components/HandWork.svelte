<script lang="ts">
  import { onMount } from 'svelte';
  import { api, save } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Gateway, Instruction, InstructionsSent } from '../lib/types';
  import Button from './Button.svelte';
  import Field from './Field.svelte';
  import InstructionItem from './InstructionItem.svelte';
  import Section from './Section.svelte';
  import Trouble from './Trouble.svelte';
  /** What is to be done by hand at one gateway, to look at, to print and to send. */
  let { gateway, changed }: { gateway: Gateway; changed: () => void } = $props();
  const all = new Resource(() => api.list<Instruction>('/instructions?gateway=' + gateway.id), ['gateway', 'profile']);
  onMount(() => all.start());
  const again = () => { void all.reload(); changed(); };
  let sending = $state(false);
  let to = $state('');
  let sent = $state('');
  const printing = new Action();
  const mailing = new Action();
  const print = () => printing.run(async () => {
    const file = await api.file(`/gateways/${gateway.id}/instructions/sheet`, undefined);
    save(file.name, file.blob);
  });
  const send = () => mailing.run(async () => {
    const answer = await api.post<InstructionsSent>(`/gateways/${gateway.id}/instructions/send`, { to: to || null });
    sent = `${answer.instructions} ${answer.instructions === 1 ? 'thing' : 'things'} to do sent to ${answer.to}.`;
    sending = false;
    again();
  });
</script>

<Section title="To be done by hand" note="what Tender cannot write on this gateway">
  {#snippet actions()}
    {#if session.mayWrite}
      <Button busy={printing.busy} onclick={print}>Sheet to print</Button>
      {#if !sending}<Button onclick={() => (sending = true)}>Send by mail</Button>{/if}
    {/if}
  {/snippet}
  {#if sending}
    <form onsubmit={(e) => { e.preventDefault(); void send(); }}>
      <Field label="To" type="email" bind:value={to} required={!gateway.contact} placeholder={gateway.contact ?? 'it@harbour-it.example'} hint={gateway.contact ? 'Empty: the contact of this gateway' : 'A contact recorded below gets mail by itself'} />
      <div class="end"><Button onclick={() => (sending = false)}>Not now</Button><Button type="submit" look="main" busy={mailing.busy}>Send</Button></div>
    </form>
  {/if}
  {#if sent}<p class="small" role="status">{sent}</p>{/if}
  <Trouble problem={all.problem ?? printing.problem ?? mailing.problem} />
  <ol>{#each all.data ?? [] as i (i.id)}<li>{#if i.profileId}<p><a href="/profiles/{i.profileId}">{i.subject}</a></p>{/if}<InstructionItem instruction={i} changed={again} /></li>{/each}</ol>
</Section>

<style>
  ol { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-4); }
  li { min-width: 0; }
  li p { margin: 0; }
  form { display: grid; grid-template-columns: minmax(0, 22rem) auto; gap: var(--gap-3); align-items: start; margin-bottom: var(--gap-3); }
  .end { display: flex; gap: var(--gap-2); padding-top: 1.6rem; }
  @media (max-width: 560px) { form { grid-template-columns: minmax(0, 1fr); } .end { padding-top: 0; } }
</style>
