<script lang="ts">
  import type { Collected, Problem } from '../lib/types';
  /**
   * For someone who has never heard of a tunnel, in their language: the texts come with the page. The link's token stays in this page
   * until it is sent with the passphrase.
   */
  const texts = JSON.parse(document.getElementById('texts')!.textContent!) as Record<string, string>;
  const text = (key: string, file = '') => texts[key].replace('{file}', file);
  let passphrase = $state('');
  let busy = $state(false);
  let problem = $state('');
  let got = $state.raw<Collected | null>(null);
  const token = location.hash.slice(1);
  const picture = $derived(got?.qr ? 'data:image/svg+xml;base64,' + btoa(got.qr) : '');

  async function collect(): Promise<void> {
    busy = true;
    problem = '';
    try {
      const response = await fetch('/collect', {
        method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ token, passphrase }),
      });
      if (response.ok) {
        got = (await response.json()) as Collected;
        document.documentElement.lang = got.language;
        history.replaceState(null, '', '/');
      } else {
        const key = 'problem.' + ((await response.json()) as Problem).code;
        problem = key in texts ? key : 'problem.other';
      }
    } catch {
      problem = 'problem.no-answer';
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
    <p><button class="main" onclick={() => save(got!.fileName, got!.file)}>{text('save', got.fileName)}</button></p>
    {#each got.parts as part (part.name)}
      <p><button class="more" onclick={() => save(part.name, bytes(part.content))}>{text('save', part.name)}</button></p>
    {/each}
    {#if picture}<img src={picture} alt={text('qr', got.fileName)} />{/if}
    <h2>{text('steps')}</h2>
    <ol>{#each got.steps as step (step)}<li>{step}</li>{/each}</ol>
    <p class="soft">{text('not-kept')}</p>
  {:else}
    <h1>{text('heading')}</h1>
    {#if token.length < 20}
      <p>{text('link-incomplete')}</p>
    {:else}
      <p>{text('intro')}</p>
      <form onsubmit={(e) => { e.preventDefault(); void collect(); }}>
        <label for="passphrase">{text('passphrase')}</label>
        <input id="passphrase" bind:value={passphrase} required autocomplete="off" autocapitalize="none" spellcheck="false" placeholder="abcd-efgh-jkmn-pqrs" />
        <button class="main" disabled={busy}>{busy ? text('busy') : text('get')}</button>
      </form>
      <div role="alert">{#if problem}<p class="trouble">{text(problem)}</p>{/if}</div>
      <p class="soft">{text('limited')}</p>
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
</style>
