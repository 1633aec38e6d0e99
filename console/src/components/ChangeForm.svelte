<script lang="ts">
  import { api } from '../lib/api';
  import { Action } from '../lib/resource.svelte';
  import type { Change, DeviceFacts } from '../lib/types';
  import Button from './Button.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';
  import Trouble from './Trouble.svelte';
  /** One change of a gateway's settings, put together from fields. */
  let { facts, add }: { facts: DeviceFacts; add: (change: Change, words: string) => void } = $props();
  type Kind = { value: string; label: string; needs: string[] };
  const kinds: Kind[] = [
    { value: 'set-listener', label: "Change a listener's setting", needs: ['listener', 'setting', 'value'] },
    { value: 'add-listener', label: 'Add a listener beside one', needs: ['listener', 'name', 'setting', 'value'] },
    { value: 'remove-listener', label: 'Remove a listener', needs: ['listener'] },
    { value: 'renew-certificate', label: "Renew a listener's certificate", needs: ['listener'] },
    { value: 'renew-revocations', label: "Renew a listener's revocation list", needs: ['listener'] },
    { value: 'put-rule', label: 'Allow a port in the firewall', needs: ['port', 'number'] },
    { value: 'drop-rule', label: 'Remove a filter rule', needs: ['rule'] },
    { value: 'move-rule', label: 'Move a filter rule', needs: ['rule', 'number'] },
    { value: 'put-forward', label: 'Forward a port to a host inside', needs: ['port', 'host'] },
    { value: 'drop-forward', label: 'Remove a port forward', needs: ['port'] },
    { value: 'put-network', label: 'Set an inside network', needs: ['network'] },
    { value: 'demote', label: "Remove an account's administrator rights", needs: ['account'] },
    { value: 'set-zone', label: 'Set the time zone', needs: ['zone'] },
    { value: 'set-clock', label: 'Set the clock', needs: [] },
    { value: 'reload', label: 'Reload the configuration', needs: [] },
  ];
  const listeners = $derived(facts.listeners);
  const rules = $derived(facts.rules.filter((r) => /^\d+\. /.test(r)));
  const nameOf = (a: string) => a.split(',')[0];
  const possible = $derived(kinds.filter((k) => !(k.needs.includes('listener') && listeners.length === 0) && !(k.needs.includes('rule') && rules.length === 0) && !(k.needs.includes('account') && facts.accounts.length === 0)));
  let kind = $state('');
  let listener = $state(''), setting = $state(''), value = $state(''), name = $state('');
  let transport = $state('udp'), port = $state(''), host = $state(''), hostPort = $state('');
  let number = $state('1'), rule = $state(''), account = $state(''), zone = $state('');
  let network = $state(''), first = $state(''), last = $state('');
  const chosen = $derived(possible.find((k) => k.value === kind) ?? possible[0]);
  const has = (need: string) => chosen.needs.includes(need);
  const l = $derived(listeners.find((one) => one.name === listener) ?? listeners[0]);
  const seen = ['protocol', 'peers', 'active'];
  const settings = $derived((l?.settings ?? []).filter((s) => !seen.includes(s.setting)));
  const s = $derived(settings.find((one) => one.setting === setting) ?? settings[0]);
  const whose = $derived(account || nameOf(facts.accounts[0] ?? ''));
  const inDays = (days: number) => new Date(Math.floor(Date.now() / 86_400_000 + days) * 86_400_000).toISOString();
  const at = $derived({ transport, port });
  const ruleNumber = $derived(Number(rule || 1));
  const lower = (text: string) => text.charAt(0).toLowerCase() + text.slice(1);
  const action = new Action();

  async function made(): Promise<Change> {
    const days = chosen.value.startsWith('renew-') ? await api.get<{ renewedListenerDays: number; revocationListDays: number }>('/lifetimes') : null;
    switch (chosen.value) {
      case 'set-listener': return { change: 'set-listener', listener: l.name, values: { [s.setting]: value } };
      case 'add-listener': return { change: 'add-listener', listener: l.name, name, values: { [s.setting]: value } };
      case 'remove-listener': return { change: 'remove-listener', listener: l.name };
      case 'renew-certificate': return { change: 'renew-certificate', listener: l.name, names: [], keyBits: 2048, ends: inDays(days!.renewedListenerDays) };
      case 'renew-revocations': return { change: 'renew-revocations', listener: l.name, ends: inDays(days!.revocationListDays) };
      case 'put-rule': return { change: 'put-rule', number: Number(number), rule: { allow: true, toDevice: true, via: 'outside', transport, ports: port, source: null, destination: null, label: 'by Tender' } };
      case 'drop-rule': return { change: 'drop-rule', number: ruleNumber };
      case 'move-rule': return { change: 'move-rule', from: ruleNumber, to: Number(number) };
      case 'put-forward': return { change: 'put-forward', forward: { transport, port, to: host, toPort: hostPort || port, label: '' } };
      case 'drop-forward': return { change: 'drop-forward', port: at };
      case 'put-network': return { change: 'put-network', network: { name, network, pool: first ? { first, last } : null, reserved: {} } };
      case 'demote': return { change: 'demote', account: whose };
      case 'set-zone': return { change: 'set-zone', zone };
      default: return { change: chosen.value };
    }
  }

  function words(): string {
    const what = lower(chosen.label);
    const details = [
      has('listener') && l.name, has('name') && name, has('setting') && `${s.setting} ${value}`, has('port') && `${transport} ${port}`, has('host') && `to ${host}:${hostPort || port}`,
      has('rule') && `number ${ruleNumber}`, has('number') && `as number ${number}`, has('network') && `${name} ${network}`, has('account') && whose, has('zone') && zone,
    ].filter(Boolean);
    return details.length > 0 ? `${what}: ${details.join(', ')}` : what;
  }

  const put = () => action.run(async () => add(await made(), words()));
