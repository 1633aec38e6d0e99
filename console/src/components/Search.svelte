<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { router } from '../lib/router.svelte';
  import type { Hit, Page } from '../lib/types';
  /** Search from everywhere: "/" goes there, arrows choose, Enter opens. */
  const homes: Record<string, string> = { person: 'people', gateway: 'gateways', profile: 'profiles' };
  let text = $state('');
  let hits = $state.raw<Hit[]>([]);
  let chosen = $state(0);
  let input: HTMLInputElement;

  onMount(() => {
    const key = (e: KeyboardEvent) => {
      if (e.key === '/' && !(e.target as Element).closest('input, textarea, select')) {
        e.preventDefault();
        input.focus();
      }
    };
    addEventListener('keydown', key);
    return () => removeEventListener('keydown', key);
  });

  async function look(): Promise<void> {
    const wanted = text.trim();
    const found = wanted === '' ? [] : (await api.get<Page<Hit>>('/search?text=' + encodeURIComponent(wanted))).items;
    if (wanted === text.trim()) {
      hits = found;
      chosen = 0;
    }
  }
  function open(hit: Hit | undefined): void {
    if (!hit) return;
    router.go(`/${homes[hit.kind]}/${hit.id}`);
    text = '';
    hits = [];
    input.blur();
  }
  function keyed(e: KeyboardEvent): void {
    if (e.key === 'ArrowDown') chosen = Math.min(chosen + 1, hits.length - 1);
    else if (e.key === 'ArrowUp') chosen = Math.max(chosen - 1, 0);
    else if (e.key === 'Enter') open(hits[chosen]);
    else if (e.key === 'Escape') ((text = ''), (hits = []));
    else return;
    e.preventDefault();
  }
</script>

<div class="search">
  <input bind:this={input} bind:value={text} oninput={look} onkeydown={keyed} type="search" placeholder="Search  /" aria-label="Search people, gateways and profiles" role="combobox" aria-expanded={hits.length > 0} aria-controls="hits" aria-activedescendant={hits[chosen] ? `hit-${chosen}` : undefined} autocomplete="off" />
  <ul id="hits" role="listbox" aria-label="Found" hidden={hits.length === 0}>
    {#each hits as hit, i (hit.kind + hit.id)}
      <!-- the keys are those of the input -->
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <li id="hit-{i}" role="option" aria-selected={i === chosen} onclick={() => open(hit)}><span class="soft small">{hit.kind}</span> {hit.label} <span class="soft small">{hit.detail}</span></li>
    {/each}
  </ul>
</div>

<style>
  .search { position: relative; width: min(18rem, 100%); }
  input { font: inherit; width: 100%; padding: 0.25rem 0.5rem; min-height: 2rem; border: 1px solid var(--line-strong); border-radius: var(--radius); background: var(--sheet); color: var(--ink); }
  ul { position: absolute; z-index: 5; right: 0; min-width: 100%; width: max-content; max-width: 90vw; margin: 2px 0 0; padding: 0; list-style: none; background: var(--sheet); border: 1px solid var(--line-strong); }
  li { padding: 0.3rem 0.6rem; cursor: pointer; }
  li[aria-selected='true'] { background: var(--accent-ground); }
</style>
