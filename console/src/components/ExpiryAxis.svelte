<script lang="ts">
  import { clock } from '../lib/clock.svelte';
  import { exact } from '../lib/format';
  import type { Expiry } from '../lib/types';
  import State from './State.svelte';
  /** What ends, on one axis of time: a bar from its beginning to its end, the ended ones left of now. Each row says the same in words. */
  let { expiries }: { expiries: Expiry[] } = $props();
  const DAY = 86_400_000;
  const now = $derived(clock.now);
  const from = $derived(now - 30 * DAY);
  const to = $derived(Math.max(now + 60 * DAY, ...expiries.map((l) => Date.parse(l.expiresAt))) + 10 * DAY);
  const at = (t: number) => Math.max(0, Math.min(100, ((t - from) / (to - from)) * 100));
  const words: Record<string, string> = { profile: 'credential', listener: 'listener certificate', 'revocation-list': 'revocation list', authority: 'authority' };
  const states: Record<string, string> = { expired: 'expired', soon: 'waiting', ok: 'ok' };
  const days = (l: Expiry) => {
    const d = Math.round((Date.parse(l.expiresAt) - now) / DAY);
    if (d === 0) return l.state === 'expired' ? 'expired today' : 'today';
    return d < 0 ? `expired ${-d} d ago` : `in ${d} d`;
  };
  const href = (l: Expiry) => (l.kind === 'profile' ? '/profiles' : l.kind === 'authority' ? null : '/gateways');
  const marks = $derived([0, 30, 90, 180, 365].filter((d) => now + d * DAY < to));
</script>

<div class="axis" role="table" aria-label="Expiries, soonest first">
  <div class="row head" role="row">
    <span role="columnheader">What</span><span role="columnheader">Expires</span><span role="columnheader">Tell</span>
    <span class="line" role="columnheader">
      {#each marks as d (d)}<span class="mark small soft" style="left: {at(now + d * DAY)}%">{d === 0 ? 'now' : d === 365 ? 'a year' : `${d} d`}</span>{/each}
    </span>
  </div>
  {#each expiries as l (l.id)}
    <div class="row" role="row">
      <span role="cell">{#if href(l)}<a href={href(l)}>{l.what}</a>{:else}{l.what}{/if} <span class="small soft">{words[l.kind]}</span></span>
      <span role="cell" title={exact(l.expiresAt)}><State state={states[l.state]} word={days(l)} /></span>
      <span role="cell">{l.tell ?? ''}{#if l.mail}<span class="mail small soft">{l.mail}</span>{/if}</span>
      <span class="line" role="cell" aria-label="{l.validFrom ? `from ${exact(l.validFrom)} ` : ''}until {exact(l.expiresAt)}">
        <span class="bar {l.state}" style="left: {at(l.validFrom ? Date.parse(l.validFrom) : from)}%; right: {100 - at(Date.parse(l.expiresAt))}%"></span>
        <span class="now" style="left: {at(now)}%"></span>
      </span>
    </div>
  {/each}
</div>

<style>
  .axis { display: grid; min-width: 0; }
  .row { display: grid; grid-template-columns: minmax(12rem, 2fr) 8.5rem minmax(9rem, 1.4fr) minmax(10rem, 3fr); gap: var(--gap-3); align-items: center; border-bottom: 1px solid var(--line); padding: var(--gap-1) 0; }
  .head { font-size: var(--size-small); font-weight: 600; color: var(--ink-soft); border-bottom-color: var(--line-strong); }
  .mail { display: block; overflow-wrap: anywhere; }
  .line { position: relative; height: 1.1rem; }
  .bar { position: absolute; top: 0.3rem; bottom: 0.3rem; min-width: 3px; background: var(--line-strong); border-right: 3px solid var(--proven); }
  .bar.soon { border-right-color: var(--waiting); }
  .bar.expired { border-right-color: var(--failing); }
  .now { position: absolute; top: -0.3rem; bottom: -0.3rem; border-left: 1px dashed var(--ink-soft); }
  .mark { position: absolute; transform: translateX(-50%); white-space: nowrap; font-weight: 400; }
  @media (max-width: 720px) {
    .row { grid-template-columns: 1fr 8.5rem; }
    .line { grid-column: 1 / -1; }
    .head { display: none; }
  }
</style>
