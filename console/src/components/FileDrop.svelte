<script lang="ts">
  /** Files dropped or chosen; with folders where a whole folder may be chosen, too. */
  let { take, folders = false }: { take: (files: File[]) => void; folders?: boolean } = $props();
  let over = $state(false);
  const given = (files: FileList | null | undefined) => take([...(files ?? [])]);
</script>

<div class="drop" class:over role="group" aria-label="Files" ondragover={(e) => { e.preventDefault(); over = true; }} ondragleave={() => { over = false; }}
  ondrop={(e) => { e.preventDefault(); over = false; given(e.dataTransfer?.files); }}>
  <label><span>{folders ? 'Files and archives' : 'Files'}</span> <input type="file" multiple onchange={(e) => given(e.currentTarget.files)} /></label>
  {#if folders}<label><span>or a folder</span> <input type="file" webkitdirectory onchange={(e) => given(e.currentTarget.files)} /></label>{/if}
  <span class="soft">You can also drop files here.</span>
</div>

<style>
  .drop { display: flex; flex-wrap: wrap; gap: var(--gap-3); align-items: center; border: 1px dashed var(--line-strong, var(--line)); padding: var(--gap-4); }
  .drop.over { border-style: solid; }
  .drop:focus-within { outline: 2px solid currentColor; outline-offset: 2px; }
  label { display: flex; flex-wrap: wrap; gap: var(--gap-2); align-items: center; max-width: 100%; }
  input { max-width: 100%; }
</style>
