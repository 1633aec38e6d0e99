<script lang="ts">
  import { api } from '../lib/api';
  import { ChangeInHand } from '../lib/change.svelte';
  import { bySeverity } from '../lib/findings';
  import type { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Finding } from '../lib/types';
  import Button from './Button.svelte';
  import ChangeResult from './ChangeResult.svelte';
  import Field from './Field.svelte';
  import FindingItem from './FindingItem.svelte';
  import FixMany from './FixMany.svelte';
  import Impact from './Impact.svelte';
  import Trouble from './Trouble.svelte';
  /**
   * Findings: what, for whom, the remedy. With `work` they are fixed by their one step or accepted with a reason, also several at
   * once; with `grouped` they stand by severity and gateway.
   */
  let { findings = [], list, work = false, grouped = false }: { findings?: Finding[]; list?: PagedList<Finding>; work?: boolean; grouped?: boolean } = $props();
  const changed = () => void list?.reload();
  const all = $derived(list?.rows ?? findings);
  const groups = $derived(grouped ? bySeverity(all) : [{ title: '', gateways: [{ name: '', findings: all }] }]);
  const mayWork = $derived(work && session.mayWrite);
  let open = $state('');
  let accepting = $state('');
  let reason = $state('');
  let days = $state('30');
  let chosen = $state<string[]>([]);
  let fixing = $state(false);
  let acceptingMany = $state(false);
  const several = $derived(all.filter((f) => chosen.includes(f.key)));
  const fixable = $derived(several.filter((f) => f.oneStep && !f.acceptedUntil));
  const hand = new ChangeInHand('/findings/preview', '/findings/fix');
  const accepted = new Action();
  const fix = async (f: Finding) => { open = f.key; accepting = ''; await hand.look({ key: f.key }); };
  const make = async (f: Finding) => { await hand.make({ key: f.key }); changed(); };
  const until = () => new Date(Date.now() + Number(days) * 86_400_000).toISOString();
  const accept = (those: Finding[]) => accepted.run(async () => {
    for (const f of those) await api.post('/findings/accept', { key: f.key, reason, until: until() });
    accepting = ''; reason = ''; acceptingMany = false; chosen = []; changed();
  });
  const reopen = (f: Finding) => accepted.run(async () => { await api.post('/findings/reopen', { key: f.key }); changed(); });
  const tick = (key: string, on: boolean) => (chosen = on ? [...chosen, key] : chosen.filter((k) => k !== key));
</script>

{#snippet why(those: Finding[])}
  <form onsubmit={(e) => { e.preventDefault(); void accept(those); }}>
    <Field label="Why you accept {those.length === 1 ? 'it' : 'them'}" bind:value={reason} required maxlength={120} />
    <Field label="Valid for (days)" bind:value={days} type="number" min={1} max={365} required />
    <Button type="submit" look="main" busy={accepted.busy}>Accept</Button>
  </form>
  <Trouble problem={accepted.problem} />
{/snippet}

{#if hand.result && open}<ChangeResult change={hand.result} />{/if}
{#if mayWork && several.length}
  <div class="several" role="group" aria-label="What to do with the chosen findings">
    <span>{several.length} chosen</span>
    <Button look="main" disabled={fixable.length === 0} onclick={() => (fixing = true)}>Fix {fixable.length}…</Button>
    <Button onclick={() => (acceptingMany = !acceptingMany)}>Accept {several.length}…</Button>
    <Button onclick={() => { chosen = []; acceptingMany = false; }}>Choose none</Button>
    {#if acceptingMany}<div class="why">{@render why(several)}</div>{/if}
  </div>
{/if}
{#each groups as group (group.title)}
  {#if group.title}<h3>{group.title}</h3>{/if}
  {#each group.gateways as gateway (gateway.name)}
    {#if grouped && gateway.name}<h4>{gateway.name}</h4>{/if}
    <ul>
      {#each gateway.findings as f (f.key + f.evidence)}
        {#snippet pick()}<input type="checkbox" aria-label="Choose {f.subject} {f.code}" checked={chosen.includes(f.key)} onchange={(e) => tick(f.key, e.currentTarget.checked)} />{' '}{/snippet}
        {#snippet actions()}
          {#if f.acceptedUntil}<Button onclick={() => reopen(f)} busy={accepted.busy}>Reopen</Button>
          {:else}
            {#if f.oneStep}<Button onclick={() => fix(f)} busy={hand.looking.busy && open === f.key}>Fix…</Button>{/if}
            <Button onclick={() => { accepting = accepting === f.key ? '' : f.key; open = ''; }}>Accept…</Button>
          {/if}
        {/snippet}
        {#snippet below()}
          {#if open === f.key}
            <Trouble problem={hand.looking.problem ?? hand.making.problem} />
            {#if hand.preview}
              <Impact preview={hand.preview} />
              <div class="do"><Button look="main" onclick={() => make(f)} busy={hand.making.busy}>Apply this change</Button><Button onclick={() => { hand.drop(); open = ''; }}>Cancel</Button></div>
            {/if}
          {/if}
          {#if accepting === f.key}{@render why([f])}{/if}
        {/snippet}
        <li><FindingItem finding={f} pick={mayWork && grouped ? pick : undefined} actions={mayWork ? actions : undefined} below={mayWork ? below : undefined} /></li>
      {/each}
    </ul>
  {/each}
{/each}
{#if list?.hasMore}<p class="soft small">The first {all.length} are shown. <Button onclick={() => void list.more()}>Show more</Button></p>{/if}
{#if fixing}<FixMany findings={fixable} closing={() => { fixing = false; chosen = []; changed(); }} />{/if}

<style>
  h3 { font-size: var(--size); margin: var(--gap-2) 0 0; }
  h4 { font-size: var(--size-small); margin: 0; color: var(--ink-soft); font-weight: 600; }
  ul { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-3); }
  li { border-left: 3px solid var(--line-strong); padding-left: var(--gap-3); display: grid; grid-template-columns: minmax(0, 1fr); gap: 2px; max-width: 90ch; overflow-wrap: anywhere; }
  .do { display: flex; gap: var(--gap-2); flex-wrap: wrap; }
  .several { display: flex; flex-wrap: wrap; gap: var(--gap-2); align-items: center; background: var(--sunk); padding: var(--gap-2) var(--gap-3); border-radius: var(--radius); position: sticky; top: 0; z-index: 1; }
  .why { flex: 1 1 100%; }
  form { display: grid; grid-template-columns: minmax(10rem, 1fr) 8rem auto; gap: var(--gap-2); align-items: end; }
  @media (max-width: 480px) { form { grid-template-columns: 1fr; } }
</style>
