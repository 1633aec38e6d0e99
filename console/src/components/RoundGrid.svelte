<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import type { Column } from '../lib/grid.svelte';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Round } from '../lib/types';
  import Button from './Button.svelte';
  import Empty from './Empty.svelte';
  import Grid from './Grid.svelte';
  import Latency from './Latency.svelte';
  import Section from './Section.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  import When from './When.svelte';
  /** All listeners now. */
  const rounds = new Resource(() => api.list<Round>('/rounds'), ['round', 'gateway']);
  onMount(() => rounds.start());
  const action = new Action();
  const standing = (r: Round) => 
    r.verdict ?? (r.everySeconds === null ? 'not tried' : r.cause ? 'cannot be tried' : 'waiting');
  const share = (s: number | null) => (s === null ? '' : `${(s * 100).toFixed(s === 1 ? 0 : 1)} %`);
  const every = (s: number | null) => (s === null ? '' : s % 3600 === 0 ? `${s / 3600} h` : s % 60 === 0 ? `${s / 60} min` : `${s} s`);
  const cause = (r: Round) => (r.rung ? `${r.rung}: ` : '') + (r.cause ?? '');
  const order = ['not proven', 'does not answer', 'answers, not trusted', 'waiting', 'cannot be tried', 'proven', 'answers', 'not tried'];
  const columns: Column<Round>[] = [
    { key: 'listener', label: 'Listener', text: (r) => `${r.gateway} ${r.listener}` },
    { key: 'kind', label: 'Kind', text: (r) => r.protocol },
    { key: 'state', label: 'Now', text: standing, sort: (r) => order.indexOf(standing(r)) },
    { key: 'since', label: 'Since', text: (r) => r.since ?? '' },
    { key: 'latest', label: 'Round trips', text: () => '' },
    { key: 'day', label: 'Day', text: (r) => share(r.day), sort: (r) => r.day ?? 2, kind: 'num' },
    { key: 'month', label: '30 days', text: (r) => share(r.month), sort: (r) => r.month ?? 2, kind: 'num' },
    { key: 'every', label: 'Every', text: (r) => every(r.everySeconds), sort: (r) => r.everySeconds ?? 1e9, kind: 'num' },
    { key: 'cause', label: 'Cause', text: cause },
  ];
  const rows = $derived([...(rounds.data ?? [])].sort((a, b) => order.indexOf(standing(a)) - order.indexOf(standing(b))));
  const idle = $derived(rows.filter((r) => r.everySeconds === null && r.protocol !== 'pptp'));
  const failing = $derived(rows.filter((r) => r.proven === false).length);
  const note = $derived(rows.length ? `${rows.filter((r) => r.proven).length} proven or answering, ${failing} not, ${rows.filter((r) => r.proven === null).length} not tried` : '');
  let asking = $state(false);
  const begin = () =>
    action.run(async () => {
      for (const r of idle) await api.post('/rounds/' + r.id, { everySeconds: 900 });
      asking = false;
      await rounds.reload();
    });
</script>

<Section title="All listeners now" {note}>
  {#snippet actions()}
    {#if session.mayWrite && idle.length && !asking}<Button onclick={() => (asking = true)}>{idle.length === 1 ? 'Try it every 15 min' : `Try the ${idle.length} others every 15 min`}</Button>{/if}
  {/snippet}
  {#if asking}
    <div class="ask" role="group" aria-label="Confirm">
      <p>{idle.length === 1 ? 'It' : `Each of these ${idle.length} listeners`} gets a canary of Tender's own at its gateway: a key, a certificate or an account that reaches what callers reach. One for L2TP or TLS is only knocked at.</p>
      <div class="buttons"><Button look="main" busy={action.busy} onclick={begin}>Begin</Button><Button onclick={() => (asking = false)}>Leave it</Button></div>
    </div>
  {/if}
  <Trouble problem={action.problem} />
  {#if rows.length}
    <Grid label="listeners" {rows} {columns}>
      {#snippet cell(r, column)}
        {#if column.key === 'listener'}<a class="name" href="/proof/listeners/{r.id}">{r.gateway} {r.listener}</a>
        {:else if column.key === 'kind'}<span class="kind">{r.protocol}</span>
        {:else if column.key === 'state'}{#if r.trialId}<a class="quiet" href="/proof/{r.trialId}"><State state={standing(r)} /></a>{:else}<State state={standing(r)} />{/if}
        {:else if column.key === 'since'}{#if r.since}<When at={r.since} />{/if}
        {:else if column.key === 'latest'}{#if r.latest.length}<Latency results={r.latest} />{/if}
        {:else if column.key === 'cause'}<span class="note">{cause(r)}</span>
        {:else}{column.text(r)}{/if}
      {/snippet}
    </Grid>
  {:else if rounds.data}<Empty>No gateway has been read yet. Add one in the office; its listeners stand here then.</Empty>{/if}
</Section>

<style>
  .note { display: block; min-width: 14rem; }
  @media (max-width: 720px) { .note { white-space: nowrap; } }
  .quiet { text-decoration: none; }
  .name, .kind { white-space: nowrap; }
  .ask { display: grid; gap: var(--gap-2); padding: var(--gap-3); background: var(--sunk); border-left: 3px solid var(--waiting); }
  .buttons { display: flex; gap: var(--gap-2); }
</style>
