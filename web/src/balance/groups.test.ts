import type { InstallationNode } from '@loka/contract/installation';
import { columnOf, groupsOf, isConsumption, totalOf } from './groups.js';

const node = (id: number, parentId: number | null, kind: string, name: string, more: object = {}) =>
  ({ id, parentId, kind, name, phases: 'L1', purposeShown: null, ...more }) as unknown as InstallationNode;

const NODES = [
  node(1, null, 'supply', 'Supply'),
  node(2, 1, 'board', 'Main board'),
  node(3, 2, 'circuit', 'Oven', { purposeShown: 'cooking', phases: 'L1 L2 L3' }),
  node(4, 2, 'circuit', 'Lights', { purposeShown: 'lighting' }),
  node(5, 2, 'board', 'Shop board'),
  node(6, 5, 'circuit', 'Hob', { purposeShown: 'cooking' }),
  node(7, 2, 'load', 'Battery', { purposeShown: 'storage' }),
];
const line = (kind: 'takes' | 'unmetered' | 'back', nodeId: number, ...values: (number | null)[]) => ({
  key: `${kind} ${nodeId}`,
  kind,
  nodeId,
  values,
});
const USES = [
  line('takes', 3, 1000, 500),
  line('takes', 4, 20, null),
  line('takes', 6, 300, 100),
  line('takes', 7, 400, 0),
  line('unmetered', 1, 5000, 6000),
  line('back', 1, 70, 70),
];
const names = (by: Parameters<typeof groupsOf>[2]) => groupsOf(USES, NODES, by).map((g) => g.name);

it('puts uses together by purpose, the largest first, and what nobody meters last', () => {
  expect(names('purpose')).toEqual(['Cooking', 'Lighting', 'Not metered']);
  expect(groupsOf(USES, NODES, 'purpose')[0]?.uses.map((u) => u.nodeId)).toEqual([3, 6]);
});
it('by board what nobody meters belongs to its board; a supply’s to the board behind it', () => {
  expect(names('board')).toEqual(['Main board', 'Shop board']);
  expect(groupsOf(USES, NODES, 'board')[0]?.uses.map((u) => u.key)).toContain('unmetered 1');
});
it('by phase and by itself', () => {
  expect(names('phase')).toEqual(['L1 · L2 · L3', 'L1', 'Not metered']);
  expect(names('use')).toEqual(['Oven', 'Hob', 'Lights', 'Not metered']);
});
it('what goes back and what is stored is no use; what a storage’s place leaves over is', () => {
  expect(isConsumption(USES[5] as (typeof USES)[number], NODES)).toBe(false);
  expect(isConsumption(USES[3] as (typeof USES)[number], NODES)).toBe(false);
  expect(isConsumption({ kind: 'unmetered', nodeId: 7 }, NODES)).toBe(true);
});
it('a part of which one is not known has no sum, and is left out of the total', () => {
  expect(columnOf([USES[0], USES[1]] as typeof USES)).toEqual([1020, null]);
  expect(totalOf([USES[0], USES[1]] as typeof USES)).toBe(1520);
  expect(columnOf([])).toEqual([]);
});
it('a group in which nothing ever flowed is not shown, one of which nothing is known is', () => {
  expect(groupsOf([line('takes', 4, 0, 0.01)], NODES, 'purpose')).toEqual([]);
  expect(groupsOf([line('takes', 4, null, null)], NODES, 'purpose')).toHaveLength(1);
});
