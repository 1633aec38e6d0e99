<script lang="ts">
  import { onMount } from 'svelte';
  import { clock } from './lib/clock.svelte';
  import { router } from './lib/router.svelte';
  import { session } from './lib/session.svelte';
  import Confirm from './components/Confirm.svelte';
  import { fresh } from './lib/fresh.svelte';
  import Frame from './Frame.svelte';
  import Enrol from './pages/Enrol.svelte';
  import Password from './pages/Password.svelte';
  import SignIn from './pages/SignIn.svelte';

  onMount(() => {
    router.start();
    clock.start();
    void session.look();
  });
</script>

{#if session.operator?.mustChangePassword}<Password />
{:else if session.operator?.enrolNeeded}<Enrol />
{:else if session.operator}<Frame />
{:else if session.known}<SignIn />{/if}
{#if fresh.asking && session.operator}<Confirm />{/if}
