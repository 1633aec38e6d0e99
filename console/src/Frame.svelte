<script lang="ts">
  import { onMount } from 'svelte';
  import Line from './components/Line.svelte';
  import Search from './components/Search.svelte';
  import { api } from './lib/api';
  import { live } from './lib/live.svelte';
  import { Resource } from './lib/resource.svelte';
  import { router } from './lib/router.svelte';
  import { session } from './lib/session.svelte';
  import type { Overview as Data } from './lib/types';
  import Administration from './pages/Administration.svelte';
  import Authorities from './pages/Authorities.svelte';
  import Backups from './pages/Backups.svelte';
  import Changes from './pages/Changes.svelte';
  import ClientFiles from './pages/ClientFiles.svelte';
  import Connections from './pages/Connections.svelte';
  import Descriptions from './pages/Descriptions.svelte';
  import Devices from './pages/Devices.svelte';
  import Explain from './pages/Explain.svelte';
  import Findings from './pages/Findings.svelte';
  import Gateway from './pages/Gateway.svelte';
  import Handouts from './pages/Handouts.svelte';
  import FileRequests from './pages/FileRequests.svelte';
  import ImportFiles from './pages/ImportFiles.svelte';
  import Inspect from './pages/Inspect.svelte';
  import Jobs from './pages/Jobs.svelte';
  import Journal from './pages/Journal.svelte';
  import Expiries from './pages/Expiries.svelte';
  import Listener from './pages/Listener.svelte';
  import Missing from './pages/Missing.svelte';
  import Gateways from './pages/Gateways.svelte';
  import Overview from './pages/Overview.svelte';
  import People from './pages/People.svelte';
  import Person from './pages/Person.svelte';
  import Profile from './pages/Profile.svelte';
  import Profiles from './pages/Profiles.svelte';
  import Proof from './pages/Proof.svelte';
  import Route from './pages/Route.svelte';
  import Sheet from './pages/Sheet.svelte';
  import Trial from './pages/Trial.svelte';

  const overview = new Resource(() => api.get<Data>('/overview'), ['gateway', 'profile', 'handout', 'trial', 'session', 'backup', 'site', 'person', 'finding']);
  onMount(() => overview.start());
  const [place, id] = $derived(router.parts);
</script>

<svelte:head><title>Tender{place ? `, ${place}` : ''}</title></svelte:head>
<a class="visually-hidden" href="#page">Go to the page</a>
<header>
  <a class="mark" href="/" aria-current={place === undefined ? 'page' : undefined}>Tender</a>
  <div class="who small">
    {#if !live.connected}<span class="soft" role="status">not live, trying again</span>{/if}
    <a href="/people">People</a><a href="/journal">Journal</a><a href="/administration">Administration</a>
    <span class="soft">{session.operator?.name}</span>
    <button onclick={() => session.end()}>Sign out</button>
  </div>
  <Search />
  <div class="line" class:brief={place === undefined}><Line areas={overview.data?.areas ?? []} brief={place === undefined} /></div>
</header>
<main id="page" tabindex="-1">
  {#key router.visit}
    {#if place === undefined}<Overview {overview} />
    {:else if place === 'gateways' && id === 'sheet'}<Sheet />
    {:else if place === 'gateways' && id === 'findings'}<Findings />
    {:else if place === 'gateways' && id === 'changes'}<Changes />
    {:else if place === 'gateways' && id === 'route'}<Route />
    {:else if place === 'gateways' && id === 'explain'}<Explain />
    {:else if place === 'gateways' && id === 'file-requests'}<FileRequests />
    {:else if place === 'gateways' && id === 'import'}<ImportFiles />
    {:else if place === 'gateways' && id && router.parts[2] === 'files'}<ClientFiles {id} />
    {:else if place === 'gateways' && id}<Gateway {id} />
    {:else if place === 'gateways'}<Gateways />
    {:else if place === 'people' && id}<Person handle={id} />
    {:else if place === 'people'}<People />
    {:else if place === 'profiles' && id === 'inspect'}<Inspect />
    {:else if place === 'profiles' && id === 'expiries'}<Expiries />
    {:else if place === 'profiles' && id === 'authorities'}<Authorities />
    {:else if place === 'profiles' && id}<Profile {id} />
    {:else if place === 'profiles'}<Profiles />
    {:else if place === 'handouts' && id === 'devices'}<Devices />
    {:else if place === 'handouts'}<Handouts />
    {:else if place === 'proof' && id === 'listeners' && router.parts[2]}<Listener id={router.parts[2]} />
    {:else if place === 'proof' && id}<Trial {id} />
    {:else if place === 'proof'}<Proof />
    {:else if place === 'connections'}<Connections />
    {:else if place === 'backups'}<Backups />
    {:else if place === 'administration' && id === 'descriptions'}<Descriptions />
    {:else if place === 'administration' && id === 'jobs'}<Jobs />
    {:else if place === 'administration'}<Administration />
    {:else if place === 'journal'}<Journal />
    {:else}<Missing />{/if}
  {/key}
</main>

<style>
  header, main { max-width: 112rem; margin: 0 auto; padding: 0 var(--gap-6); }
  header { display: grid; grid-template-columns: auto 1fr auto; align-items: center; gap: var(--gap-2) var(--gap-6); padding-top: var(--gap-3); }
  .mark { font-size: 1.3rem; font-weight: 600; letter-spacing: -0.01em; color: var(--ink); text-decoration: none; border-bottom: 3px double var(--line-strong); }
  .who { display: flex; flex-wrap: wrap; gap: var(--gap-2) var(--gap-4); justify-content: end; align-items: baseline; }
  .who button { font: inherit; border: 0; background: none; color: var(--accent); text-decoration: underline; text-underline-offset: 0.2em; cursor: pointer; padding: 0; }
  .line { grid-column: 1 / -1; min-height: 4.6rem; }
  .brief { min-height: 3.2rem; }
  main { display: grid; grid-template-columns: minmax(0, 1fr); gap: var(--gap-6); padding-block: var(--gap-2) var(--gap-8); outline: none; }
  @media (max-width: 720px) {
    header, main { padding-inline: var(--gap-4); }
    header { grid-template-columns: auto 1fr; }
    header > :global(.search) { grid-column: 1 / -1; width: 100%; }
  }
</style>
