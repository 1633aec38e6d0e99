<script lang="ts">
  import { onMount } from 'svelte';
  import type { Column } from '../lib/grid.svelte';
  import { api } from '../lib/api';
  import { PagedList } from '../lib/paged.svelte';
  import { Action } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Enrolment } from '../lib/types';
  import Button from './Button.svelte';
  import Empty from './Empty.svelte';
  import Grid from './Grid.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  import When from './When.svelte';
  /** Devices that joined: whether each holds the newest, and connects with it. */
  let { behind }: { behind: boolean } = $props();
  const list = new PagedList<Enrolment>(() => '/enrolments' + (behind ? '?behind=true' : ''), ['enrolment', 'delivery', 'profile', 'person'], true, true);
  onMount(() => list.start());
  const action = new Action();
  const end = (e: Enrolment) => action.run(async () => { await api.post(`/people/${encodeURIComponent(e.person)}/devices/${encodeURIComponent(e.device)}/end-enrolment`); await list.again(); });
  const kind = (e: Enrolment) => (e.state === 'failed' || e.failing > 0 ? 'failing' : e.state === 'ended' || e.state === 'left' ? 'withdrawn' : e.state === 'joining' || e.current < e.profiles ? 'waiting' : e.profiles > 0 ? 'proven' : 'unknown');
  const words = (e: Enrolment) => (e.state !== 'joined' ? e.state : e.profiles === 0 ? 'no profile yet' : e.failing > 0 ? 'does not connect' : e.current < e.profiles ? 'behind' : e.proven === e.profiles ? 'current, connects' : 'current');
  const columns: Column<Enrolment>[] = [
    { key: 'device', label: 'Device', text: (e) => `${e.person}/${e.device}` },
    { key: 'state', label: 'State', text: words },
    { key: 'newest', label: 'Newest', text: (e) => `${e.current} of ${e.profiles}`, kind: 'num' },
    { key: 'proven', label: 'Connect', text: (e) => `${e.proven} of ${e.profiles}`, kind: 'num' },
    { key: 'heard', label: 'Heard', text: (e) => e.seenAt },
    { key: 'system', label: 'System', text: (e) => e.system },
    { key: 'problem', label: 'Problem', text: (e) => e.problem ?? e.found ?? '' },
    ...(session.mayWrite ? [{ key: 'do', label: 'End', text: () => '', action: true }] : []),
  ];
</script>

<Trouble problem={action.problem ?? list.problem} />
{#if list.rows.length || list.text}
  <Grid label="devices" {list} {columns}>
    {#snippet cell(e, column)}
      {#if column.key === 'device'}<a href="/people/{encodeURIComponent(e.person)}">{e.person}</a>/{e.device}
      {:else if column.key === 'state'}<State state={kind(e)} word={words(e)} />
      {:else if column.key === 'heard'}<When at={e.seenAt} />
      {:else if column.key === 'do'}{#if e.state === 'joined' || e.state === 'failed'}<Button aria-label="End {e.person}/{e.device}" busy={action.busy} onclick={() => void end(e)}>End</Button>{/if}
      {:else}{column.text(e)}{/if}
    {/snippet}
  </Grid>
{:else if list.ready}<Empty>{behind ? 'Every device that joined holds the newest and connects with it.' : 'No device keeps itself current yet. Make a provisioning file, and open it on the device.'}</Empty>{/if}
