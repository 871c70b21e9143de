import { overlap } from './grid.js';
import { readyDashboards, type ReadyFacts } from './ready.js';

const node = (
  id: number,
  kind: ReadyFacts['nodes'][number]['kind'],
  name: string,
  parentId: number | null,
  powerPointIds: number[],
  more: Partial<ReadyFacts['nodes'][number]> = {},
) => ({ id, kind, name, parentId, powerPointIds, feedsIn: false, isStorage: false, ...more });
const FACTS: ReadyFacts = {
  nodes: [
    node(1, 'supply', 'Supply', null, [10]),
    node(2, 'board', 'Main board', 1, []),
    node(3, 'circuit', 'Deck oven', 2, [11]),
    node(4, 'circuit', 'Inverter', 2, [12], { feedsIn: true }),
    node(5, 'load', 'Roof', 4, [13], { feedsIn: true }),
    node(6, 'load', 'Battery', 4, [14], { feedsIn: true, isStorage: true }),
    node(7, 'circuit', 'Spare', 2, []),
  ],
  points: [
    { id: 20, nodeId: 1, quantity: 'voltage', phase: 'L2' },
    { id: 21, nodeId: 1, quantity: 'voltage', phase: 'L1' },
    { id: 22, nodeId: 3, quantity: 'current', phase: 'L1' },
    { id: 23, nodeId: 6, quantity: 'state-of-charge', phase: 'DC' },
  ],
  switches: [{ id: 30, nodeId: 3 }],
};
const shown = (key: string, facts = FACTS) =>
  readyDashboards(facts)
    .find((d) => d.key === key)
    ?.content.elements.map((e) => `${e.kind} ${e.shows.map((s) => `${s.of} ${s.id}`).join(' + ')}`);

it('there is one for the site, for sources, for each metered bar, and for each metered load', () => {
  expect(readyDashboards(FACTS).map((d) => d.key)).toEqual(['site', 'sources', 'meter-1', 'load-3']);
});
it('roof and battery are shown, and not the inverter that both go through', () => {
  expect(shown('sources')).toContain('trend power 5 + power 6 + power 1');
  expect(shown('sources')?.join()).not.toContain('power 4');
  expect(shown('sources')).toContain('level point 23');
});
it('lines stand in their order, and a load has its current and its switch', () => {
  expect(shown('site')?.filter((e) => e.startsWith('dial'))).toEqual(['dial point 21', 'dial point 20']);
  expect(shown('load-3')).toEqual(
    expect.arrayContaining([
      'number power 3',
      'dial point 22',
      'switch switch 30',
      'trend power 3 + point 22',
    ]),
  );
});
it('nothing is shown that nothing measures', () => {
  const bare = { ...FACTS, nodes: FACTS.nodes.map((n) => ({ ...n, powerPointIds: [] })) };
  expect(readyDashboards(bare).map((d) => d.key)).toEqual(['site']);
  expect(shown('site', bare)?.join()).not.toMatch(/power|energy|trend|bars/);
  expect(readyDashboards({ nodes: [], points: [], switches: [] })).toEqual([]);
});
it('nothing lies on another in any of them', () => {
  for (const { content } of readyDashboards(FACTS))
    for (const a of content.elements)
      for (const b of content.elements) expect(a === b || !overlap(a.spot, b.spot)).toBe(true);
});
