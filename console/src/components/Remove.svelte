<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Removal } from '../lib/types';
  import Button from './Button.svelte';
  import Trouble from './Trouble.svelte';
  /** Removes one thing: what goes with it is shown first, and what still stands against it. */
  let { path, removed, label = 'Remove' }: { path: string; removed: () => void; label?: string } = $props();
  let preview = $state.raw<Removal | null>(null);
  const action = new Action();
  const look = () => action.run(async () => void (preview = await api.get<Removal>(path + '/removal')));
  const remove = () => action.run(async () => {
    await api.remove(path);
    preview = null;
    removed();
  });
</script>

{#if preview}
  <div class="preview" role="group" aria-label="Removing {preview.what}">
    <p><strong>{preview.what}</strong></p>
    <ul>{#each preview.effects as effect (effect)}<li>{effect}</li>{/each}</ul>
    {#each preview.obstacles as obstacle (obstacle)}<p class="obstacle">It cannot be removed yet: {obstacle}</p>{/each}
    <p class="end">
      <Button onclick={() => (preview = null)}>Cancel</Button>
      {#if preview.obstacles.length === 0}<Button look="harm" busy={action.busy} onclick={remove}>Remove it</Button>{/if}
    </p>
  </div>
{:else}<Button busy={action.busy} onclick={look}>{label}</Button>{/if}
<Trouble problem={action.problem} />

<style>
  .preview { border: 1px solid var(--line-strong); padding: var(--gap-3) var(--gap-4); display: grid; gap: var(--gap-2); max-width: 44rem; background: var(--sheet); }
  p, ul { margin: 0; }
  .obstacle { border-left: 3px solid var(--failing); padding-left: var(--gap-3); overflow-wrap: anywhere; }
  .end { display: flex; gap: var(--gap-2); }
</style>
