<script lang="ts">
  import { onMount } from 'svelte';
  import Choice from '../components/Choice.svelte';
  import Empty from '../components/Empty.svelte';
  import FindingList from '../components/FindingList.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { PagedList } from '../lib/paged.svelte';
  import { Chosen, router } from '../lib/router.svelte';
  import type { Finding } from '../lib/types';
  /** All findings, by severity and gateway; the address may name one gateway. */
  const severity = new Chosen('severity');
  const open = new Chosen('open', 'yes');
  const gateway = router.chosen('gateway');
  const path = () => {
    const asked = new URLSearchParams();
    if (severity.value) asked.set('severity', severity.value);
    if (open.value === 'yes') asked.set('open', 'yes');
    if (gateway) asked.set('gateway', gateway);
    const words = asked.toString();
    return '/findings' + (words && '?' + words);
  };
  const findings = new PagedList<Finding>(path, ['finding'], true, true);
  onMount(() => findings.start());
  const choose = (choice: Chosen) => (value: string) => { choice.value = value; void findings.again(); };
  const narrowed = $derived(severity.value !== '' || findings.searched !== '' || gateway !== '');
</script>

<h1>Findings {#if gateway}<span class="soft">at {gateway}</span>{/if}</h1>
<p class="soft">What is wrong at your gateways, or about to be, worst first. Choose several to fix or accept them together. {#if gateway}<a href="/gateways/findings">Those of all gateways</a>{/if}</p>
<Trouble problem={findings.problem} />
<div class="tools">
  <label><span class="visually-hidden">Filter findings</span><input type="search" placeholder="Filter by subject" value={findings.text} oninput={(e) => findings.search(e.currentTarget.value)} /></label>
  <Choice label="Severity" bind:value={() => severity.value, choose(severity)} inline options={[{ value: '', label: 'All' }, { value: 'error', label: 'Errors' }, { value: 'warning', label: 'Warnings' }, { value: 'notice', label: 'Notices' }]} />
  <Choice label="Accepted" bind:value={() => open.value, choose(open)} inline options={[{ value: 'yes', label: 'Hide' }, { value: 'all', label: 'Show' }]} />
</div>
{#if findings.rows.length}<div class="list"><FindingList list={findings} work grouped /></div>
{:else if findings.ready}{#if narrowed}<p class="soft">None.</p>{:else}<Empty>Nothing is wrong at any gateway that was read.</Empty>{/if}{/if}

<style>
  .tools { display: flex; flex-wrap: wrap; gap: var(--gap-3); align-items: center; }
  .list { display: grid; grid-template-columns: minmax(0, 1fr); gap: var(--gap-2); }
  input { font: inherit; padding: 0.25rem 0.5rem; min-height: 2.1rem; width: min(22rem, 80vw); border: 1px solid var(--line-strong); border-radius: var(--radius); background: var(--sheet); color: var(--ink); }
</style>
