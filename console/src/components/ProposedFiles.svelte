<script lang="ts">
  import type { PlacedFile } from '../lib/types';
  import Field from './Field.svelte';
  import State from './State.svelte';
  /** The files of one gateway: whose each is, what is wrong with it, and whether it is imported. */
  let { files, owners = $bindable(), left = $bindable(), done }: { files: PlacedFile[]; owners: Record<string, string>; left: Record<string, boolean>; done: boolean } = $props();
  const words: Record<string, string> = { imported: 'can be imported', present: 'there from before', asked: 'whose is it?', 'held-back': 'held back', refused: 'cannot be imported' };
  const look = (state: string) => (state === 'imported' || state === 'present' ? 'ready' : state === 'refused' ? 'failed' : 'waiting');
  const word = (state: string) => (done && state === 'imported' ? 'imported' : (words[state] ?? state));
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
          <Field label="Person and device" bind:value={owners[file.path]} placeholder="mara/laptop" mono hint={file.matchedBy ? `told by its ${file.matchedBy}` : 'Tender cannot tell'} />
          <label><input type="checkbox" bind:checked={left[file.path]} /> leave out</label>
        </div>
      {/if}
    </li>
  {/each}
</ul>

<style>
  ul { list-style: none; margin: 0; padding: 0; }
  li { border-top: 1px solid var(--line); padding: var(--gap-3) 0; display: grid; gap: var(--gap-2); }
  li.out .path { text-decoration: line-through; }
  p { margin: 0; overflow-wrap: anywhere; }
  .head { display: flex; flex-wrap: wrap; gap: var(--gap-2) var(--gap-4); align-items: baseline; }
  .path { overflow-wrap: anywhere; }
  .edit { display: flex; flex-wrap: wrap; gap: var(--gap-3) var(--gap-4); align-items: center; }
</style>
