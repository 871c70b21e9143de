import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import { below, isReversed, meteredBelow, nearestPoint, nodeTitle, pathUp } from './nodes.js';

const node = (
  id: number,
  parentId: number | null,
  kind: InstallationNode['kind'],
  powerPointIds: number[] = [],
  phases = 'L1 L2 L3',
): InstallationNode => ({
  id,
  version: 1,
  parentId,
  kind,
  name: `node ${id}`,
  way: String(id),
  phases,
  protectiveDevice: null,
  ratedCurrent: null,
  position: id,
  powerPointIds,
  currentPointIds: [],
  feedsIn: false,
  purposeShown: null,
  job: { fitted: true, connected: true, verified: true, calibrated: true, logging: true },
  switchId: null,
  wiringFault: null,
  wiringFaultSince: null,
});
const tree = [
  node(1, null, 'supply', [10]),
  node(2, 1, 'board'),
  node(3, 2, 'circuit', [30], 'L2'),
  node(4, 2, 'board'),
  node(5, 4, 'circuit', [50, 51]),
  node(6, 3, 'load', [60]),
];
const voltage = (id: number, nodeId: number, phase: Point['phase']) =>
  ({ id, nodeId, phase, definition: { quantity: 'voltage', access: 'read' } }) as Point;

it('walks up and down the tree', () => {
  expect(pathUp(tree, 5).map((n) => n.id)).toEqual([5, 4, 2, 1]);
  expect(
    below(tree, 2)
      .map((n) => n.id)
      .sort(),
  ).toEqual([2, 3, 4, 5, 6]);
});
it('sums a board from the first meters on the way down, so that nothing counts twice', () => {
  expect(meteredBelow(tree, 2)).toEqual([30, 50, 51]);
});
it('takes the voltage of the same conductor from the nearest place that measures it', () => {
  const points = [voltage(1, 1, 'L1'), voltage(2, 1, 'L2'), voltage(3, 1, 'L3')];
  expect(nearestPoint(tree, points, tree[2]!, 'voltage')?.id).toBe(2);
  expect(nearestPoint(tree, [...points, voltage(9, 2, 'L2')], tree[2]!, 'voltage')?.id).toBe(9);
  expect(nearestPoint(tree, [voltage(1, 1, 'L1')], tree[2]!, 'voltage')).toBeUndefined();
});
it('titles a place as the trade does', () => {
  expect([nodeTitle(tree[2]!), nodeTitle(tree[1]!), nodeTitle(tree[0]!)]).toEqual([
    'Way 3 · node 3',
    '2 · node 2',
    'node 1',
  ]);
});
it('negative power is reversed unless something there or below feeds in', () => {
  expect(isReversed(tree, 2, -800)).toBe(true);
  expect(isReversed(tree, 2, -3)).toBe(false); // noise
  expect(isReversed(tree, 2, 800)).toBe(false);
  expect(isReversed(tree, 2, null)).toBe(false);
  const roofed = tree.map((n) => (n.id === 5 ? { ...n, feedsIn: true } : n));
  expect([1, 2, 4, 5].map((id) => isReversed(roofed, id, -800))).toEqual([false, false, false, false]);
  expect(isReversed(roofed, 3, -800)).toBe(true);
});
