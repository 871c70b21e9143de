import type { Picture, Strip } from '@loka/core/balance';
import { besideOf } from './beside.js';

const strip = (key: string, value: number, inside: Picture | null = null): Strip => ({
  key,
  kind: 'takes',
  nodeId: 1,
  value,
  u: 0,
  certain: true,
  contradicts: false,
  inside,
});
const picture = (into: Strip[], out: Strip[]): Picture => ({
  nodeId: 1,
  places: [1],
  derived: false,
  total: 900,
  into,
  out,
});

it('a strip is found in the picture of the other period, also behind a board', () => {
  const inner = picture([], [strip('takes 7', 40)]);
  const beside = besideOf('last week', picture([strip('feed 1', 900)], [strip('takes 3', 860, inner)]));
  expect(beside.total).toBe(900);
  expect(beside.of(strip('feed 1', 1))).toBe(900);
  expect(beside.of(strip('takes 7', 1))).toBe(40);
  expect(beside.of(strip('takes 8', 1))).toBeNull();
});
