<script lang="ts">
  import { api } from '../lib/api';
  import { ChangeInHand } from '../lib/change.svelte';
  import type { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Finding } from '../lib/types';
  import Button from './Button.svelte';
  import ChangeResult from './ChangeResult.svelte';
  import Field from './Field.svelte';
  import Impact from './Impact.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  /** Findings to work through: what, for whom, the remedy; fixed by their one step or accepted with a reason. */
  let { findings = [], list, work = false }: { findings?: Finding[]; list?: PagedList<Finding>; work?: boolean } = $props();
  const changed = () => void list?.reload();
  const all = $derived(list?.rows ?? findings);
  let open = $state('');
  let accepting = $state('');
  let reason = $state('');
  let days = $state('30');
  const hand = new ChangeInHand('/findings/preview', '/findings/fix');
  const accepted = new Action();
  const fix = async (f: Finding) => { open = f.key; accepting = ''; await hand.look({ key: f.key }); };
  const make = async (f: Finding) => { await hand.make({ key: f.key }); changed(); };
  const accept = (f: Finding) => accepted.run(async () => {
    const until = new Date(Date.now() + Number(days) * 86_400_000).toISOString();
    await api.post('/findings/accept', { key: f.key, reason, until });
    accepting = ''; reason = ''; changed();
  });
  const reopen = (f: Finding) => accepted.run(async () => { await api.post('/findings/reopen', { key: f.key }); changed(); });
</script>

{#if hand.result && open}<ChangeResult change={hand.result} />{/if}
<ul>
  {#each all as f (f.key + f.evidence)}
    <li>
      <div class="head">
        <span><State state={f.acceptedUntil ? 'accepted' : f.severity} /> <strong>{f.subject}</strong> <span class="mono small soft">{f.code}</span></span>
        {#if work && session.mayWrite}
          <span class="do">
            {#if f.acceptedUntil}<Button onclick={() => reopen(f)} busy={accepted.busy}>Reopen</Button>
            {:else}
              {#if f.oneStep}<Button onclick={() => fix(f)} busy={hand.looking.busy && open === f.key}>Fix…</Button>{/if}
              <Button onclick={() => { accepting = accepting === f.key ? '' : f.key; open = ''; }}>Accept…</Button>
            {/if}
          </span>
        {/if}
      </div>
      <p>{f.breaks}{f.breaks.endsWith('.') ? '' : '.'}</p>
      <p class="small"><span class="soft">Found</span> <span class="mono">{f.evidence}</span></p>
      <p class="small"><span class="soft">Do</span> {f.remedy}</p>
      {#if f.acceptedUntil}<p class="small"><span class="soft">Accepted until {f.acceptedUntil.slice(0, 10)}</span> {f.acceptedReason}</p>{/if}
      {#if work && session.mayWrite}
        {#if open === f.key}
          <Trouble problem={hand.looking.problem ?? hand.making.problem} />
          {#if hand.preview}
            <Impact preview={hand.preview} />
            <div class="do"><Button look="main" onclick={() => make(f)} busy={hand.making.busy}>Apply this change</Button><Button onclick={() => { hand.drop(); open = ''; }}>Cancel</Button></div>
          {/if}
        {/if}
        {#if accepting === f.key}
          <form onsubmit={(e) => { e.preventDefault(); void accept(f); }}>
            <Field label="Why you accept it" bind:value={reason} required maxlength={120} />
            <Field label="Valid for (days)" bind:value={days} type="number" min={1} max={365} required />
            <Button type="submit" look="main" busy={accepted.busy}>Accept</Button>
          </form>
          <Trouble problem={accepted.problem} />
        {/if}
      {/if}
    </li>
  {/each}
</ul>
{#if list?.hasMore}<p class="soft small">The first {all.length} are shown. <Button onclick={() => void list.more()}>Show more</Button></p>{/if}

<style>
  ul { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-3); }
  li { border-left: 3px solid var(--line-strong); padding-left: var(--gap-3); display: grid; grid-template-columns: minmax(0, 1fr); gap: 2px; max-width: 80ch; overflow-wrap: anywhere; }
  .head { display: flex; justify-content: space-between; gap: var(--gap-2); flex-wrap: wrap; align-items: start; }
  .do { display: flex; gap: var(--gap-2); flex-wrap: wrap; }
  .do :global(button) { font-size: var(--size-small); padding-block: 0.15rem; min-height: 0; }
  form { display: grid; grid-template-columns: minmax(10rem, 1fr) 6rem auto; gap: var(--gap-2); align-items: end; }
  @media (max-width: 480px) { form { grid-template-columns: 1fr; } }
</style>
