<script lang="ts">
  import type { Snippet } from 'svelte';
  /** A dialogue of the browser's own, opened when it appears. Escape closes it unless it must be answered. */
  let { title, closing, children }: { title: string; closing: (() => void) | null; children: Snippet } = $props();
  const id = $props.id();
  const show = (node: HTMLDialogElement) => node.showModal();
</script>

<dialog {@attach show} aria-labelledby={id} oncancel={(e) => { e.preventDefault(); closing?.(); }}>
  <h2 {id}>{title}</h2>
  {@render children()}
</dialog>

<style>
  dialog { border: 1px solid var(--line-strong); border-radius: var(--radius); background: var(--sheet); color: var(--ink); width: min(38rem, 94vw); padding: var(--gap-6); }
  dialog[open] { display: grid; gap: var(--gap-4); }
  dialog::backdrop { background: rgb(10 16 20 / 0.55); }
</style>
