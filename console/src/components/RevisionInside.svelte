<script lang="ts">
  import { api, CallProblem } from '../lib/api';
  import type { Inside, Problem, Revision } from '../lib/types';
  import Inspected from './Inspected.svelte';
  import Trouble from './Trouble.svelte';
  /** A revision's file beside its words, or beside another revision with what differs marked. */
  let { profile, revisions }: { profile: string; revisions: Revision[] } = $props();
  let shown = $state(0);
  let beside = $state(0);
  let left = $state.raw<Inside | null>(null);
  let right = $state.raw<Inside | null>(null);
  let problem = $state.raw<Problem | null>(null);
  let asked = 0;
  const load = (number: number) => api.get<Inside>(`/profiles/${profile}/inside?revision=${number}`);
  const newest = $derived(revisions[0]?.number ?? 0);
  $effect(() => {
    const a = shown || newest;
    const b = beside;
    if (a) void look(a, b);
  });
  /** What is asked for last is shown, whatever comes when. */
  async function look(a: number, b: number): Promise<void> {
    const mine = ++asked;
    try {
      const [one, other] = await Promise.all([load(a), b ? load(b) : null]);
      if (mine === asked) { left = one; right = other; problem = null; }
    } catch (e) {
      if (!(e instanceof CallProblem)) throw e;
      if (mine === asked) problem = e.problem;
    }
  }
  const marked = (lines: string[], other: Inside | null) => {
    const there = new Set(other?.lines ?? []);
    return lines.map((text) => ({ text, differs: other !== null && text.trim() !== '' && !there.has(text) }));
  };
</script>

<div class="choose">
  <label>Revision <select value={shown || newest} onchange={(e) => (shown = Number(e.currentTarget.value))}>{#each revisions as r (r.number)}<option value={r.number}>{r.number}</option>{/each}</select></label>
  {#if revisions.length > 1}
    <label>beside <select value={beside} onchange={(e) => (beside = Number(e.currentTarget.value))}><option value={0}>its words</option>{#each revisions as r (r.number)}<option value={r.number}>revision {r.number}</option>{/each}</select></label>
  {/if}
</div>
{#if left}
  <div class="two">
    {@render file(left, right)}
    {#if right}{@render file(right, left)}{:else}<div>{#each left.words.files as i, n (n)}<Inspected of={i} />{/each}</div>{/if}
  </div>
{/if}
<Trouble {problem} />

{#snippet file(of: Inside, other: Inside | null)}
  <figure>
    <figcaption><span class="mono">{of.fileName}</span> <span class="soft small">revision {of.number}, secrets kept back</span></figcaption>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <ol tabindex="0" aria-label="lines of {of.fileName}, revision {of.number}">
      {#each marked(of.lines, other) as line, n (n)}<li class:differs={line.differs}>{#if line.differs}<span class="sign" aria-label="differs">≠</span>{/if}{line.text}</li>{/each}
    </ol>
  </figure>
{/snippet}

<style>
  .choose { display: flex; gap: var(--gap-3); margin-bottom: var(--gap-3); }
  select { font: inherit; color: var(--ink); background: var(--sheet); border: 1px solid var(--line-strong); border-radius: var(--radius); padding: 0.2rem 0.4rem; }
  .two { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: var(--gap-4); align-items: start; }
  figure { margin: 0; min-width: 0; }
  figcaption { margin-bottom: var(--gap-2); overflow-wrap: anywhere; }
  ol { margin: 0; padding: var(--gap-2) 0; max-height: 30rem; overflow: auto; border: 1px solid var(--line); background: var(--sheet); font: 0.8125rem/1.5 var(--mono); list-style: none; counter-reset: line; }
  li { counter-increment: line; padding: 0 var(--gap-2) 0 3.2rem; position: relative; white-space: pre-wrap; overflow-wrap: anywhere; min-height: 1.5em; }
  li::before { content: counter(line); position: absolute; left: 0; width: 2rem; text-align: right; color: var(--ink-soft); }
  .differs { box-shadow: inset 3px 0 0 var(--accent); font-weight: 600; }
  .sign { position: absolute; left: 2.3rem; }
  @media (max-width: 60rem) { .two { grid-template-columns: minmax(0, 1fr); } }
</style>
