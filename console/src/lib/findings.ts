import type { Finding, Gateway } from './types';

export type FindingGroup = { title: string; gateways: { name: string; findings: Finding[] }[] };

const TITLES: Record<string, string> = { error: 'Errors', warning: 'Warnings', notice: 'Notices', accepted: 'Accepted' };

/** Findings by severity, the worst first and the accepted ones last, and within that by gateway; each keeps its order. */
export function bySeverity(all: Finding[]): FindingGroup[] {
  const groups = new Map<string, Map<string, Finding[]>>(Object.keys(TITLES).map((k) => [k, new Map()]));
  for (const f of all) {
    const group = groups.get(f.acceptedUntil ? 'accepted' : f.severity)!;
    const name = f.gateway ?? '';
    group.set(name, [...(group.get(name) ?? []), f]);
  }
  return [...groups]
    .filter(([, gateways]) => gateways.size > 0)
    .map(([key, gateways]) => ({ title: TITLES[key]!, gateways: [...gateways].map(([name, findings]) => ({ name, findings })) }));
}

/** How many findings concern a gateway, by severity; empty where there are none. */
export function counted(found: Gateway['findings']): string {
  const words = (n: number, word: string) => (n ? [`${n} ${word}${n === 1 ? '' : 's'}`] : []);
  return [...words(found.errors, 'error'), ...words(found.warnings, 'warning'), ...words(found.notices, 'notice')].join(', ');
}

/** The severity of the worst of them. */
export function worst(found: Gateway['findings']): string {
  return found.errors ? 'error' : found.warnings ? 'warning' : 'notice';
}
