<script lang="ts">
  import { day, exact } from '../lib/format';
  import type { Token } from '../lib/types';
  import Button from './Button.svelte';
  import When from './When.svelte';
  /** Sign-ins and clients' tokens; with `end` each can be ended, but the one that is in use here. */
  let { tokens, end, busy = false }: { tokens: Token[]; end?: (token: Token) => void; busy?: boolean } = $props();
</script>

<ul>
  {#each tokens as t (t.id)}
    <li>
      <span>{t.label} <span class="soft small">{t.kind === 'client' ? `client, may ${t.scope}` : 'browser'}{t.thisOne ? ', this one' : ''}</span></span>
      <span class="small">since <When at={t.createdAt} />, until <time datetime={t.expiresAt} title={exact(t.expiresAt)}>{day(t.expiresAt)}</time></span>
      {#if end && !t.thisOne}<Button {busy} aria-label="End {t.label}" onclick={() => end(t)}>End</Button>{:else}<span></span>{/if}
    </li>
  {/each}
</ul>

<style>
  ul { list-style: none; margin: 0; padding: 0; display: grid; gap: var(--gap-1); }
  li { display: grid; grid-template-columns: minmax(0, 1fr) auto 5rem; gap: var(--gap-3); align-items: center; overflow-wrap: anywhere; }
  @media (max-width: 560px) { li { grid-template-columns: minmax(0, 1fr) 5rem; } li > span:nth-child(2) { grid-row: 2; } }
</style>
