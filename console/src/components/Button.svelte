<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { HTMLButtonAttributes } from 'svelte/elements';
  let { look = 'plain', busy = false, children, ...rest }: { look?: 'plain' | 'main' | 'harm'; busy?: boolean; children: Snippet } & HTMLButtonAttributes = $props();
</script>

<button type="button" class={look} aria-busy={busy} disabled={busy} {...rest}>{@render children()}{busy ? ' …' : ''}</button>

<style>
  button {
    font: inherit; padding: 0.3rem 0.8rem; min-height: 2.1rem; border-radius: var(--radius); cursor: pointer;
    border: 1px solid var(--line-strong); background: var(--sheet); color: var(--ink);
  }
  button:hover { border-color: var(--accent); }
  .main { background: var(--accent); border-color: var(--accent); color: var(--on-accent); }
  .harm { border-color: var(--failing); color: var(--failing); }
  button:disabled { opacity: 0.75; cursor: default; }
</style>
