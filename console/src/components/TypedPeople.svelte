<script lang="ts">
  import Button from './Button.svelte';
  /** People typed into a table; a row more is there as soon as the last one is used. */
  let { busy, check }: { busy: boolean; check: (csv: string) => void } = $props();
  const kinds = ['laptop', 'phone', 'tablet', 'travel-router', 'server'];
  type Row = { name: string; mail: string; team: string; device: string };
  const empty = (): Row => ({ name: '', mail: '', team: '', device: 'laptop' });
  let rows = $state<Row[]>([empty(), empty(), empty()]);
  const used = $derived(rows.filter((r) => r.name.trim()));
  $effect(() => { if (rows[rows.length - 1]!.name) rows.push(empty()); });
  const quoted = (text: string) => `"${text.trim().replaceAll('"', '""')}"`;
  const csv = () => ['name,mail,team,device', ...used.map((r) => [r.name, r.mail, r.team, r.device].map(quoted).join(','))].join('\n');
</script>

<form onsubmit={(e) => { e.preventDefault(); check(csv()); }}>
  <div class="wide">
    <table>
      <thead><tr><th scope="col">Name</th><th scope="col">Mail</th><th scope="col">Team</th><th scope="col">Device</th></tr></thead>
      <tbody>
        {#each rows as r, i (i)}
          <tr>
            <td><input aria-label="Name, row {i + 1}" bind:value={r.name} autocomplete="off" /></td>
            <td><input aria-label="Mail, row {i + 1}" type="email" bind:value={r.mail} autocomplete="off" /></td>
            <td><input aria-label="Team, row {i + 1}" bind:value={r.team} autocomplete="off" /></td>
            <td><select aria-label="Device, row {i + 1}" bind:value={r.device}>{#each kinds as k (k)}<option value={k}>{k}</option>{/each}<option value="">none yet</option></select></td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <div><Button type="submit" {busy} disabled={used.length === 0}>Check</Button></div>
</form>

<style>
  form { display: grid; gap: var(--gap-2); max-width: 56rem; }
  .wide { overflow-x: auto; }
  table { border-collapse: collapse; width: 100%; }
  th { text-align: left; font-size: var(--size-small); padding: 0 var(--gap-2) var(--gap-1) 0; }
  td { padding: 0 var(--gap-2) var(--gap-1) 0; }
  input, select { font: inherit; padding: 0.35rem 0.5rem; min-height: 2.1rem; width: 100%; min-width: 8rem; border: 1px solid var(--line-strong); border-radius: var(--radius); background: var(--sheet); color: var(--ink); }
</style>
