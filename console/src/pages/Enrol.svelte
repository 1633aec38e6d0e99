<script lang="ts">
  import CodeForm from '../components/CodeForm.svelte';
  import { session } from '../lib/session.svelte';
</script>

<svelte:head><title>Tender, second factor</title></svelte:head>
<main>
  <h1>Set up one-time codes</h1>
  <p class="soft">This installation requires a one-time code in addition to the password. Set it up to continue.</p>
  <CodeForm main done={() => void session.look()} />
</main>

<style>
  main { max-width: 26rem; margin: 12vh auto 0; padding: var(--gap-4); display: grid; gap: var(--gap-4); }
</style>
