<script lang="ts">
  import type { PlacedFile } from '../lib/types';
  import State from './State.svelte';
  /** The files of one gateway: whose each is, what is wrong with it, and whether it is imported. */
  let { files, owners = $bindable(), left = $bindable(), done }: { files: PlacedFile[]; owners: Record<string, string>; left: Record<string, boolean>; done: boolean } = $props();
  const words: Record<string, string> = { imported: 'can be imported', renewed: 'renews the profile', present: 'there from before', asked: 'whose is it?', 'held-back': 'held back', refused: 'cannot be imported' };
  const look = (state: string) => (['imported', 'renewed', 'present'].includes(state) ? 'ready' : state === 'refused' ? 'failed' : 'waiting');
  const word = (state: string) => (done && state === 'imported' ? 'imported' : done && state === 'renewed' ? 'a new revision' : (words[state] ?? state));
</script>

<ul>
  {#each files as { file } (file.path)}
    <li class:out={left[file.path]}>
      <div class="head"><span class="mono path">{file.path}</span> <State state={look(file.state)} word={word(file.state)} />
        {#if done && file.profile}<span class="mono small">{file.profile}</span>{/if}</div>
      {#if file.why}<p class="soft">{file.why}</p>{/if}
      {#each file.notes.filter((n) => n.severity !== 'notice') as n, i (i)}<p><State state={n.severity} /> {n.says} {#if n.detail}<span class="mono small">{n.detail}</span>{/if}</p>{/each}
      {#each file.repairs as r, i (i)}<p class="soft">Repaired: {r.reason}</p>{/each}
      {#if !done}
        <div class="edit">
          <label><span class="small">Person and device</span> <input class="mono" bind:value={owners[file.path]} placeholder="mara/laptop" aria-label="Person and device of {file.path}" /></label>
          <span class="small soft">{file.matchedBy ? `told by its ${file.matchedBy}` : 'Tender cannot tell'}</span>
          <label class="leave"><input type="checkbox" bind:checked={left[file.path]} /> leave out</label>
        </div>
      {/if}
    </li>
  {/each}
</ul>

<style>
  ul { list-style: none; margin: 0; padding: 0; }
  li { border-top: 1px solid var(--line); padding: var(--gap-2) 0; display: grid; grid-template-columns: minmax(0, 1fr) auto; gap: var(--gap-1) var(--gap-4); align-items: center; }
  li:first-child { border-top: 0; }
  li.out .path { text-decoration: line-through; }
  li > p { grid-column: 1; margin: 0; overflow-wrap: anywhere; }
  .head { grid-column: 1; display: flex; flex-wrap: wrap; gap: var(--gap-1) var(--gap-4); align-items: baseline; }
  .path { overflow-wrap: anywhere; }
  .edit { grid-column: 2; grid-row: 1; display: flex; flex-wrap: wrap; gap: var(--gap-1) var(--gap-3); align-items: center; }
  .edit label { display: flex; gap: var(--gap-2); align-items: center; }
  .edit input:not([type]) { font: 0.8125rem var(--mono); padding: 0.2rem 0.4rem; min-height: 1.8rem; width: 11rem; border: 1px solid var(--line-strong); border-radius: var(--radius); background: var(--sheet); color: var(--ink); }
  .edit .soft { width: 9rem; }
  @media (max-width: 60rem) { li { grid-template-columns: minmax(0, 1fr); } .edit { grid-column: 1; grid-row: auto; } .edit .soft { width: auto; } }
</style>
