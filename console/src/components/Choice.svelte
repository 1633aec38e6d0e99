<script lang="ts">
  /** A labelled choice; until one is made the first option counts. */
  let { label, value = $bindable(''), options, inline = false }: { label: string; value?: string; options: { value: string; label: string }[]; inline?: boolean } = $props();
  const id = $props.id();
  const shown = $derived(options.some((o) => o.value === value) ? value : (options[0]?.value ?? ''));
</script>

<div class="field" class:inline>
  <label for={id}>{label}</label>
  <select {id} value={shown} onchange={(e) => (value = e.currentTarget.value)}>
    {#each options as option (option.value)}<option value={option.value}>{option.label}</option>{/each}
  </select>
</div>

<style>
  .field { display: grid; gap: var(--gap-1); }
  .inline { grid-template-columns: auto auto; align-items: center; gap: var(--gap-2); }
  label { font-size: var(--size-small); font-weight: 600; }
  select {
    font: inherit; padding: 0.3rem 0.5rem; min-height: 2.1rem; width: 100%; border: 1px solid var(--line-strong); border-radius: var(--radius);
    background: var(--sheet); color: var(--ink);
  }
</style>
