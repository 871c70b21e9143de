import type { InstallationNode } from '@loka/contract/installation';
import type { Strip, StripKind } from '@loka/core/balance';
import { FLOWS } from '../theme/flows.js';
import { stripLook, stripName, stripNote } from './stripWords.js';

const strip = (kind: StripKind, more: Partial<Strip> = {}): Strip => ({
  key: kind,
  kind,
  nodeId: 1,
  value: 1,
  u: 0,
  certain: true,
  contradicts: false,
  inside: null,
  ...more,
});
const place = (kind: string, name: string, purposeShown: string | null = null) =>
  ({ kind, name, purposeShown }) as unknown as InstallationNode;
const INK = { ink2: '#222222', danger: '#aa0000' };

it.each([
  ['feed', place('supply', 'Supply'), 'From the supply'],
  ['feed', place('board', 'Shop board'), 'Into Shop board'],
  ['back', place('supply', 'Supply'), 'Back to the supply'],
  ['gives', place('load', 'Battery', 'storage'), 'Battery, discharging'],
  ['takes', place('load', 'Battery', 'storage'), 'Battery, charging'],
  ['gives', place('load', 'Roof', 'roof'), 'Roof'],
  ['unmetered', place('supply', 'Supply'), 'Not metered'],
  ['excess', place('supply', 'Supply'), 'Meters apart'],
] as const)('%s is called %#', (kind, node, name) => expect(stripName(strip(kind), node)).toBe(name));

it('what contradicts, and what is uncertain, is said and not shown by its colour alone', () => {
  expect(stripName(strip('excess', { contradicts: true }), undefined)).toBe('Parts exceed the whole');
  expect(stripNote(strip('excess', { contradicts: true }))).toBe('meters contradict');
  expect(stripNote(strip('takes', { certain: false }))).toContain('uncertain');
  expect(stripNote(strip('takes'))).toBeNull();
  expect(stripLook(strip('takes', { certain: false }), undefined, FLOWS, INK)).toMatchObject({
    dashed: true,
    fill: FLOWS.uncertain,
  });
  expect(stripLook(strip('excess', { contradicts: true }), undefined, FLOWS, INK).stroke).toBe(INK.danger);
});
it('giving is filled, taking back and charging outlined, what nobody meters hatched', () => {
  const look = (kind: StripKind, purpose: string | null) =>
    stripLook(strip(kind), place('load', '', purpose), FLOWS, INK);
  expect(look('gives', 'roof')).toEqual({ fill: FLOWS.roof, stroke: 'none', dashed: false });
  expect(look('takes', 'storage').stroke).toBe(FLOWS.storage);
  expect(look('back', null).stroke).toBe(FLOWS.supply);
  expect(look('unmetered', null).fill).toMatch(/^url/);
});
