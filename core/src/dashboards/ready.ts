import type { Phase, Quantity } from '../quantities/index.js';
import { contentOf, type DashboardContent } from './content.js';
import { KIND_RULES, newElement, type DashboardElement, type ElementKind, type Source } from './element.js';
import { COLUMNS, firstFree } from './grid.js';

/** What of the installation the ready dashboards are made from. */
export interface ReadyFacts {
  nodes: readonly {
    id: number;
    parentId: number | null;
    kind: 'supply' | 'board' | 'circuit' | 'load';
    name: string;
    /** The points that its power comes from. */
    powerPointIds: readonly number[];
    feedsIn: boolean;
    isStorage: boolean;
  }[];
  points: readonly { id: number; nodeId: number | null; quantity: Quantity; phase: Phase | null }[];
  switches: readonly { id: number; nodeId: number }[];
}

/** A dashboard that is there without anybody having made it. */
export interface ReadyDashboard {
  /** "site", "sources", "meter-12", "load-12": the same as long as the place is there. */
  key: string;
  name: string;
  content: DashboardContent;
}

type Wanted = [ElementKind, Source | Source[], Partial<DashboardElement>?, { w: number; h: number }?];

/** Elements one after another, each where there is room first. */
function laidOut(wanted: readonly Wanted[]): DashboardContent {
  const elements: DashboardElement[] = [];
  for (const [kind, shows, more = {}, size = KIND_RULES[kind].size] of wanted) {
    const spot = firstFree(
      elements.map((e) => e.spot),
      { w: Math.min(COLUMNS, size.w), h: size.h },
    );
    elements.push(
      newElement(`e${elements.length + 1}`, kind, Array.isArray(shows) ? shows : [shows], spot, more),
    );
  }
  return contentOf(elements);
}

const LINES: readonly (Phase | null)[] = ['L1', 'L2', 'L3'];
const power = (id: number): Source => ({ of: 'power', id });
const place = (id: number): Source => ({ of: 'place', id });

/**
 * The dashboards that a site has at once: of the whole, of what generates and stores, of each metered bar, and of each
 * metered circuit for whoever commissions the load on it. Made from what is there, and nothing else.
 */
