/* What the API answers; the OpenAPI document says the same. */
export type Problem = { title: string; status: number; code: string; detail: string; place: string; remedy: string };
export type Page<T> = { items: T[]; next: string | null };
export type Operator = { name: string; role: string; mustChangePassword: boolean; hasCode: boolean; enrolNeeded: boolean; disabled: boolean };
export type Site = { id: string; name: string; title: string; domain: string; networks: Record<string, string> };
export type Listener = {
  id: string; name: string; protocol: string; transport: string; port: number; publicKey: string; tunnels: string[];
  insideAddress: string | null; endpoint: string | null; inForce: boolean; gone: boolean; peers: number;
};
export type Gateway = {
  id: string; name: string; site: string; kind: string; make: string; model: string; release: string; connector: string;
  capabilities: string[]; address: string; port: number; user: string; identity: string; identityAccepted: boolean;
  insideHost: string | null; hosts: string[]; uplinks: string[]; factory: string; description: string; readOnly: boolean; readAt: string | null; readProblem: string | null;
  newestBackup: { id: string; number: number; takenAt: string } | null; listeners: Listener[]; createdAt: string; version: number;
};
export type Revision = { id: string; number: number; digest: string; fileName: string; madeFor: Record<string, string>; createdAt: string };
export type Profile = {
  id: string; label: string; origin: string; state: string; problem: string | null; person: string | null; personName: string | null;
  device: string | null; gateway: string; listener: string; identity: { kind: string; value: string }; custody: string; addresses: string[]; reach: string[];
  fullTunnel: boolean; dns: string[]; revision: number; proof: { state: string; at: string | null; restsOn: string };
  connected: boolean; lastHeard: string | null; handout: string | null; instruction: string | null; revisions: Revision[]; createdAt: string; version: number;
};
export type Device = { id: string; name: string; kind: string; system: string };
export type Person = {
  id: string; handle: string; name: string; mail: string; team: string | null; deviceCount: number; devices: Device[];
  profiles: Profile[]; createdAt: string; version: number;
};
export type Handout = {
  id: string; profile: string; person: string | null; personName: string | null; device: string | null; gateway: string; revision: number;
  fileName: string; digest: string; state: string; preparedAt: string; sentAt: string | null; collectedAt: string | null;
  lastSeen: string | null; expiresAt: string; collectionsAllowed: number; collectionsLeft: number;
};
export type Prepared = { handout: Handout; link: string; passphrase: string };
export type Cause = { code: string; certainty: string; what: string; remedy: string };
export type Rung = { rung: string; meaning: string; verdict: string; millis: number; detail: string; causes: Cause[] };
export type Trial = {
  id: string; profile: string; person: string | null; gateway: string; vantage: string; subject: string; restsOn: string; state: string;
  rungNow: string | null; proven: boolean | null; verdict: string | null; result: string;
  claims: { kind: string; shown: boolean; words: string }[]; note: string | null; rungs: Rung[]; measured: Measured | null; createdAt: string; endedAt: string | null;
};
export type Measured = {
  echoes: number; lostPercent: number; leastMillis: number; meanMillis: number; mostMillis: number; largestPacket: number | null;
  name: { name: string; server: string; answered: boolean; address: string | null } | null; exit: { full: boolean; holds: boolean; words: string } | null;
  transfer: { megabits: number; words: string } | null;
};
export type Life = {
  kind: string; id: string; what: string; gateway: string | null; tell: string | null; mail: string | null; made: string | null; ends: string; state: string;
};
export type RoundResult = { at: string; proven: boolean; verdict: string; echoMillis: number | null; millis: number; rung: string | null };
export type Round = {
  id: string; gateway: string; listener: string; protocol: string; everySeconds: number | null; quietFrom: string | null; quietTo: string | null;
  proven: boolean | null; verdict: string | null; since: string | null; rung: string | null; cause: string | null; trialId: string | null; nextAt: string | null;
  day: number | null; month: number | null; latest: RoundResult[];
};
export type Session = {
  id: string; gateway: string; listener: string; profile: string | null; person: string | null; personName: string | null;
  device: string | null; origin: string; addresses: string[]; endpoint: string; since: string; lastHeard: string;
  endedAt: string | null; received: number; sent: number;
};
export type Backup = {
  id: string; gateway: string; number: number; reason: string; takenAt: string; release: string; files: number; bytes: number;
  digest: string; differences: { path: string; kind: string; linesAdded: number; linesRemoved: number }[];
};
export type Finding = {
  key: string; oneStep: string | null; acceptedReason: string | null; acceptedUntil: string | null; code: string; severity: string; subjectKind: string; subjectId: string; subject: string; evidence: string; breaks: string; remedy: string;
};
export type Station = { key: string; label: string; count: number; waiting: number; worst: string };
export type Fitness = { profile: string; reasons: { code: string; words: string; detail: string; fix: string }[] };
export type Instruction = { profileId: string; profile: string; gateway: string; words: string; askedAt: string };
export type Overview = { stations: Station[]; findings: Finding[]; instructions: Instruction[]; neverSeen: Profile[]; connected: Session[] };
export type Hit = { kind: string; id: string; label: string; detail: string };
export type Job = { id: string; kind: string; state: string; progress: number; note: string; endedAt: string | null };
export type Team = { name: string; people: number };
export type JournalEntry = {
  number: number; at: string; who: string; what: string; actor: string; action: string; subjectKind: string; subjectId: string; detail: string; hash: string;
};
export type Collected = { title: string; fileName: string; file: string; qr: string | null; parts: { name: string; content: string }[]; steps: string[] };

