<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Instruction, InstructionChecked, InstructionShown } from '../lib/types';
  import Button from './Button.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  import When from './When.svelte';
  /** One thing that somebody has to do by hand at a gateway: what to enter and to copy, and saying that it is done. */
  let { instruction: i, changed }: { instruction: Instruction; changed: (done: boolean) => void } = $props();
  const path = $derived('/instructions/' + i.id);
  const action = new Action();
  const checking = new Action();
  let shown = $state<InstructionShown | null>(null);
  let checked = $state<InstructionChecked | null>(null);
  const show = () => action.run(async () => { shown = await api.post<InstructionShown>(path + '/show'); });
  const done = () => checking.run(async () => {
    checked = null;
    checked = await api.post<InstructionChecked>(path + '/done');
    changed(checked.done);
  });
  const cancel = () => action.run(async () => { await api.post(path + '/cancel'); changed(false); });
</script>

<p class="long">{i.words}</p>
<p class="soft small">asked <When at={i.askedAt} />{i.orderedBy ? ` by ${i.orderedBy}` : ''}{#if i.askedOf && i.sentAt}; sent to {i.askedOf} <When at={i.sentAt} />{:else}; sent to nobody yet{/if}</p>
{#if shown}
  <div class="steps">
    <p>{shown.what}</p>
    {#if shown.values.length}<table><tbody>{#each shown.values as v (v.label)}<tr><th scope="row">{v.label}</th><td class="mono">{v.value}</td></tr>{/each}</tbody></table>{/if}
    {#if shown.why}<p><strong>Why</strong> {shown.why}</p>{/if}
    <p><strong>Cut off</strong> {shown.cuts}</p>
    <p><strong>Afterwards</strong> {shown.check}</p>
    {#each shown.texts as t (t.label)}<p>{t.label}, to copy:</p><pre>{t.text}</pre>{/each}
  </div>
{/if}
{#if session.mayWrite}
  <p class="do">
    {#if !shown}<Button busy={action.busy} aria-label="Show what to do for: {i.subject}" onclick={show}>Show what to do</Button>{/if}
    <Button look="main" busy={checking.busy} aria-label="It is done, try it: {i.subject}" onclick={done}>It is done: try it</Button>
    {#if i.kind === 'change'}<Button busy={action.busy} aria-label="Cancel it: {i.subject}" onclick={cancel}>Cancel it</Button>{/if}
  </p>
{/if}
<Trouble problem={action.problem ?? checking.problem} />
<div aria-live="polite">{#if checked && !checked.done}<p><State state="waiting" word="It stays open" />: {checked.found}.</p>{/if}</div>

<style>
  .long { overflow-wrap: anywhere; }
  p { margin: 0 0 var(--gap-2); }
  .steps { background: var(--sheet); border: 1px solid var(--line); padding: var(--gap-3) var(--gap-4); margin-bottom: var(--gap-3); }
  table { border-collapse: collapse; margin-bottom: var(--gap-3); }
  th, td { text-align: left; font-weight: 400; padding: 2px var(--gap-4) 2px 0; vertical-align: top; overflow-wrap: anywhere; }
  th { color: var(--soft); }
  pre { background: var(--sunk); padding: var(--gap-3); overflow-x: auto; margin: 0 0 var(--gap-3); }
  .do { display: flex; flex-wrap: wrap; gap: var(--gap-2); }
</style>
