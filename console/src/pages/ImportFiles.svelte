<script lang="ts">
  import Button from '../components/Button.svelte';
  import Choice from '../components/Choice.svelte';
  import Facts from '../components/Facts.svelte';
  import Field from '../components/Field.svelte';
  import FileDrop from '../components/FileDrop.svelte';
  import ProposedFiles from '../components/ProposedFiles.svelte';
  import Section from '../components/Section.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { fitting, sent } from '../lib/files';
  import { Action } from '../lib/resource.svelte';
  import type { ProposedGateway, ProposedImport } from '../lib/types';

  /** An office from the files that its devices exported: proposed, corrected, and created in one act. */
  const mostFiles = 200;
  const kinds = [{ value: 'router', label: 'Router' }, { value: 'nas', label: 'NAS' }, { value: 'firewall', label: 'Firewall' }];
  let chosen = $state.raw<File[]>([]);
  let tooMany = $state.raw<string[]>([]);
  let proposed = $state.raw<ProposedImport | null>(null);
  let names = $state<Record<string, string>>({});
  let sites = $state<Record<string, string>>({});
  let chosenKinds = $state<Record<string, string>>({});
  let owners = $state<Record<string, string>>({});
  let told = $state.raw<Record<string, string>>({});
  let left = $state<Record<string, boolean>>({});
  let passphrase = $state('');
  let keepPassphrase = $state('no');
  let decision = $state('');
  const asking = new Action();
  const done = $derived(proposed !== null && !proposed.dryRun);
  const locked = $derived(proposed?.files.some((f) => f.file.why.includes('key store is locked')) ?? false);
  const heldBack = $derived(proposed?.files.some((f) => f.file.state === 'held-back') ?? false);
  const fresh = (all: { exists: boolean }[]) => all.filter((x) => !x.exists).length;
  const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
  const devices = $derived(proposed?.people.flatMap((p) => p.devices) ?? []);
  const would = $derived(!proposed ? '' : [
    { n: fresh(proposed.gateways), one: 'new gateway', many: 'new gateways' }, { n: fresh(proposed.sites), one: 'new site', many: 'new sites' },
    { n: fresh(proposed.people), one: 'new person', many: 'new people' }, { n: fresh(devices), one: 'new device', many: 'new devices' },
  ].filter((x) => x.n > 0).map((x) => count(x.n, x.one, x.many)).join(', ') || 'Nothing new');
  const corrections = () => ({
    names, sites, kinds: chosenKinds,
    assign: Object.fromEntries(Object.entries(owners).filter(([path, who]) => who.includes('/') && who !== told[path])),
    leaveOut: Object.keys(left).filter((path) => left[path]),
  });
  const call = (dryRun: boolean) => asking.run(async () => {
    const first = proposed === null;
    const come = await api.post<ProposedImport>('/imports', {
      files: await sent(chosen), corrections: first ? null : corrections(), passphrase: passphrase || null, keepPassphrase: keepPassphrase === 'yes', decision: decision || null, dryRun,
    });
    const fromNames: Record<string, string> = {};
    come.files.forEach(({ file }) => { fromNames[file.path] = file.person ? `${file.person}/${file.device}` : ''; owners[file.path] ??= fromNames[file.path]; left[file.path] ??= false; });
    if (first) told = fromNames;
    come.gateways.forEach((g) => { names[g.proposed] ??= g.name; sites[g.proposed] ??= g.site; chosenKinds[g.proposed] ??= g.kind; });
    proposed = come;
  });
  function take(files: File[]) {
    const fit = fitting(files, mostFiles);
    chosen = fit.fit;
    tooMany = fit.left;
    proposed = null;
    names = {}; sites = {}; chosenKinds = {}; owners = {}; left = {};
    passphrase = decision = '';
    if (chosen.length) void call(true);
  }
  const facts = (g: ProposedGateway) => [
    { term: 'Called at', text: g.calls.join(', ') || 'none of its files has an address', mono: true },
    ...g.listeners.map((l) => ({ term: l.name, text: [`${l.settings.transport} ${l.settings.port}`, l.settings.reach && `reach ${l.settings.reach}`, l.settings.dns && `DNS ${l.settings.dns}`].filter(Boolean).join(', '), mono: true })),
  ];
</script>

<h1>Import client files</h1>
<p>Choose everything that your devices exported: client files, archives, certificates, all mixed. Tender finds out which gateways they call, whose they are and what is wrong with them. Nothing is created until you agree; the originals are kept.</p>
<FileDrop {take} folders />
{#if tooMany.length}<p class="soft">Too much at once (4 MiB and {mostFiles} files): {tooMany.join(', ')}. Import the rest afterwards.</p>{/if}
<Trouble problem={asking.problem} />
<div aria-live="polite" aria-busy={asking.busy} class="proposal">
  {#if proposed}
    <p class="sum" role="status">
      {#if done}{count(proposed.imported, 'file was', 'files were')} imported{proposed.present ? `, ${proposed.present} were there before` : ''}.
        Next: <a href="/profiles?show=open%3Dnot-handed-out">try them and hand them out</a>, or look at the <a href="/gateways">gateways</a>.
      {:else}{would}; {proposed.imported} of {count(proposed.files.length, 'client file', 'client files')} can be imported.{/if}
    </p>
    {#each proposed.gateways as g (g.proposed)}
      <Section title={g.name} note={g.exists ? 'there already' : 'new, managed by hand'}>
        {#if !g.exists && !done}
          <div class="fields">
            <Field label="Name" bind:value={names[g.proposed]} required />
            <Field label="Site" bind:value={sites[g.proposed]} required hint="A site that is new is created" />
            <Choice label="Kind" bind:value={chosenKinds[g.proposed]} options={kinds} />
          </div>
        {/if}
        <Facts facts={facts(g)} />
        <ProposedFiles files={proposed.files.filter((f) => f.gateway === g.name)} bind:owners bind:left {done} />
      </Section>
    {/each}
    {#if proposed.others.length}<p class="soft">No client files: {proposed.others.map((o) => `${o.path} (${o.kind})`).join(', ')}.</p>{/if}
    {#if !done}
      {#if locked}<div class="fields"><Field label="Passphrase of the key stores" type="password" bind:value={passphrase} autocomplete="off" hint="Opens them to look whose they are" /><Choice label="Keep the passphrase" bind:value={keepPassphrase} options={[{ value: 'no', label: 'no: used once' }, { value: 'yes', label: 'yes: for trials and handouts' }]} /></div>{/if}
      {#if heldBack}<div class="fields"><Field label="Why dangerous lines may stay" bind:value={decision} hint="Recorded in the journal" /></div>{/if}
      <p class="actions"><Button busy={asking.busy} onclick={() => call(true)}>Check again</Button> <Button look="main" busy={asking.busy} onclick={() => call(false)}>Create all this</Button></p>
    {/if}
  {/if}
</div>

<style>
  .proposal { display: grid; grid-template-columns: minmax(0, 1fr); gap: var(--gap-6); margin-top: var(--gap-4); }
  .sum { margin: 0; font-weight: 600; }
  .fields { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3) var(--gap-4); align-items: start; max-width: 60rem; }
  .actions { display: flex; flex-wrap: wrap; gap: var(--gap-3); }
</style>
