import type { Switch } from '@loka/contract/control';
import type { InstallationNode } from '@loka/contract/installation';
import type { Picture } from '@loka/contract/pictures';
import type { Plan } from '@loka/contract/plans';
import type { Point } from '@loka/contract/points';
import { KIND_RULES, type DashboardElement, type ElementKind, type Source } from '@loka/core/dashboards';
import { canBeSent, isReadable } from '@loka/core/points';
import { quantityInfo } from '@loka/core/quantities';
import { meteredParts, nodeTitle } from '../shared/nodes.js';
import { usualScale, type Scale } from '../shared/usualScale.js';
import type { Facts } from './facts.js';

/** What a source stands for now. */
export interface Shown {
  source: Source;
  name: string;
  /** Base unit of its number; empty where it is none. */
  unit: string;
  /** The points that it is summed from, place by place; empty where it is no live value. */
  groups: number[][];
  node: InstallationNode | undefined;
  point: Point | undefined;
  entity: Switch | undefined;
  plan: Plan | undefined;
  picture: Picture | undefined;
}

const bare = (source: Source, name: string): Shown => ({
  source,
  name,
  unit: '',
  groups: [],
  node: undefined,
  point: undefined,
  entity: undefined,
  plan: undefined,
  picture: undefined,
});

/** What is shown; null where it is gone. */
export function shownBy(source: Source, facts: Facts): Shown | null {
  if (source.of === 'point') {
    const point = facts.points.find((p) => p.id === source.id);
    if (!point) return null;
    const node = facts.nodes.find((n) => n.id === point.nodeId);
    const { unit } = quantityInfo(point.definition.quantity);
    const name = node
      ? `${node.name}, ${point.definition.name}`
      : `${point.deviceName}, ${point.definition.name}`;
    return { ...bare(source, name), unit, groups: [[point.id]], node, point };
  }
  if (source.of === 'switch') {
    const entity = facts.switches.find((s) => s.id === source.id);
    const node = facts.nodes.find((n) => n.id === entity?.nodeId);
    return entity ? { ...bare(source, `${entity.name}, contact`), node, entity } : null;
  }
  if (source.of === 'plan') {
    const plan = facts.plans.find((p) => p.id === source.id);
    return plan ? { ...bare(source, plan.name), plan } : null;
  }
  if (source.of === 'picture') {
    const picture = facts.pictures.find((p) => p.id === source.id);
    return picture ? { ...bare(source, picture.name), picture } : null;
  }
  const node = facts.nodes.find((n) => n.id === source.id);
  if (!node) return null;
  const own = node.powerPointIds;
  const groups = own.length > 0 ? [own] : meteredParts(facts.nodes, node.id).map((p) => p.powerPointIds);
  return {
    ...bare(source, node.name),
    unit: source.of === 'power' ? 'W' : source.of === 'energy' ? 'Wh' : '',
    groups: source.of === 'power' ? groups : [],
    node,
  };
}

const KIND_TITLES: Partial<Record<ElementKind, (name: string) => string>> = {
  bars: (name) => `Energy of ${name}`,
  ranking: (name) => `${name}, most to least`,
  'typical-day': (name) => `A day of ${name}`,
  flow: (name) => `${name}: where it goes`,
  alerts: () => 'Alerts',
  job: (name) => `${name}: how far the job is`,
};

/** The title that somebody gave it, or else one by what it shows. */
export function titleOf(element: DashboardElement, facts: Facts): string {
  if (element.title) return element.title;
  const names = element.shows.flatMap((s) => shownBy(s, facts)?.name ?? []);
  const [first] = names;
  if (element.kind === 'text') return '';
  if (first === undefined) return KIND_WORDS[element.kind].name;
  if (names.length > 1) return names.slice(0, 2).join(' and ') + (names.length > 2 ? ' …' : '');
  return KIND_TITLES[element.kind]?.(first) ?? first;
}

/** What the kinds are called, and what they are for. */
export const KIND_WORDS: Record<ElementKind, { name: string; says: string }> = {
  number: { name: 'Number', says: 'large, with its age' },
  dial: { name: 'Dial, 90°', says: 'with the band where it should be' },
  level: { name: 'Level', says: 'how full, with marks' },
  trend: { name: 'Trend', says: 'up to four quantities, contacts and alerts below' },
  bars: { name: 'Energy bars', says: 'by hour, day or month' },
  ranking: { name: 'Most to least', says: 'what took how much' },
  'typical-day': { name: 'Typical day', says: 'its usual range of power, with today over it' },
  flow: { name: 'Flow picture', says: 'sources, uses and what is not metered' },
  switch: { name: 'Switch', says: 'commanded, read back, and its verb' },
  command: { name: 'Command', says: 'sends a value after asking, and says what came back' },
  alerts: { name: 'Alerts', says: 'what is open here' },
  job: { name: 'Job', says: 'how far a circuit is' },
  plan: { name: 'Floor plan', says: 'where it is, with what flows there' },
  picture: { name: 'Picture', says: 'uploaded: a photograph, a drawing, a sign' },
  text: { name: 'Text', says: 'what should be known here' },
};

