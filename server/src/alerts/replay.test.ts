import { QUALITY } from '@loka/core/series';
import type { AlertRuleEntity } from './alert.entity.js';
import { replay } from './replay.js';

const rule: AlertRuleEntity = {
  id: 3,
  name: 'High load',
  pointId: 7,
  direction: 'above',
  limit: 100,
  deadband: 10,
  onDelayMs: 60_000,
  offDelayMs: 0,
  enabled: true,
  removedAt: null,
  version: 1,
};
const minutes = (values: (number | null)[]) =>
  values.map((v, i) => ({ t: i * 60_000, v, q: v === null ? QUALITY.silent : QUALITY.good }));
const told = (values: (number | null)[]) =>
  replay(rule, minutes(values), 'W').map(({ raisedAt, returnedAt, value, condition }) => [
    raisedAt / 60_000,
    (returnedAt as number) / 60_000,
    value,
    condition,
  ]);

it('over recorded readings a rule raises what it would have raised as they came', () => {
  // Beyond for a minute from the 1st on; back within the deadband at the 3rd, behind it at the 4th.
  expect(told([50, 120, 130, 95, 85])).toEqual([[2, 4, 130, 'above 100 W']]);
});
it('each time again', () => expect(told([120, 120, 50, 120, 120, 50])).toHaveLength(2));
it('what was beyond for too short a time, or not read in between, is none', () => {
  expect(told([120, 50, 120, 50])).toEqual([]);
  expect(told([120, null, 120, 50])).toEqual([]);
});
it('what still stands at the end is left to the readings that come', () => {
  expect(told([120, 120, 120])).toEqual([]);
});
