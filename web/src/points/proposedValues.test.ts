import type { Point } from '@loka/contract/points';
import type { InstallationNode } from '@loka/contract/installation';
import type { RegisterMap } from '@loka/contract/registers';
import { likelyDevice, likelyMap, phaseFor, proposedValues } from './proposedValues.js';

const point = (key: string, nodeId: number | null = null, access = 'read') =>
  ({ id: 1, key, nodeId, phase: null, definition: { access, phase: null } }) as unknown as Point;
const node = (phases: string) => ({ phases }) as InstallationNode;

it('proposes what belongs nowhere yet; of several channels the first that is free', () => {
  const keys = (points: Point[]) => proposedValues(points).map((p) => p.key);
  expect(keys([point('voltage'), point('power'), point('relay', null, 'write')])).toEqual([
    'voltage',
    'power',
  ]);
  expect(
    keys([
      point('current-1', 5),
      point('power-1', 5),
      point('current-2'),
      point('power-2'),
      point('current-3'),
    ]),
  ).toEqual(['current-2', 'power-2']);
});
it('a value without a conductor takes that of a single-phase circuit', () => {
  expect(phaseFor(point('current-1'), node('L2'))).toBe('L2');
  expect(phaseFor(point('current-1'), node('L1 L2 L3'))).toBeNull();
});
it('the likely map has three lines where the circuit has, and tells most', () => {
  const map = (name: string, phases: (string | null)[]) =>
    ({
      name,
      messages: [],
      points: phases.map((phase) => ({ quantity: 'active-power', phase })),
    }) as unknown as RegisterMap;
  const maps = [
    map('one', ['L1']),
    map('small', ['L1', 'L2', 'L3']),
    map('large', ['L1', 'L2', 'L3', 'total']),
  ];
  expect(likelyMap(maps, node('L1 L2 L3'))?.name).toBe('large');
  expect(likelyMap(maps, node('L2'))?.name).toBe('one');
  expect(likelyMap([], node('L2'))).toBeUndefined();
});
it('the likely device is the one on the circuit, else one with a free load; leftovers of a meter are none', () => {
  const of = (deviceId: number | null, quantity: string, nodeId: number | null) =>
    ({
      deviceId,
      nodeId,
      key: quantity,
      phase: null,
      definition: { access: 'read', quantity, phase: null },
    }) as unknown as Point;
  const oven = [of(1, 'active-power', 10), of(1, 'energy-export', null)];
  const free = [of(2, 'voltage', null), of(2, 'current', null)];
  const prover = [of(3, 'active-power', 20), of(3, 'voltage', 20)];
  const virtual = [of(null, 'active-power', null)];
  const all = [...virtual, ...oven, ...free, ...prover];
  const at = (id: number) => ({ id, phases: 'L1' });
  expect(likelyDevice(all, at(20))).toBe(3);
  expect(likelyDevice(all, at(99))).toBe(2);
  expect(likelyDevice([...virtual, ...oven, ...prover], at(99))).toBeUndefined();
});
it('a meter of one line is not proposed for a circuit of three, nor a three-phase one that has none left', () => {
  const of = (deviceId: number, phase: string | null, nodeId: number | null = null) =>
    ({
      deviceId,
      nodeId,
      key: `power-${phase}`,
      phase: null,
      definition: { access: 'read', quantity: 'active-power', phase },
    }) as unknown as Point;
  const single = [of(1, null)];
  const taken = ['L1', 'L2', 'L3', 'total'].map((phase) => of(2, phase, 7));
  const three = ['L1', 'L2', 'L3', 'total'].map((phase) => of(3, phase));
  const at = { id: 99, phases: 'L1 L2 L3' };
  expect(likelyDevice([...single, ...taken], at)).toBeUndefined();
  expect(likelyDevice([...single, ...taken, ...three], at)).toBe(3);
  expect(likelyDevice([...taken, ...single], { id: 99, phases: 'L2' })).toBe(1);
});
it('a three-phase meter gives a circuit of one line the values of that line, and a three-phase circuit all', () => {
  const value = (phase: string | null, nodeId: number | null = null) =>
    ({
      key: `power-${phase}`,
      nodeId,
      phase: null,
      definition: { access: 'read', phase },
    }) as unknown as Point;
  const meter = [value('L1', 7), value('L2'), value('L3'), value('total'), value(null)];
  const lines = (phases: string) => proposedValues(meter, phases).map((p) => p.definition.phase);
  expect(lines('L2')).toEqual(['L2']);
  expect(lines('L1')).toEqual([]); // another circuit has it already
  expect(lines('L1 L2 L3')).toEqual(['L2', 'L3', 'total', null]);
  // What was said of a value here goes before what its map says.
  const turned = [{ ...value('L1'), phase: 'L3' } as Point, value('L2')];
  expect(proposedValues(turned, 'L3')).toEqual([turned[0]]);
});
