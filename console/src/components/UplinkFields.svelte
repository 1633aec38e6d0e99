<script lang="ts">
  import { api } from '../lib/api';
  import type { Gateway } from '../lib/types';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  /** How a gateway is reached from outside, as fields; {@code value} is empty as long as nothing is to change. */
  let { value = $bindable(''), own }: { value?: string; own: string } = $props();
  let gateways = $state.raw<string[]>([]);
  let kind = $state('');
  let address = $state('');
  let name = $state('');
  let down = $state('');
  let up = $state('');
  let behind = $state('');
  const kinds = [
    { value: '', label: 'as noted' },
    { value: 'fixed', label: 'a fixed address' },
    { value: 'changing', label: 'a changing address with a DNS name' },
    { value: 'behind', label: 'behind another gateway' },
    { value: 'carrier-nat', label: "behind a carrier's NAT" },
  ];
  const text = $derived.by(() => {
    const rate = down && up ? ` ${down}/${up}` : '';
    if (kind === 'fixed') return address ? `fixed:${address}${name ? ' ' + name : ''}${rate}` : '';
    if (kind === 'changing') return name ? `changing:${name}${rate}` : '';
    if (kind === 'behind') return behind || gateways[0] ? `behind:${behind || gateways[0]}` : '';
    return kind;
  });
  $effect(() => { value = text; });
  $effect(() => {
    if (kind === 'behind') void api.list<Gateway>('/gateways').then((all) => (gateways = all.map((g) => g.name).filter((n) => n !== own)));
  });
</script>

<Choice label="Uplink" bind:value={kind} options={kinds} />
{#if kind === 'fixed'}<Field label="Address outside" bind:value={address} mono placeholder="192.0.2.10" />{/if}
{#if kind === 'fixed' || kind === 'changing'}
  <Field label="DNS name" bind:value={name} mono placeholder="vpn.company.example" />
  <Field label="Download, Mbit/s" type="number" min="1" bind:value={down} />
  <Field label="Upload, Mbit/s" type="number" min="1" bind:value={up} />
{/if}
{#if kind === 'behind'}<Choice label="Behind" bind:value={behind} options={gateways.map((g) => ({ value: g, label: g }))} />{/if}
