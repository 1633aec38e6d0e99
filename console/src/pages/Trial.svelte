<script lang="ts">
  import { onMount } from 'svelte';
  import Ladder from '../components/Ladder.svelte';
  import Section from '../components/Section.svelte';
  import State from '../components/State.svelte';
  import Trouble from '../components/Trouble.svelte';
  import When from '../components/When.svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import type { Trial } from '../lib/types';

  let { id }: { id: string } = $props();
  const trial = new Resource(() => api.get<Trial>('/trials/' + id), ['trial']);
  onMount(() => trial.start());
  const t = $derived(trial.data);
</script>

<Trouble problem={trial.problem} />
{#if t}
  <div>
  <h1>{t.subject}</h1>
  <p class="verdict"><State state={t.verdict ?? t.state} /> <span class="soft">{t.restsOn ? `rests on ${t.restsOn}, ` : ''}tried from the {t.vantage}, <When at={t.endedAt ?? t.createdAt} /></span></p>
  {#if t.claims.length}
    <ul aria-label="What it shows">
      {#each t.claims as c (c.kind)}<li><State state={c.shown ? 'ok' : 'fails'} word={c.words} /></li>{/each}
    </ul>
  {/if}
  {#if t.note}<p class="soft">{t.note}.</p>{/if}
  </div>
  <Section title="Steps of the trial" note="each step needs the one above it">
    <Ladder trial={t} />
  </Section>
{/if}

<style>
  .verdict { font-size: var(--size-head); }
  ul { list-style: none; padding: 0; margin: 0.25rem 0 0; }
</style>
