<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { bytes } from '../lib/format';
  import { Resource } from '../lib/resource.svelte';
  import type { Handout, Page, Session, Trial } from '../lib/types';
  import State from './State.svelte';
  import When from './When.svelte';
  /** What happened with a person's profiles: handouts, connections and trials, newest first. */
  let { person }: { person: string } = $props();
  type Event = { id: string; at: string; kind: string; state: string; words: string; href: string };
  const OF_EACH = 20;
  const newest = async <T,>(list: string, more = '') => (await api.get<Page<T>>(`/${list}?person=${encodeURIComponent(person)}&limit=${OF_EACH}${more}`)).items;
  const events = new Resource(async () => {
    const [handouts, sessions, trials] = await Promise.all([newest<Handout>('handouts'), newest<Session>('sessions', '&past=any'), newest<Trial>('trials')]);
    const all: Event[] = [
      ...handouts.map((h) => ({ id: 'h' + h.id, at: h.preparedAt, kind: 'Handout', state: h.state, words: `${h.profile}, revision ${h.revision}`, href: '/handouts?text=' + encodeURIComponent(h.profile) })),
      ...handouts.flatMap((h) => (h.collectedAt ? [{ id: 'c' + h.id, at: h.collectedAt, kind: 'Collected', state: 'collected', words: h.fileName, href: '/handouts?text=' + encodeURIComponent(h.profile) }] : [])),
      ...sessions.map((s) => ({ id: 's' + s.id, at: s.since, kind: 'Connection', state: s.endedAt ? 'ended' : 'connected', words: `${s.device ?? s.profile ?? ''} at ${s.gateway} from ${s.endpoint}, ${bytes(s.received + s.sent)}`, href: '/connections?text=' + encodeURIComponent(s.profile ?? '') })),
      ...trials.map((t) => ({ id: 't' + t.id, at: t.createdAt, kind: 'Trial', state: t.verdict ?? t.state, words: `${t.profile} from ${t.vantage}`, href: '/proof/' + t.id })),
    ];
    return all.sort((a, b) => (a.at < b.at ? 1 : -1)).slice(0, 2 * OF_EACH);
  }, ['handout', 'session', 'trial']);
  onMount(() => events.start());
</script>

{#if events.data?.length}
  <ol>
    {#each events.data as e (e.id)}<li><span class="small soft"><When at={e.at} /></span> <span>{e.kind}</span> <State state={e.state} /> <a href={e.href}>{e.words}</a></li>{/each}
  </ol>
{:else if events.data}<p class="soft">Nothing was handed out, tried or connected yet.</p>{/if}

<style>
  ol { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-1); }
  li { display: grid; grid-template-columns: 5rem 6rem 8rem minmax(0, 1fr); gap: var(--gap-2); align-items: baseline; overflow-wrap: anywhere; }
  @media (max-width: 560px) { li { grid-template-columns: 5rem 1fr; } li a { grid-column: 1 / -1; } }
</style>
