import type { AnyDefinition } from '@loka/core/definitions';
import type { Phase, Quantity } from '@loka/core/quantities';
import type { KnownPoint } from './deviceBook.js';
import { currentPointsOf, counterPointsOf, powerPointsOf } from './nodePoints.js';

let next = 1;
const point = (quantity: Quantity, phase: Phase | null, more: Partial<AnyDefinition> = {}): KnownPoint =>
  ({
    id: next++,
    phase,
    definition: { kind: 'holding', quantity, access: 'read', ...more },
  }) as unknown as KnownPoint;
const virtual = { kind: 'formula' } as Partial<AnyDefinition>;

describe('the power of a place', () => {
  const lines = (['L1', 'L2', 'L3'] as const).map((phase) => point('active-power', phase));
  const total = point('active-power', 'total');
  const ofBattery = point('active-power', 'DC');

  it('is its total where a meter gives one, else the sum of its lines', () => {
    expect(powerPointsOf([...lines, total])).toEqual([total]);
    expect(powerPointsOf(lines)).toEqual(lines);
  });
  it('leaves out a DC side beside an AC one, and takes it where it is all there is', () => {
    expect(powerPointsOf([...lines, ofBattery])).toEqual(lines);
    expect(powerPointsOf([ofBattery])).toEqual([ofBattery]);
  });
  it('is a virtual meter only where nothing is measured on the AC side', () => {
    const output = point('active-power', 'total', virtual);
    expect(powerPointsOf([output, ...lines])).toEqual(lines);
    expect(powerPointsOf([output, ofBattery])).toEqual([output]);
  });
  it('is not what is only written', () => {
    expect(powerPointsOf([point('active-power', 'L1', { access: 'write' })])).toEqual([]);
  });
});

it('the currents of a place are those of its lines, which its protective device carries', () => {
  const lines = (['L1', 'L2', 'L3'] as const).map((phase) => point('current', phase));
  const plain = point('current', null);
  const others = (['N', 'total', 'DC'] as const).map((phase) => point('current', phase));
  expect(currentPointsOf([...others, ...lines, point('voltage', 'L1')])).toEqual(lines);
  expect(currentPointsOf([plain, ...others])).toEqual([plain]);
});

it('the counters of a place are its total, else one for each line, else what there is', () => {
  const perLine = (['L1', 'L2', 'L3'] as const).map((phase) => point('energy-import', phase));
  const total = point('energy-import', 'total');
  const dc = point('energy-import', 'DC');
  expect(counterPointsOf([...perLine, total], 'energy-import')).toEqual([total]);
  expect(counterPointsOf([dc, ...perLine], 'energy-import')).toEqual(perLine);
  // A single-phase circuit has its counter on its line.
  expect(counterPointsOf(perLine.slice(0, 1), 'energy-import')).toEqual(perLine.slice(0, 1));
  expect(counterPointsOf([dc], 'energy-import')).toEqual([dc]);
  expect(counterPointsOf([total], 'energy-export')).toEqual([]);
});
