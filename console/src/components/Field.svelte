<script lang="ts">
  import type { HTMLInputAttributes } from 'svelte/elements';
  /** A labelled input with a hint below it. */
  let { label, hint = '', value = $bindable(''), mono = false, ...rest }: { label: string; hint?: string; value?: string; mono?: boolean } & HTMLInputAttributes = $props();
  const id = $props.id();
</script>

<div class="field">
  <label for={id}>{label}</label>
  <input {id} class:mono bind:value aria-describedby={hint ? `${id}-hint` : undefined} {...rest} />
  {#if hint}<span class="small soft" id="{id}-hint">{hint}</span>{/if}
</div>

<style>
  .field { display: grid; gap: var(--gap-1); }
  label { font-size: var(--size-small); font-weight: 600; }
  input {
    font: inherit; padding: 0.35rem 0.5rem; min-height: 2.1rem; width: 100%; border: 1px solid var(--line-strong); border-radius: var(--radius);
    background: var(--sheet); color: var(--ink);
  }
  input.mono { font-family: var(--mono); }
</style>
