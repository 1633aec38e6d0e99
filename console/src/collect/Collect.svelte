<script lang="ts">
  import type { Collected, Problem } from '../lib/types';
  /** For someone who has never heard of a tunnel. The link's token stays in this page until it is sent with the passphrase. */
  let passphrase = $state('');
  let busy = $state(false);
  let problem = $state.raw<Problem | null>(null);
  let got = $state.raw<Collected | null>(null);
  const token = location.hash.slice(1);
  const picture = $derived(got?.qr ? 'data:image/svg+xml;base64,' + btoa(got.qr) : '');

  async function collect(): Promise<void> {
    busy = true;
    problem = null;
    try {
      const response = await fetch('/collect', {
        method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ token, passphrase }),
      });
      if (response.ok) {
        got = (await response.json()) as Collected;
        history.replaceState(null, '', '/');
      } else problem = (await response.json()) as Problem;
    } catch {
      problem = { title: 'No answer', status: 0, code: '', detail: 'the page cannot reach the office just now', place: '', remedy: 'Try again in a moment.' };
    }
    busy = false;
  }
  function save(name: string, content: BlobPart): void {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([content], { type: 'application/octet-stream' }));
    link.download = name.replace(/.*\//, '');
    link.click();
    URL.revokeObjectURL(link.href);
  }
  const bytes = (base64: string) => Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
</script>

<main>
  {#if got}
    <h1>{got.title}</h1>
    <p><button class="main" onclick={() => save(got!.fileName, got!.file)}>Save {got.fileName}</button></p>
    {#each got.parts as part (part.name)}
      <p><button class="more" onclick={() => save(part.name, bytes(part.content))}>Save {part.name}</button></p>
    {/each}
    {#if picture}<img src={picture} alt="QR code holding the same as the file {got.fileName}" />{/if}
    <h2>What to do</h2>
    <ol>{#each got.steps as step (step)}<li>{step}</li>{/each}</ol>
    <p class="soft">This page keeps nothing. Save the file or scan the picture before you close it.</p>
  {:else}
    <h1>Your connection to the office</h1>
    {#if token.length < 20}
      <p>This link is not whole. Open it once more from the message you were sent, all of it up to its last letter.</p>
    {:else}
      <p>You were told a passphrase by telephone or in person. Enter it here, and you get a file that connects your device.</p>
      <form onsubmit={(e) => { e.preventDefault(); void collect(); }}>
        <label for="passphrase">Passphrase</label>
        <input id="passphrase" bind:value={passphrase} required autocomplete="off" autocapitalize="none" spellcheck="false" placeholder="abcd-efgh-jkmn-pqrs" />
        <button class="main" disabled={busy}>{busy ? 'One moment …' : 'Get the file'}</button>
      </form>
      <div role="alert">{#if problem}<p class="trouble"><strong>{problem.title}.</strong> {problem.remedy}</p>{/if}</div>
      <p class="soft">The link can be used only so often and for so long. Looking at this page uses nothing up.</p>
    {/if}
  {/if}
</main>

<style>
  main { max-width: 34rem; margin: 0 auto; padding: var(--gap-6) var(--gap-4); display: grid; gap: var(--gap-4); font-size: 1.0625rem; }
  form { display: grid; gap: var(--gap-2); }
  label { font-weight: 600; }
  input { font: 1.15rem var(--mono); padding: 0.6rem; border: 1px solid var(--line-strong); border-radius: var(--radius); background: var(--sheet); color: var(--ink); width: 100%; }
  .main { font: inherit; font-weight: 600; min-height: 3rem; padding: 0.6rem 1.2rem; border: 0; border-radius: var(--radius); background: var(--accent); color: var(--on-accent); cursor: pointer; width: 100%; overflow-wrap: anywhere; }
  .more { font: inherit; min-height: 2.75rem; padding: 0.5rem 1.2rem; border: 1px solid var(--line-strong); border-radius: var(--radius); background: var(--sheet); color: var(--ink); cursor: pointer; width: 100%; overflow-wrap: anywhere; }
  img { width: min(22rem, 100%); justify-self: center; border: 1px solid var(--line); background: #fff; }
  ol { padding-left: 1.3rem; display: grid; gap: var(--gap-2); margin: 0; }
  .trouble { border-left: 3px solid var(--failing); padding: var(--gap-2) var(--gap-3); }
  .trouble strong { color: var(--failing); }
</style>
