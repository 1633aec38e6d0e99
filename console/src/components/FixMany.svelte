<script lang="ts">
  import { onMount } from 'svelte';
  import { api, CallProblem } from '../lib/api';
  import { ChangeInHand } from '../lib/change.svelte';
  import { Action } from '../lib/resource.svelte';
  import type { DeviceChange, Finding, Preview, Problem } from '../lib/types';
  import Button from './Button.svelte';
  import Impact from './Impact.svelte';
  import Overlay from './Overlay.svelte';
  import State from './State.svelte';
  import Trouble from './Trouble.svelte';
  /** Fixes several findings, one change after the other: what each would do is shown first, and what came of it afterwards. */
  let { findings, closing }: { findings: Finding[]; closing: () => void } = $props();
  type Step = { finding: Finding; preview: Preview | null; result: DeviceChange | null; problem: Problem | null };
  // svelte-ignore state_referenced_locally
  let steps = $state.raw<Step[]>(findings.map((finding) => ({ finding, preview: null, result: null, problem: null })));
  let done = $state(false);
  const action = new Action();
  const put = (i: number, step: Partial<Step>) => (steps = steps.map((s, n) => (n === i ? { ...s, ...step } : s)));
  const each = (work: (step: Step, i: number) => Promise<void>) => action.run(async () => {
    for (let i = 0; i < steps.length; i++) {
      try {
        await work(steps[i]!, i);
      } catch (e) {
        if (!(e instanceof CallProblem)) throw e;
        put(i, { problem: e.problem });
      }
    }
  });
  onMount(() => void each(async (s, i) => { put(i, { preview: await api.post<Preview>('/findings/preview', { key: s.finding.key }) }); }));
  const cut = $derived([...new Set(steps.flatMap((s) => s.preview?.cutOff ?? []))]);
  const possible = $derived(steps.filter((s) => s.preview && !s.problem).length);
  const make = async () => {
    await each(async (s, i) => {
      if (!s.preview || s.problem) return;
      const hand = new ChangeInHand('/findings/preview', '/findings/fix');
      await hand.make({ key: s.finding.key });
      put(i, { result: hand.result, problem: hand.making.problem });
    });
    done = true;
  };
</script>

<Overlay title="Fix {steps.length} {steps.length === 1 ? 'finding' : 'findings'}" closing={action.busy ? null : closing}>
  <p class="soft">One change after the other: each gateway is backed up, changed and read again, and what fails is rolled back.{#if cut.length}{' '}<strong>Cut off for a moment: {cut.join(', ')}.</strong>{/if}</p>
  <ol>
    {#each steps as s (s.finding.key)}
      <li>
        <strong>{s.finding.subject}</strong> <span class="mono small soft">{s.finding.code}</span>
        {#if s.result}<State state={s.result.state} word={s.result.note || s.result.state} />
        {:else if s.problem}<Trouble problem={s.problem} />
        {:else if s.preview}<Impact preview={s.preview} />
        {:else}<span class="soft">…</span>{/if}
      </li>
    {/each}
  </ol>
  <div class="end">
    {#if done}<Button look="main" onclick={closing}>Close</Button>
    {:else}<Button onclick={closing} disabled={action.busy}>Cancel</Button><Button look="main" busy={action.busy} disabled={possible === 0} onclick={make}>Apply {possible} {possible === 1 ? 'change' : 'changes'}</Button>{/if}
  </div>
</Overlay>

<style>
  ol { margin: 0; padding-left: 1.4rem; display: grid; gap: var(--gap-3); max-height: 55vh; overflow-y: auto; }
  .end { display: flex; justify-content: end; gap: var(--gap-2); }
</style>
