<script lang="ts">
  import { bytes } from '../lib/format';
  import type { Column } from '../lib/grid.svelte';
  import type { PagedList } from '../lib/paged.svelte';
  import type { Session } from '../lib/types';
  import Grid from './Grid.svelte';
  import When from './When.svelte';
  /** `brief` for a narrow place: without tunnel address, traffic and origin. */
  let { label, sessions = [], list, brief = false }: { label: string; sessions?: Session[]; list?: PagedList<Session>; brief?: boolean } = $props();
  const who = (s: Session) => s.personName ?? (s.profile ? s.profile : 'a key Tender does not know');
  const all: Column<Session>[] = [
    { key: 'who', label: 'Who', text: who, order: 'person' },
    { key: 'device', label: 'Device', text: (s) => s.device ?? '' },
    { key: 'gateway', label: 'Gateway', text: (s) => s.gateway, order: 'gateway' },
    { key: 'address', label: 'Tunnel address', text: (s) => s.addresses.join(', '), kind: 'mono' },
    { key: 'since', label: 'Since', text: (s) => s.since, order: 'since' },
    { key: 'heard', label: 'Last heard', text: (s) => s.lastHeard, order: 'heard' },
    { key: 'in', label: 'In', text: (s) => bytes(s.received), sort: (s) => s.received, kind: 'num', order: 'received' },
    { key: 'out', label: 'Sent', text: (s) => bytes(s.sent), sort: (s) => s.sent, kind: 'num', order: 'sent' },
    { key: 'from', label: 'From', text: (s) => s.endpoint, kind: 'mono' },
  ];
  const columns = $derived(brief ? all.filter((c) => ['who', 'device', 'gateway', 'since', 'heard'].includes(c.key)) : all);
</script>

<Grid {label} rows={sessions} {list} {columns}>
  {#snippet cell(s, column)}
    {#if column.key === 'who' && s.person}<a href="/people/{s.person}">{who(s)}</a>
    {:else if column.key === 'since'}<When at={s.since} />
    {:else if column.key === 'heard'}<When at={s.lastHeard} />
    {:else}{column.text(s)}{/if}
  {/snippet}
</Grid>
