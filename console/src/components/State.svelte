<script lang="ts">
  /** A state as shape, word and colour, in that order of importance. */
  const kinds: Record<string, string[]> = {
    proven: ['proven', 'answers', 'seen', 'ok', 'in use', 'connected', 'ready', 'done', 'active', 'kept', 'passes', 'valid', 'usable'],
    waiting: ['waiting', 'writing', 'withdrawing', 'closing', 'prepared', 'sent', 'collected', 'running', 'not handed out', 'identity to accept', 'not read yet', 'ordered', 'by-hand', 'active'],
    stale: ['stale', 'expired', 'expires soon', 'warning', 'not active', 'usable-after', 'not-known'],
    failing: ['failing', 'failed', 'fails', 'error', 'not proven', 'does not answer', 'answers, not trusted', 'not-usable', 'dangerous'],
    withdrawn: ['withdrawn', 'accepted', 'rolled-back', 'gone', 'revoked', 'not tried', 'not monitored', 'cannot be tried', 'cancelled', 'ended'],
  };
  let { state, word = state }: { state: string; word?: string } = $props();
  const kind = $derived(Object.keys(kinds).find((k) => kinds[k].includes(state)) ?? 'unknown');
</script>

<span class="state {kind}">
  <svg viewBox="0 0 12 12" aria-hidden="true">
    {#if kind === 'proven'}<circle cx="6" cy="6" r="5" fill="currentColor" />
    {:else if kind === 'waiting'}<circle cx="6" cy="6" r="4.4" /><path d="M6 1.6a4.4 4.4 0 0 1 0 8.8z" fill="currentColor" stroke="none" />
    {:else if kind === 'stale'}<path d="M6 1l5 5-5 5-5-5z" />
    {:else if kind === 'failing'}<path d="M1.5 1.5l9 9m0-9l-9 9" stroke-width="2.2" />
    {:else if kind === 'withdrawn'}<path d="M1 6h10" stroke-width="2.2" />
    {:else}<circle cx="6" cy="6" r="4.4" />{/if}
  </svg>{word}
</span>

<style>
  .state { display: inline-flex; align-items: baseline; gap: 0.4em; overflow-wrap: anywhere; }
  svg { width: 0.72em; height: 0.72em; fill: none; stroke: currentColor; stroke-width: 1.4; flex: none; }
  .proven { color: var(--proven); }
  .waiting { color: var(--waiting); }
  .stale { color: var(--stale); }
  .failing { color: var(--failing); }
  .withdrawn { color: var(--withdrawn); }
  .unknown { color: var(--unknown); }
</style>