export function readyDashboards({ nodes, points, switches }: ReadyFacts): ReadyDashboard[] {
  const supply = nodes.find((n) => n.kind === 'supply');
  if (!supply) return [];
  const at = (nodeId: number, quantity: Quantity) =>
    points.filter((p) => p.nodeId === nodeId && p.quantity === quantity);
  const dials = (nodeId: number, quantity: Quantity): Wanted[] =>
    at(nodeId, quantity)
      .sort((a, b) => LINES.indexOf(a.phase) - LINES.indexOf(b.phase))
      .slice(0, 4)
      .map(({ id }): Wanted => ['dial', { of: 'point', id }]);
  const metered = nodes.filter((n) => n.powerPointIds.length > 0);
  const isMetered = (id: number) => metered.some((n) => n.id === id);
  const sources = metered.filter((n) => n.feedsIn || n.isStorage);
  // An inverter whose roof and battery are metered by themselves says nothing more.
  const giving = sources.filter((s) => !sources.some((other) => other.parentId === s.id));
  const charges = points.filter((p) => p.quantity === 'state-of-charge');

  const ready: ReadyDashboard[] = [
    {
      key: 'site',
      name: 'The whole site',
      content: laidOut([
        ...(isMetered(supply.id)
          ? ([
              ['number', power(supply.id), { title: 'From the supply now' }, { w: 4, h: 2 }],
              ['number', { of: 'energy', id: supply.id }, { span: 'today' }, { w: 4, h: 2 }],
            ] as Wanted[])
          : []),
        ['alerts', place(supply.id), {}, { w: 4, h: 4 }],
        ...dials(supply.id, 'voltage').map(([kind, shows]): Wanted => [kind, shows, {}, { w: 2, h: 3 }]),
        ...dials(supply.id, 'frequency').map(([kind, shows]): Wanted => [kind, shows, {}, { w: 2, h: 3 }]),
        ['ranking', place(supply.id), { span: 'today' }, { w: 4, h: 6 }],
        ...(isMetered(supply.id)
          ? ([
              [
                'trend',
                [power(supply.id), ...giving.slice(0, 3).map((n) => power(n.id))],
                { span: '24-hours' },
                { w: 8, h: 5 },
              ],
              ['bars', place(supply.id), { span: '7-days' }, { w: 4, h: 5 }],
            ] as Wanted[])
          : []),
        ['flow', place(supply.id), { span: 'today' }, { w: 8, h: 8 }],
      ]),
    },
  ];
  if (giving.length > 0)
    ready.push({
      key: 'sources',
      name: 'What generates and stores',
      content: laidOut([
        ...giving
          .slice(0, 3)
          .map((n): Wanted => ['number', power(n.id), { title: `${n.name} now` }, { w: 3, h: 2 }]),
        ...(isMetered(supply.id)
          ? ([['number', power(supply.id), { title: 'From the supply now' }, { w: 3, h: 2 }]] as Wanted[])
          : []),
        ...charges.slice(0, 3).map(({ id }): Wanted => ['level', { of: 'point', id }, {}, { w: 2, h: 5 }]),
        [
          'trend',
          [
            ...giving.slice(0, 3).map((n) => power(n.id)),
            ...(isMetered(supply.id) ? [power(supply.id)] : []),
          ],
          { span: '24-hours' },
          { w: 10 - 2 * Math.min(2, Math.max(0, charges.length - 1)), h: 5 },
        ],
        ...giving.slice(0, 3).map((n): Wanted => ['bars', place(n.id), { span: '7-days' }, { w: 4, h: 5 }]),
      ]),
    });
  for (const node of metered.filter((n) => n.kind === 'supply' || n.kind === 'board'))
    ready.push({
      key: `meter-${node.id}`,
      name: `Meter of ${node.name}`,
      content: laidOut([
        ['number', power(node.id), {}, { w: 4, h: 2 }],
        ['number', { of: 'energy', id: node.id }, { span: 'today' }, { w: 4, h: 2 }],
        ['number', { of: 'energy', id: node.id }, { span: 'month' }, { w: 4, h: 2 }],
        ...dials(node.id, 'voltage'),
        ...dials(node.id, 'current'),
        ...dials(node.id, 'frequency'),
        ...dials(node.id, 'power-factor').slice(0, 1),
        ['trend', power(node.id), { span: '24-hours' }, { w: 12, h: 5 }],
      ]),
    });
  for (const node of metered.filter(
    (n) => (n.kind === 'circuit' || n.kind === 'load') && !sources.includes(n),
  )) {
    const switching = switches.find((s) => s.nodeId === node.id);
    ready.push({
      key: `load-${node.id}`,
      name: `${node.name}, being commissioned`,
      content: laidOut([
        ['number', power(node.id), {}, { w: 6, h: 3 }],
        ['job', place(node.id), {}, { w: 6, h: 3 }],
        ...dials(node.id, 'current'),
        ...dials(node.id, 'voltage'),
        ...dials(node.id, 'power-factor').slice(0, 1),
        ...(switching ? ([['switch', { of: 'switch', id: switching.id }]] as Wanted[]) : []),
        ['number', { of: 'energy', id: node.id }, { span: 'today' }],
        ['alerts', place(node.id), {}, { w: 4, h: 3 }],
        [
          'trend',
          [
            power(node.id),
            ...at(node.id, 'current')
              .slice(0, 3)
              .map(({ id }): Source => ({ of: 'point', id })),
          ],
          { span: '24-hours' },
          { w: 12, h: 5 },
        ],
      ]),
    });
  }
  return ready;
}
