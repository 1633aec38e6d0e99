import { expect, it } from 'vitest';
import { bySeverity, counted, worst } from '../src/lib/findings';
import type { Finding } from '../src/lib/types';

const finding = (key: string, severity: string, gateway: string | null, acceptedUntil: string | null = null) =>
  ({ key, code: 'C', severity, subjectKind: 'gateway', subjectId: '1', subject: key, evidence: '', breaks: '', remedy: '', gateway, oneStep: null, acceptedReason: null, acceptedUntil }) as Finding;

it('stands by severity, the accepted last, and then by gateway in the order that came', () => {
  const all = [finding('a', 'error', 'pier2'), finding('b', 'error', 'hq'), finding('c', 'error', 'pier2'), finding('d', 'notice', null), finding('e', 'error', 'hq', '2027-01-20T00:00:00Z')];

  expect(bySeverity(all).map((g) => [g.title, ...g.gateways.map((x) => `${x.name}: ${x.findings.map((f) => f.key).join('')}`)])).toEqual([
    ['Errors', 'pier2: ac', 'hq: b'], ['Notices', ': d'], ['Accepted', 'hq: e'],
  ]);
});

it('counts in words what concerns a gateway', () => {
  expect(counted({ errors: 0, warnings: 4, notices: 1 })).toBe('4 warnings, 1 notice');
  expect([counted({ errors: 0, warnings: 0, notices: 0 }), worst({ errors: 1, warnings: 9, notices: 0 })]).toEqual(['', 'error']);
});
