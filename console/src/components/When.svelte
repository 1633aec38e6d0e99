<script lang="ts">
  import { clock } from '../lib/clock.svelte';
  import { ago, exact } from '../lib/format';
  let { at, none = '' }: { at: string | null | undefined; none?: string } = $props();
</script>

{#if at}<time class="num" datetime={at} title={exact(at)}>{ago(at, clock.now)}</time>{:else}<span class="soft">{none}</span>{/if}

<style>
  time { white-space: nowrap; }
</style>