</script>

<form onsubmit={(e) => { e.preventDefault(); void put(); }}>
  <Choice label="What to change" bind:value={kind} options={possible} />
  {#if has('listener')}<Choice label="Listener" bind:value={listener} options={listeners.map((one) => ({ value: one.name, label: `${one.name}, ${one.protocol}` }))} />{/if}
  {#if has('name')}<Field label="Name of the new listener" bind:value={name} required />{/if}
  {#if has('setting')}
    <Choice label="Setting" bind:value={setting} options={settings.map((one) => ({ value: one.setting, label: one.setting }))} />
    <Field label="New value" bind:value mono required hint={s ? `Now ${s.value}. ${s.does}` : ''} />
  {/if}
  {#if has('rule')}<Choice label="Filter rule" bind:value={rule} options={rules.map((text, i) => ({ value: String(i + 1), label: text }))} />{/if}
  {#if has('port')}
    <Choice label="Transport" bind:value={transport} options={[{ value: 'udp', label: 'UDP' }, { value: 'tcp', label: 'TCP' }]} />
    <Field label="Port" type="number" min="1" max="65535" bind:value={port} required />
  {/if}
  {#if has('host')}
    <Field label="Host inside" bind:value={host} mono required placeholder="10.20.2.5" />
    <Field label="Its port" type="number" min="1" max="65535" bind:value={hostPort} hint="Empty: the same" />
  {/if}
  {#if has('number')}<Field label="Place in the list" type="number" min="1" bind:value={number} required hint="The first rule that matches decides" />{/if}
  {#if has('network')}
    <Field label="Network's name" bind:value={name} required placeholder="guests" />
    <Field label="Addresses" bind:value={network} mono required placeholder="10.97.0.0/24" />
    <Field label="Pool from" bind:value={first} mono hint="Empty: no pool" />
    <Field label="Pool to" bind:value={last} mono required={first !== ''} />
  {/if}
  {#if has('account')}<Choice label="Account" bind:value={account} options={facts.accounts.map((a) => ({ value: nameOf(a), label: a }))} />{/if}
  {#if has('zone')}<Field label="Time zone" bind:value={zone} required placeholder="Europe/Oslo" />{/if}
  <div class="end"><Button type="submit" busy={action.busy}>Add to the list</Button></div>
</form>
<Trouble problem={action.problem} />

<style>
  form { display: grid; grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr)); gap: var(--gap-3); align-items: start; }
  .end { padding-top: 1.6rem; }
</style>
