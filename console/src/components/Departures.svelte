<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { Action, Resource } from '../lib/resource.svelte';
  import { session } from '../lib/session.svelte';
  import type { Departure, DepartureShown } from '../lib/types';
  import Button from './Button.svelte';
  import Section from './Section.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  import When from './When.svelte';
  /** People who left and devices that were lost, of one person or of all, with what trials have shown. */
  let { person = '' }: { person?: string } = $props();
  const all = new Resource(() => api.list<Departure>('/departures' + (person && '?person=' + encodeURIComponent(person))), ['person', 'profile']);
  onMount(() => all.start());
  let shown = $state.raw<DepartureShown | null>(null);
  const looking = new Action();
  const show = (d: Departure) => looking.run(async () => { shown = shown?.departure.id === d.id ? null : await api.get<DepartureShown>('/departures/' + d.id); });
  const checking = new Action();
  const check = (d: Departure) => checking.run(async () => { shown = await api.post<DepartureShown>(`/departures/${d.id}/check`); await all.reload(); });
  const how = (r: DepartureShown['refusals'][number]) => r.shown === 'refused' ? `, while ${r.control} was let in` : r.found ? `: ${r.found}` : r.state === 'closing' ? ': to be closed by hand' : r.state === 'withdrawn' ? '' : ': the gateway does not show yet that it is gone';
  const words = { open: 'not shown yet', refused: 'refused', 'not-triable': 'cannot be tried' } as Record<string, string>;
</script>

{#if all.data?.length}
  <Section title="Left and lost" note="shown by trials with the very files">
    <ul>
      {#each all.data.slice(0, 50) as d (d.id)}
        <li>
          <div class="row">
            <span>{#if !person}<a href="/people/{d.handle}">{d.person}</a>{' '}{/if}{d.device ? `${d.device}, lost` : 'left'} <span class="soft small"><When at={d.orderedAt} /></span></span>
            <State state={d.open ? 'waiting' : 'ok'} word={d.open ? `${d.open} of ${d.profiles} not shown to be refused yet` : `all ${d.profiles} ended`} />
            <span class="do"><Button busy={looking.busy} aria-expanded={shown?.departure.id === d.id} onclick={() => show(d)}>Details</Button>{#if d.open && session.mayWrite}<Button busy={checking.busy} onclick={() => check(d)}>Try now</Button>{/if}</span>
          </div>
          {#if shown?.departure.id === d.id}
            <ul class="small">{#each shown.refusals as r (r.profileId)}<li><a href="/profiles/{r.profileId}">{r.profile}</a> at {r.gateway}: <State state={r.shown === 'open' ? 'waiting' : 'ok'} word={words[r.shown]} />{how(r)}{#if r.endedAt}, <When at={r.endedAt} />{/if}</li>{/each}</ul>
          {/if}
        </li>
      {/each}
    </ul>
    <Trouble problem={looking.problem ?? checking.problem} />
  </Section>
{/if}
<Trouble problem={all.problem} />

<style>
  ul { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-2); }
  ul ul { padding: var(--gap-2) 0 0 var(--gap-4); overflow-wrap: anywhere; }
  .row { display: grid; grid-template-columns: minmax(0, 1fr) auto auto; gap: var(--gap-3); align-items: center; }
  .do { display: flex; gap: var(--gap-2); }
  @media (max-width: 560px) { .row { grid-template-columns: minmax(0, 1fr); } }
</style>