export type Change = Record<string, unknown> & { change: string };
export type Difference = { field: string; was: string; becomes: string };
export type Affected = { profileId: string; label: string; person: string; fate: string; differences: Difference[] };
export type Preview = {
  words: string[]; restart: string; restartWords: string; cutOff: string[]; works: number; affected: Affected[]; appears: Finding[];
  vanishes: Finding[]; guarded: boolean;
};
export type DeviceChange = {
  id: string; gateway: string; state: string; words: string; note: string; returnAt: string | null; armedOnDevice: boolean;
  retires: string | null; retireAt: string | null; holdersLeft: string[]; orderedAt: string; endedAt: string | null;
};
export type Ordered = { change: DeviceChange; jobId: string };
export type Drift = { field: string; was: string; becomes: string; seenAt: string; lastSeenOtherwiseAt: string | null; noted: boolean };
export type ExplainedSetting = { setting: string; value: string; does: string; costs: string; safe: string; clientsDepend: boolean; restart: string };
export type ExplainedListener = { name: string; protocol: string; settings: ExplainedSetting[] };
export type DeviceFacts = {
  facts: Record<string, string>; uplinks: string[]; networks: string[]; interfaces: string[]; forwards: string[]; rules: string[];
  accounts: string[]; listeners: ExplainedListener[]; drift: Drift[];
};
export type Hop = {
  hop: string; verdict: string; place: string; decidedBy: string; detail: string; remedy: string | null; remedyGateway: string | null;
  remedyChange: Change | null;
};
export type RoutePath = { hops: Hop[]; passes: boolean; failsAt: string | null; remedy: string | null };
export type SheetListener = { name: string; protocol: string; door: string; tunnels: string[]; holders: number };
export type SheetGateway = { id: string; name: string; kind: string; uplink: string; findings: number; breaks: boolean; listeners: SheetListener[] };
export type SheetSite = { name: string; title: string; domain: string; networks: { name: string; network: string }[]; gateways: SheetGateway[] };
export type Sheet = { sites: SheetSite[]; links: { from: string; to: string; kind: string }[]; overlaps: { one: string; other: string; words: string }[] };
export type Need = { need: string; words: string };
export type Door = { kind: string; reachedBy: string; notes: string };
export type Choice = { protocol: string; title: string; speaksFor: string[]; speaksAgainst: string[]; weak: boolean };
export type NetworkWords = {
  network: string; mask: string | null; firstUsable: string; lastUsable: string; broadcast: string | null; usable: string; lent: string;
  reserved: number; rest: string; notes: string[];
};

/** What a file is and says; depth rises within archives. */
export interface Inspection {
  name: string; depth: number; kind: string; title: string;
  facts: { label: string; value: string }[];
  certificates: { name: string; role: string; names: string[]; issuer: string; starts: string; ends: string; key: string }[];
  notes: { code: string; severity: string; line: number; says: string; detail: string; remedy: string }[];
}
export interface InspectionReport { asksPassphrase: boolean; verdict: { verdict: string; words: string }; files: Inspection[] }
/** What stands in a revision, secrets kept back. */
export interface Inside { number: number; fileName: string; lines: string[]; words: InspectionReport }
export interface AdoptedFile {
  path: string; state: string; why: string; person: string | null; device: string | null; matchedBy: string | null; profile: string | null;
  repairs: { rule: string; reason: string; line: number; before: string; after: string }[];
  notes: { code: string; severity: string; line: number; says: string; detail: string; remedy: string }[];
}
export interface Adopted { files: AdoptedFile[]; adopted: number; asked: number }
export type Variant = {
  id: string; gateway: string; listener: string; team: string; fullTunnel: boolean; reach: string[]; dns: string[]; lifeDays: number | null;
  behind: string[]; setAt: string;
};
export type Authority = {
  id: string; name: string; key: string; ends: string; publishesAt: string | null; revoked: number; listNumber: number; listUntil: string;
};
export type Certificate = {
  id: string; serial: string; purpose: string; commonName: string; state: string; custody: string; starts: string; ends: string; revokedAt: string | null;
};
