<script lang="ts">
  import type { Trial } from '../lib/types';
  import State from './State.svelte';
  /** A trial rung by rung, as it goes. Before it has ended the rung it stands on is marked. */
  let { trial }: { trial: Trial } = $props();
  const keys = ['name', 'address', 'port', 'handshake', 'tunnel address', 'inside host'];
  const all = [...keys.slice(0, 4), 'trust', 'authentication', ...keys.slice(4)];
  // a trial of keys alone has no rungs for certificates
  const names = $derived(all.indexOf(trial.rungNow ?? '') > 3 && !keys.slice(4).includes(trial.rungNow ?? '') ? all : keys);
  const rungs = $derived(
    trial.rungs.length > 0
      ? trial.rungs
      : names.map((rung, i) => {
          const at = names.indexOf(trial.rungNow ?? '');
          return { rung, meaning: '', verdict: i < at ? 'passed' : i === at ? 'running' : 'to come', millis: 0, detail: '', causes: [] };
        }),
  );
</script>

<ol aria-live="polite">
  {#each rungs as rung (rung.rung)}
    <li class={rung.verdict.replace(' ', '-')}>
      <div class="row">
        <span class="rung">{rung.rung}</span>
        <State state={rung.verdict} />
        <span class="num soft">{trial.rungs.length > 0 && rung.verdict !== 'not tried' ? `${rung.millis} ms` : ''}</span>
        <span class="detail mono">{rung.detail}</span>
      </div>
      {#if rung.verdict === 'ok'}<p class="small soft">{rung.meaning}</p>{/if}
      {#each rung.causes as cause (cause.code)}
        <p class="cause"><strong>{cause.certainty}</strong> {cause.what}</p>
        <p class="cause"><span class="soft">do</span> {cause.remedy}</p>
      {/each}
    </li>
  {/each}
</ol>
{#if trial.measured}
  {@const m = trial.measured}
  <dl aria-label="Measured">
    {#if m.echoes > 0}<dt>Echoes</dt><dd>{m.echoes}, {m.lostPercent.toFixed(0)} % lost; round trip {m.leastMillis.toFixed(1)} to {m.mostMillis.toFixed(1)} ms, {m.meanMillis.toFixed(1)} on average</dd>{/if}
    {#if m.largestPacket}<dt>Largest packet</dt><dd>{m.largestPacket} bytes came back whole; a tunnel packet size of {m.largestPacket} fits</dd>{/if}
    {#if m.name}<dt>Name inside</dt><dd>{m.name.server} {m.name.answered ? (m.name.address ? `says ${m.name.name} is ${m.name.address}` : `does not know ${m.name.name}`) : 'does not answer'}</dd>{/if}
    {#if m.exit}<dt>Way outside</dt><dd><State state={m.exit.asClaimed ? 'ok' : 'fails'} /> {m.exit.words}</dd>{/if}
    {#if m.transfer}<dt>What passes</dt><dd>{m.transfer.words}</dd>{/if}
  </dl>
{/if}

<style>
  dl { display: grid; grid-template-columns: max-content minmax(0, 1fr); gap: var(--gap-1) var(--gap-4); margin: var(--gap-3) 0 0; }
  dt { font-weight: 600; }
  dd { margin: 0; }
  ol { list-style: none; margin: 0; padding: 0 0 0 1rem; border-left: 2px solid var(--line-strong); display: grid; gap: var(--gap-2); }
  li { position: relative; }
  li::before { content: ''; position: absolute; left: -1rem; top: 0.75em; width: 0.8rem; border-top: 2px solid var(--line-strong); }
  .row { display: grid; grid-template-columns: 9rem 7rem 5rem minmax(0, 1fr); gap: var(--gap-2); align-items: baseline; }
  .rung { font-weight: 600; }
  .num { text-align: right; }
  .detail { overflow-wrap: anywhere; }
  .cause { margin-left: 9.5rem; max-width: 70ch; }
  .cause strong { color: var(--failing); }
  @media (max-width: 720px) {
    .row { grid-template-columns: 1fr auto auto; }
    .detail { grid-column: 1 / -1; }
    .cause { margin-left: 0; }
  }
</style>
