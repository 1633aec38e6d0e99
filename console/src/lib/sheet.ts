import type { Sheet, SheetSite } from './types';

/** Where everything on the network sheet stands; our own layout: columns of sites, each a card of its own height. */
export type Placed = { site: SheetSite; x: number; y: number; width: number; height: number; gateways: { id: string; name: string; x: number; y: number }[] };
export type Wire = { from: string; to: string; kind: string; path: string };
export type Drawing = { cards: Placed[]; wires: Wire[]; width: number; height: number };

export const CARD = { width: 300, gap: 44, head: 30, line: 20, pad: 12, air: 8 };

export function cardHeight(site: SheetSite): number {
  const gateways = site.gateways.reduce((sum, g) => sum + CARD.line * (2 + g.listeners.length) + 8, 0);
  return CARD.head + site.networks.length * CARD.line + CARD.air + gateways + CARD.pad;
}

const MOST_STACKED = 5;

/** Sites that are linked come first and stand below one another, so that what joins them stays short; then the others. */
export function clusters(sheet: Sheet): SheetSite[][] {
  const siteOf = new Map(sheet.sites.flatMap((s) => s.gateways.map((g) => [g.name, s.name] as const)));
  const group = new Map(sheet.sites.map((s) => [s.name, s.name]));
  const root = (name: string): string => { const up = group.get(name)!; return up === name ? name : root(up); };
  for (const link of sheet.links) {
    const [from, to] = [siteOf.get(link.from), siteOf.get(link.to)];
    if (from && to) group.set(root(from), root(to));
  }
  const byRoot = new Map<string, SheetSite[]>();
  for (const site of sheet.sites) byRoot.set(root(site.name), [...(byRoot.get(root(site.name)) ?? []), site]);
  const stacked = [...byRoot.values()].flatMap((all) => (all.length > MOST_STACKED ? all.map((s) => [s]) : [all]));
  return [...stacked.filter((c) => c.length > 1), ...stacked.filter((c) => c.length === 1)];
}

/** Clusters go to the shortest column, so that the sheet stays compact with 3 sites and with 60. */
export function draw(sheet: Sheet): Drawing {
  const count = sheet.sites.length;
  const columns = Math.max(1, Math.min(count, count <= 4 ? 3 : Math.ceil(Math.sqrt(count * 1.4))));
  const heights = new Array<number>(columns).fill(0);
  const cards: Placed[] = [];
  const at = new Map<string, { x: number; y: number }>();
  for (const cluster of clusters(sheet)) {
    const column = heights.indexOf(Math.min(...heights));
    const x = column * (CARD.width + CARD.gap);
    for (const site of cluster) {
      const y = heights[column];
      const height = cardHeight(site);
      let line = y + CARD.pad + CARD.head + site.networks.length * CARD.line + CARD.air;
      const gateways = site.gateways.map((g) => {
        const placed = { id: g.id, name: g.name, x, y: line };
        at.set(g.name, { x, y: line + 10 });
        line += CARD.line * (2 + g.listeners.length) + 8;
        return placed;
      });
      cards.push({ site, x, y, width: CARD.width, height, gateways });
      heights[column] += height + CARD.gap / 2;
    }
  }
  const wires = sheet.links.flatMap((link) => {
    const from = at.get(link.from);
    const to = at.get(link.to);
    return from && to ? [{ ...link, path: wire(from, to) }] : [];
  });
  return { cards, wires, width: columns * (CARD.width + CARD.gap) - CARD.gap, height: Math.max(...heights, 0) };
}

function wire(from: { x: number; y: number }, to: { x: number; y: number }): string {
  if (from.x === to.x) {
    const out = from.x - 18;
    return `M${from.x} ${from.y} C${out} ${from.y} ${out} ${to.y} ${to.x} ${to.y}`;
  }
  const [left, right] = from.x < to.x ? [from, to] : [to, from];
  const middle = (left.x + CARD.width + right.x) / 2;
  return `M${left.x + CARD.width} ${left.y} C${middle} ${left.y} ${middle} ${right.y} ${right.x} ${right.y}`;
}
