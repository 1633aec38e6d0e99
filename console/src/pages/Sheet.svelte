<script lang="ts">
  import { onMount } from 'svelte';
  import Button from '../components/Button.svelte';
  import Empty from '../components/Empty.svelte';
  import Section from '../components/Section.svelte';
  import Trouble from '../components/Trouble.svelte';
  import { api } from '../lib/api';
  import { Resource } from '../lib/resource.svelte';
  import { CARD, draw } from '../lib/sheet';
  import type { Sheet } from '../lib/types';

  const sheet = new Resource(() => api.get<Sheet>('/network-sheet'), ['gateway', 'site', 'profile', 'name']);
  onMount(() => sheet.start());
  const drawing = $derived(sheet.data ? draw(sheet.data) : null);
  let zoom = $state(1);
  const clash = (text: string) => (sheet.data?.overlaps ?? []).some((o) => o.other.includes(text));
</script>

<h1>Network sheet</h1>
<Trouble problem={sheet.problem} />
{#if drawing && drawing.cards.length > 0}
  <div class="tools">
    <Button onclick={() => (zoom = Math.min(2, zoom * 1.25))}>Larger</Button>
    <Button onclick={() => (zoom = Math.max(0.3, zoom / 1.25))}>Smaller</Button>
    <Button onclick={() => (zoom = 1)}>Actual size</Button>
    <Button onclick={() => print()}>Print</Button>
    <span class="soft small">thin line: behind; double line: joined; ✕ overlapping addresses</span>
  </div>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="paper" tabindex="0" role="region" aria-label="Network sheet, scrolls both ways">
    <svg viewBox="-24 -4 {drawing.width + 48} {drawing.height + 8}" width={(drawing.width + 48) * zoom} role="group" aria-label="Sites with their networks, gateways and tunnels">
      {#each drawing.wires as w (w.from + w.to)}
        <path d={w.path} class="wire {w.kind}" />
        {#if w.kind === 'joined'}<path d={w.path} class="wire inner" />{/if}
      {/each}
      {#each drawing.cards as c (c.site.name)}
        <g>
          <rect x={c.x} y={c.y} width={c.width} height={c.height} class="card" />
          <text x={c.x + CARD.pad} y={c.y + 22} class="title">{c.site.name}</text>
          {#each c.site.networks as n, i (n.network)}
            <text x={c.x + CARD.pad} y={c.y + CARD.head + CARD.pad + i * CARD.line + 8} class="mono" class:clash={clash(n.network)}>{clash(n.network) ? '✕ ' : ''}{n.network}</text>
            <text x={c.x + c.width - CARD.pad} y={c.y + CARD.head + CARD.pad + i * CARD.line + 8} class="soft" text-anchor="end">{n.name}</text>
          {/each}
          {#each c.site.gateways as g, gi (g.id)}
            {@const y = c.gateways[gi].y}
            <line x1={c.x} x2={c.x + c.width} y1={y - 8} y2={y - 8} class="rule" />
            <a href="/gateways/{g.id}"><text x={c.x + CARD.pad} y={y + 12} class="name">{g.name}</text></a>
            <text x={c.x + c.width - CARD.pad} y={y + 12} text-anchor="end" class={g.breaks ? 'bad' : 'soft'}>{g.breaks ? '✕ ' : ''}{g.findings === 0 ? 'nothing wrong' : g.findings === 1 ? '1 finding' : `${g.findings} findings`}</text>
            <text x={c.x + CARD.pad} y={y + 12 + CARD.line} class="soft">{g.kind}, {g.uplink.length > 36 ? g.uplink.slice(0, 35) + '…' : g.uplink}</text>
            {#each g.listeners as l, li (l.name)}
              <text x={c.x + CARD.pad + 8} y={y + 12 + CARD.line * (2 + li)} class="mono" class:clash={l.tunnels.some(clash)}>{l.tunnels.some(clash) ? '✕ ' : ''}{l.name} {l.tunnels[0] ?? ''}</text>
              <text x={c.x + c.width - CARD.pad} y={y + 12 + CARD.line * (2 + li)} text-anchor="end" class="soft">{l.port.split(',')[0]}</text>
            {/each}
          {/each}
        </g>
      {/each}
    </svg>
  </div>
  <Section title="In plain words">
    {#if sheet.data!.overlaps.length > 0}
      <ul>{#each sheet.data!.overlaps as o (o.one + o.other)}<li>{o.other}: {o.words.replace(/\.$/, '')}.</li>{/each}</ul>
    {:else}<p>No two networks that can meet share addresses.</p>{/if}
    {#each sheet.data!.links as l (l.from + l.to)}<p class="small">{l.from} {l.kind === 'behind' ? 'stands behind' : 'is joined with'} {l.to}.</p>{/each}
  </Section>
{:else if drawing}<Empty>The sheet draws sites, networks, gateways and tunnels. <a href="/gateways">Add a site and a gateway first</a>.</Empty>{/if}

<style>
  .tools { display: flex; gap: var(--gap-2); flex-wrap: wrap; align-items: center; }
  .paper { overflow: auto; border: 1px solid var(--line); background: var(--sheet); max-height: 75vh; }
  svg { display: block; font-family: var(--font); font-size: 12px; fill: var(--ink); max-width: none; }
  .card { fill: var(--ground); stroke: var(--line-strong); }
  .rule { stroke: var(--line); }
  .title { font-size: 15px; font-weight: 600; }
  .name { font-weight: 600; fill: var(--accent); text-decoration: underline; }
  .mono { font-family: var(--mono); font-size: 11px; }
  .soft { fill: var(--ink-soft); }
  .bad, .clash { fill: var(--failing); }
  .wire { fill: none; stroke: var(--ink-soft); stroke-width: 1.5; }
  .wire.joined { stroke-width: 5; stroke: var(--accent); }
  .wire.inner { stroke: var(--sheet); stroke-width: 2; }
  ul { margin: 0; padding-left: 1.2rem; max-width: 90ch; }
  @media print { .tools { display: none; } .paper { max-height: none; overflow: visible; border: 0; } svg { width: 100%; } }
</style>
