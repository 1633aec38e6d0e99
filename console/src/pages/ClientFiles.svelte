<script lang="ts">
  import Button from '../components/Button.svelte';
  import Empty from '../components/Empty.svelte';
  import Field from '../components/Field.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import { onMount } from 'svelte';
  import { session } from '../lib/session.svelte';
  import type { Imported, ImportedFile, Gateway } from '../lib/types';

  /** A gateway's own client files: whose each is, what would be repaired, and which repairs are taken. */
  let { id }: { id: string } = $props();
  const gateway = new Resource(() => api.get<Gateway>('/gateways/' + id), ['gateway']);
  onMount(() => gateway.start());
  let run = $state.raw<Imported | null>(null);
  let done = $state(false);
  let refused = $state<string[]>([]);
  let owners = $state<Record<string, string>>({});
  let decision = $state('');
  const asking = new Action();
  const order = (dryRun: boolean) => ({
    dryRun, refuse: refused, decision: decision || null,
    assign: Object.fromEntries(Object.entries(owners).filter(([, who]) => who.includes('/'))),
  });
  const ask = (dryRun: boolean) => asking.run(async () => {
    const found = await api.post<Imported>(`/gateways/${id}/imports`, order(dryRun));
    found.files.forEach((f) => (owners[f.path] ??= ''));
    run = found;
    done = !dryRun;
  });
  const turn = (word: string) => {
    refused = refused.includes(word) ? refused.filter((r) => r !== word) : [...refused, word];
  };
  const word = (f: ImportedFile) => ({ imported: done ? 'imported' : 'can be imported', renewed: done ? 'a new revision' : 'renews the profile', present: 'there from before', asked: 'whose is it?', 'held-back': 'held back', refused: 'refused' })[f.state] ?? f.state;
  const look = (f: ImportedFile) => (['imported', 'renewed', 'present'].includes(f.state) ? 'ready' : f.state === 'refused' ? 'failed' : 'waiting');
</script>

<h1>Client files of {gateway.data?.name ?? 'a gateway'}</h1>
<p>Client files that the gateway exported, matched to devices and repaired to fit its listeners. Tender keeps each original byte for byte as revision 1; the repaired file is revision 2.</p>
<p><Button look="main" busy={asking.busy} onclick={() => ask(true)}>{run ? 'Look again' : 'Read them'}</Button></p>
<Trouble problem={asking.problem} />
<div aria-live="polite">
  {#if run}
    {#each run.files as f (f.path)}
      <section>
        <h2><span class="mono">{f.path}</span> <State state={look(f)} word={word(f)} /></h2>
        {#if f.person}<p>{f.person}'s {f.device}, told by its {f.matchedBy}{f.profile ? ': ' + f.profile : ''}</p>{/if}
        {#if f.state === 'asked'}<p class="soft">Tender cannot tell from certificate or file name whose file this is.</p>{:else if f.why}<p class="soft">{f.why}</p>{/if}
        {#if f.state === 'asked' && session.mayWrite}<div class="whose"><Field label="Whose is {f.path}" bind:value={owners[f.path]} placeholder="mara/laptop" mono /></div>{/if}
        {#if f.notes.length}<ul>{#each f.notes as n, i (i)}<li><State state={n.severity} /> {n.says} <span class="mono small">{n.detail}</span></li>{/each}</ul>{/if}
        {#each f.repairs as r (r.rule + r.line)}
          {@const key = `${f.path}=${r.rule}`}
          <div class="repair" class:off={refused.includes(key)}>
            <label><input type="checkbox" checked={!refused.includes(key)} disabled={done || !session.mayWrite} onchange={() => turn(key)} /> repair: {r.reason}</label>
            {#if r.before}<pre class="before"><span class="soft">before</span> {r.before}</pre>{/if}
            {#if r.after}<pre class="after"><span class="soft">after </span> {r.after}</pre>{/if}
          </div>
        {/each}
      </section>
    {:else}<Empty>The device provides no client files.</Empty>{/each}
    {#if !done && session.mayWrite && run.files.length}
      {#if run.files.some((f) => f.state === 'held-back')}<Field label="Why dangerous lines are kept; recorded in the journal" bind:value={decision} />{/if}
      <p><Button look="main" busy={asking.busy} onclick={() => ask(false)}>Import what can be imported</Button></p>
    {:else if done}<p role="status">{run.imported} imported, {run.asked} still need an owner. <a href="/profiles">Profiles</a></p>{/if}
  {/if}
</div>

<style>
  section { border-top: 1px solid var(--line); padding: var(--gap-3) 0; }
  h2 { font-size: inherit; margin: 0 0 var(--gap-2); overflow-wrap: anywhere; }
  p { margin: var(--gap-2) 0; }
  ul { list-style: none; margin: 0; padding: 0; }
  .whose { max-width: 22rem; margin-bottom: var(--gap-2); }
  .repair { margin: var(--gap-2) 0 0 var(--gap-4); }
  .off pre { opacity: 0.75; text-decoration: line-through; }
  pre { margin: 0.1rem 0 0 1.6rem; font: 0.8125rem/1.5 var(--mono); white-space: pre-wrap; overflow-wrap: anywhere; }
</style>
