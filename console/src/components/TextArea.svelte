<script lang="ts">
  /** A labelled text of several lines, over the whole width of its form. */
  let { label, value = $bindable(''), hint = '', rows = 4, required = false }: { label: string; value?: string; hint?: string; rows?: number; required?: boolean } = $props();
  const id = $props.id();
</script>

<div class="field">
  <label for={id}>{label}</label>
  <textarea {id} bind:value {rows} {required} spellcheck="false" autocomplete="off" aria-describedby={hint ? id + '-hint' : undefined}></textarea>
  {#if hint}<span class="small soft" id={id + '-hint'}>{hint}</span>{/if}
</div>

<style>
  .field { grid-column: 1 / -1; display: grid; gap: var(--gap-1); }
  label { font-size: var(--size-small); font-weight: 600; }
  textarea { font: 0.85rem/1.4 var(--mono); border: 1px solid var(--line-strong); background: var(--ground); color: var(--ink); border-radius: var(--radius); }
</style>
