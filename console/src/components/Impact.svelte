<script lang="ts">
  import type { Preview } from '../lib/types';
  import State from './State.svelte';
  /** What a change would do, shown before its button: restart, who is cut, whose files, what it fixes and brings. */
  let { preview }: { preview: Preview } = $props();
</script>

<div class="impact" aria-live="polite">
  <p><strong>{preview.words.join('; ')}</strong></p>
  <ul>
    <li>{preview.restartWords}{#if preview.cutOff.length > 0}: <strong>{preview.cutOff.join(', ')}</strong>{/if}.</li>
    <li>{preview.works} {preview.works === 1 ? 'file keeps' : 'files keep'} working{#if preview.affected.length > 0}; these are affected:{/if}</li>
  </ul>
  {#if preview.affected.length > 0}
    <table>
      <caption class="visually-hidden">Files that are affected</caption>
      <thead><tr><th scope="col">Person</th><th scope="col">Profile</th><th scope="col">What happens</th><th scope="col">Differences</th></tr></thead>
      <tbody>
        {#each preview.affected.slice(0, 100) as a (a.profileId)}
          <tr><td>{a.person}</td><td><a href="/profiles/{a.profileId}">{a.label}</a></td><td>{a.fate === 'refreshes' ? 'refreshes by itself' : 'needs a new handout'}</td>
            <td class="mono">{a.differences.map((d) => `${d.field} ${d.was} becomes ${d.becomes}`).join('; ')}</td></tr>
        {/each}
      </tbody>
    </table>
    {#if preview.affected.length > 100}<p class="soft small">and {preview.affected.length - 100} more</p>{/if}
  {/if}
  {#each preview.vanishes as f (f.key)}<p class="small"><State state="ok" word="fixes" /> {f.subject} <span class="mono soft">{f.code}</span></p>{/each}
  {#each preview.appears as f (f.key)}<p class="small"><State state="warning" word="brings" /> {f.subject} <span class="mono soft">{f.code}</span>: {f.evidence}</p>{/each}
  {#if preview.byHand}<p class="small"><strong>To be done by hand:</strong> Tender does not write this gateway. It becomes an instruction for a person, with the values to enter.</p>{/if}
  {#if preview.guarded}<p class="small soft">The device rolls the change back by itself unless Tender reads it again in time.</p>{/if}
</div>

<style>
  .impact { display: grid; gap: var(--gap-2); border-left: 3px solid var(--accent); padding-left: var(--gap-3); overflow-x: auto; }
  ul { margin: 0; padding-left: 1.2rem; }
  table { border-collapse: collapse; font-size: var(--size-small); }
  th, td { text-align: left; padding: 2px var(--gap-3) 2px 0; vertical-align: top; border-bottom: 1px solid var(--line); }
</style>
