<script lang="ts">
  import { ChangeInHand, setListener } from '../lib/change.svelte';
  import { session } from '../lib/session.svelte';
  import type { ExplainedListener, ExplainedSetting } from '../lib/types';
  import Button from './Button.svelte';
  import ChangeResult from './ChangeResult.svelte';
  import Field from './Field.svelte';
  import Impact from './Impact.svelte';
  import Trouble from './Trouble.svelte';
  import When from './When.svelte';
  /** A listener's settings, each in plain words, and changed after its impact was shown. */
  let { gateway, listener, mayChange }: { gateway: string; listener: ExplainedListener; mayChange: boolean } = $props();
  const sources: Record<string, string> = { files: 'from client files', entered: 'entered', trial: 'seen by a trial' };
  const seen = ['protocol', 'peers', 'active'];
  let editing = $state('');
  let value = $state('');
  const path = $derived(`/gateways/${gateway}/changes`);
  const hand = $derived(new ChangeInHand(path + '/preview', path));
  const order = $derived({ changes: [setListener(listener.name, editing, value)] });
  const edit = (s: ExplainedSetting) => { editing = s.setting; value = s.value; hand.drop(); };
</script>

<details>
  <summary><strong>{listener.name}</strong> <span class="soft">{listener.protocol}, {listener.settings.length} settings, each explained</span></summary>
  {#if hand.result}<ChangeResult change={hand.result} />{/if}
  <dl>
    {#each listener.settings as s (s.setting)}
      <dt>{s.setting}{#if s.clientsDepend}{" "}<span class="soft small" title="clients depend on this setting"> in files</span>{/if}</dt>
      <dd>
        <span class="mono">{s.value}</span>
        {#if mayChange && session.mayWrite && !seen.includes(s.setting)}<button class="quiet" onclick={() => edit(s)}>change {s.setting}</button>{/if}
        {#each s.knownFrom as k (k.source)}<span class="from small">{sources[k.source] ?? k.source}{k.value === s.value ? '' : ': '}{#if k.value !== s.value}<span class="mono">{k.value}</span>{/if}, <When at={k.at} /></span>{/each}
        <p class="small soft">{s.does} {s.costs} Safe: {s.safe}.</p>
        {#if editing === s.setting}
          <form onsubmit={(e) => { e.preventDefault(); void hand.look(order); }}>
            <Field label="New value of {s.setting}" bind:value mono required />
            <Button type="submit" busy={hand.looking.busy}>Preview</Button>
          </form>
          <Trouble problem={hand.looking.problem ?? hand.making.problem} />
          {#if hand.preview}
            <Impact preview={hand.preview} />
            <p class="do"><Button look="main" busy={hand.making.busy} onclick={() => hand.make(order)}>Apply this change</Button><Button onclick={() => { hand.drop(); editing = ''; }}>Cancel</Button></p>
          {/if}
        {/if}
      </dd>
    {/each}
  </dl>
</details>

<style>
  summary { cursor: pointer; padding: var(--gap-1) 0; }
  dl { display: grid; grid-template-columns: 11rem minmax(0, 1fr); gap: var(--gap-2) var(--gap-4); margin: var(--gap-2) 0; }
  .from { display: inline-block; margin-left: var(--gap-2); color: var(--ink-soft); }
  dt { font-weight: 600; }
  dd { margin: 0; overflow-wrap: anywhere; max-width: 80ch; display: grid; grid-template-columns: minmax(0, 1fr); gap: var(--gap-1); justify-items: start; }
  form { display: flex; gap: var(--gap-2); align-items: end; flex-wrap: wrap; }
  .do { display: flex; gap: var(--gap-2); }
  .quiet { font: inherit; font-size: var(--size-small); color: var(--accent); background: none; border: 0; padding: 0; text-decoration: underline; cursor: pointer; }
  @media (max-width: 560px) { dl { grid-template-columns: 1fr; } }
</style>