/** A scale with its band for one that is shown: what was set, or else what is usual. Null where neither is. */
export function scaleFor(element: DashboardElement, shown: Shown, facts: Facts): Scale | null {
  const usual =
    shown.point !== undefined
      ? usualScale(shown.point, shown.node, facts.site)
      : shown.source.of === 'power'
        ? powerScale(shown.node, facts)
        : null;
  const ends = element.scale ?? (usual ? [usual.low, usual.high] : null);
  if (!ends) return null;
  const band = element.band ?? (usual ? [usual.from, usual.to] : ends);
  return {
    low: ends[0],
    high: ends[1],
    from: band[0],
    to: band[1],
    nominal: element.nominal ?? usual?.nominal ?? ends[1],
    outside: usual?.outside ?? 'warn',
  };
}

/** A place's power up to what its protective device lets through. */
function powerScale(node: InstallationNode | undefined, { site }: Facts): Scale | null {
  if (!node || !site) return null;
  const lines = node.phases.split(' ').filter((p) => /^L[123]$/.test(p)).length || 1;
  const rated =
    node.ratedPower ?? (node.ratedCurrent ? node.ratedCurrent * site.nominalVoltage * lines : null);
  if (!rated) return null;
  const low = node.feedsIn ? -rated : 0;
  return { low, high: rated * 1.2, from: low, to: rated, nominal: rated, outside: 'danger' };
}

export interface Choice {
  source: Source;
  name: string;
  /** Under which it is listed. */
  group: string;
}

/** What could be shown instead, the nearest first: of the same kind, at the same place or quantity. */
export function choicesFor(kind: ElementKind, facts: Facts): Choice[] {
  const { takes } = KIND_RULES[kind];
  const places = facts.nodes.map((n) => ({ n, metered: shownBy({ of: 'power', id: n.id }, facts) }));
  return takes.flatMap((of): Choice[] => {
    switch (of) {
      case 'power':
        return places.flatMap(({ n, metered }) =>
          metered && metered.groups.length > 0
            ? [{ source: { of, id: n.id }, name: `${nodeTitle(n)}, power`, group: 'Power' }]
            : [],
        );
      case 'energy':
        return places.flatMap(({ n, metered }) =>
          metered && metered.groups.length > 0
            ? [{ source: { of, id: n.id }, name: `${nodeTitle(n)}, energy`, group: 'Energy' }]
            : [],
        );
      case 'place':
        return facts.nodes
          .filter((n) => kind !== 'job' || n.kind === 'circuit' || n.kind === 'load')
          .map((n) => ({ source: { of, id: n.id }, name: nodeTitle(n), group: 'Places' }));
      case 'plan':
        return facts.plans.map((p) => ({ source: { of, id: p.id }, name: p.name, group: 'Floor plans' }));
      case 'picture':
        return facts.pictures.map((p) => ({ source: { of, id: p.id }, name: p.name, group: 'Pictures' }));
      case 'switch':
        return facts.switches.map((s) => ({ source: { of, id: s.id }, name: s.name, group: 'Switches' }));
      case 'point':
        return facts.points
          .filter((p) =>
            kind === 'command'
              ? canBeSent(p.definition)
              : isReadable(p.definition) && quantityInfo(p.definition.quantity).kind === 'instant',
          )
          .map((p) => {
            const node = facts.nodes.find((n) => n.id === p.nodeId);
            return {
              source: { of, id: p.id },
              name: `${node ? nodeTitle(node) : 'not at a place'}, ${p.definition.name}`,
              group: node?.name ?? p.deviceName,
            };
          });
    }
  });
}

/** The same thing as another kind of element would show it; null where that kind has nothing of it to show. */
export function sourceAs(kind: ElementKind, source: Source, facts: Facts): Source | null {
  const { takes } = KIND_RULES[kind];
  if (takes.includes(source.of)) return source;
  const shown = shownBy(source, facts);
  const nodeId = shown?.node?.id;
  if (nodeId === undefined) return null;
  for (const of of takes) {
    if (of === 'power' || of === 'energy') {
      if ((shownBy({ of: 'power', id: nodeId }, facts)?.groups.length ?? 0) > 0) return { of, id: nodeId };
    } else if (of === 'place') return { of, id: nodeId };
    else if (of === 'switch') {
      const own = facts.switches.find((s) => s.nodeId === nodeId);
      if (own) return { of, id: own.id };
    }
  }
  return null;
}

/** As what a place that is dropped on the sheet is shown first. */
export function kindFor(nodeId: number, facts: Facts): { kind: ElementKind; source: Source } {
  const power: Source = { of: 'power', id: nodeId };
  return (shownBy(power, facts)?.groups.length ?? 0) > 0
    ? { kind: 'number', source: power }
    : { kind: 'job', source: { of: 'place', id: nodeId } };
}
