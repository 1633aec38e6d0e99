<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import type { Instruction } from '../lib/types';
  import InstructionItem from './InstructionItem.svelte';
  import Trouble from './Trouble.svelte';
  /** What somebody has to do by hand for one profile. */
  let { profile, changed }: { profile: string; changed: (done: boolean) => void } = $props();
  const instruction = new Resource(() => api.get<Instruction>('/instructions/' + profile), ['profile', 'gateway']);
  onMount(() => instruction.start());
</script>

<Trouble problem={instruction.problem} />
{#if instruction.data}<InstructionItem instruction={instruction.data} changed={(done) => { if (!done) void instruction.reload(); changed(done); }} />{/if}
