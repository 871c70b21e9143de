import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';
import { AlertRuleInput } from './alerts.js';
import { CalibrationInput } from './calibration.js';
import { CutOffRuleInput, SwitchCommand, SwitchInput } from './control.js';
import { DeviceInput, LinkInput, PointAssignment, TrialReadInput } from './devices.js';
import { NodeInput } from './installation.js';
import { PointDefinitionInput, RegisterMapInput, toDefinition } from './registers.js';
import { SiteInput } from './site.js';

/** The fields at which an input is refused. */
function refused<T extends object>(type: new () => T, value: object): string[] {
  const flatten = (errors: ValidationError[], path = ''): string[] =>
    errors.flatMap((e) => [
      ...(e.constraints ? [path + e.property] : []),
      ...flatten(e.children ?? [], `${path}${e.property}.`),
    ]);
  return flatten(validateSync(plainToInstance(type, value), { whitelist: true, forbidNonWhitelisted: true }));
}

const site = {
  name: 'Bakery',
  timeZone: 'Europe/Lisbon',
  nominalVoltage: 230,
  frequency: 50,
  conductorScheme: 'iec-60445',
};
const node = {
  kind: 'circuit',
  parentId: 2,
  name: 'Oven',
  way: '1',
  phases: 'L1 L2 L3',
  protectiveDevice: 'C',
  ratedCurrent: 32,
};
const link = { name: 'Cabinet', host: '192.168.1.40', port: 502, timeoutMs: 1000, enabled: true };
const device = { linkId: 1, mapId: 1, name: 'Meter', unit: 1 };
const factor = { kind: 'factor', factor: 0.1, offset: 0 };
const point = {
  key: 'v',
  name: 'Voltage',
  kind: 'holding',
  address: '0',
  counting: 'from-0',
  type: 'float32',
  wordOrder: 'high-first',
  byteOrder: 'high-first',
  scaling: factor,
  unit: 'V',
  quantity: 'voltage',
  phase: 'L1',
  access: 'read',
  intervalMs: 1000,
};
const map = { name: 'Map', description: '', points: [point] };
const capture = { label: 'Zero', from: 1000, to: 6000, reference: 0 };
const calibration = { pointId: 1, points: [capture], validFrom: 0, withPower: true };
const alert = {
  name: 'Low',
  pointId: 1,
  direction: 'below',
  limit: 207,
  deadband: 2,
  onDelayMs: 0,
  offDelayMs: 0,
  enabled: true,
};
const entity = { name: 'Relay', nodeId: 1, commandPointId: 2, statePointId: 3, timeoutMs: 3000 };
const cutOff = { switchId: 1, pointId: 2, limit: 3600, delayMs: 2000, ignoreAfterOnMs: 5000, enabled: true };

describe('what is right passes', () => {
  it.each([
    ['site', SiteInput, site],
    ['node', NodeInput, node],
    [
      'supply without parent or rating',
      NodeInput,
      { ...node, kind: 'supply', parentId: null, ratedCurrent: null, protectiveDevice: null },
    ],
    ['link by address', LinkInput, link],
    ['link by name', LinkInput, { ...link, host: 'meter-3.local' }],
    ['link by IPv6', LinkInput, { ...link, host: 'fd00::12' }],
    ['device', DeviceInput, device],
    ['assignment', PointAssignment, { nodeId: null, phase: null }],
    ['point', PointDefinitionInput, point],
    [
      'point with pairs',
      PointDefinitionInput,
      { ...point, scaling: { kind: 'pairs', raw1: 0, value1: 0, raw2: 9999, value2: 144 } },
    ],
    ['map', RegisterMapInput, map],
    ['empty map', RegisterMapInput, { ...map, points: [] }],
    ['trial', TrialReadInput, { linkId: 1, unit: 1, points: [point] }],
    ['calibration', CalibrationInput, calibration],
    ['alert', AlertRuleInput, alert],
    ['switch', SwitchInput, entity],
    ['command', SwitchCommand, { closed: false }],
    ['cut-off', CutOffRuleInput, cutOff],
  ] as [string, new () => object, object][])('%s', (_what, type, value) =>
    expect(refused(type, value)).toEqual([]),
  );
});

describe('what is wrong is refused at its field', () => {
  it.each([
    [SiteInput, { ...site, name: '' }, ['name']],
    [SiteInput, { ...site, timeZone: 'Moon/Crater' }, ['timeZone']],
    [SiteInput, { ...site, nominalVoltage: '230' }, ['nominalVoltage']],
    [SiteInput, { ...site, frequency: 55 }, ['frequency']],
    [NodeInput, { ...node, kind: 'garage' }, ['kind']],
    [NodeInput, { ...node, phases: 'L4' }, ['phases']],
    [NodeInput, { ...node, ratedCurrent: 0 }, ['ratedCurrent']],
    [NodeInput, { ...node, way: 'a very long way number' }, ['way']],
    [LinkInput, { ...link, host: 'http://meter/' }, ['host']],
    [LinkInput, { ...link, host: '' }, ['host']],
    [LinkInput, { ...link, host: '-meter' }, ['host']],
    [LinkInput, { ...link, port: 0 }, ['port']],
    [LinkInput, { ...link, port: 502.5 }, ['port']],
    [LinkInput, { ...link, timeoutMs: 1 }, ['timeoutMs']],
    [DeviceInput, { ...device, unit: 256 }, ['unit']],
    [DeviceInput, { ...device, unit: -1 }, ['unit']],
    [DeviceInput, { ...device, removedAt: null }, ['removedAt']],
    [PointAssignment, { nodeId: 'x', phase: 'L9' }, ['nodeId', 'phase']],
    [PointDefinitionInput, { ...point, key: 'Voltage L1' }, ['key']],
    [PointDefinitionInput, { ...point, type: 'float' }, ['type']],
    [PointDefinitionInput, { ...point, intervalMs: 10 }, ['intervalMs']],
    [
      PointDefinitionInput,
      { ...point, scaling: { kind: 'factor', factor: 'x', offset: 0 } },
      ['scaling.factor'],
    ],
    [
      PointDefinitionInput,
      { ...point, scaling: { kind: 'pairs', raw1: 0, value1: 0, raw2: 1 } },
      ['scaling.value2'],
    ],
    [RegisterMapInput, { ...map, points: [point, { ...point, quantity: 'colour' }] }, ['points.1.quantity']],
    [RegisterMapInput, { ...map, points: Array.from({ length: 501 }, () => point) }, ['points']],
    [CalibrationInput, { ...calibration, points: [] }, ['points']],
    [CalibrationInput, { ...calibration, points: [{ ...capture, reference: NaN }] }, ['points.0.reference']],
    [CalibrationInput, { ...calibration, validFrom: 'now' }, ['validFrom']],
    [AlertRuleInput, { ...alert, limit: Infinity }, ['limit']],
    [AlertRuleInput, { ...alert, deadband: -1 }, ['deadband']],
    [AlertRuleInput, { ...alert, onDelayMs: 1e9 }, ['onDelayMs']],
    [SwitchInput, { ...entity, timeoutMs: 100 }, ['timeoutMs']],
    [SwitchCommand, { closed: 'yes' }, ['closed']],
    [CutOffRuleInput, { ...cutOff, limit: 'high' }, ['limit']],
    [CutOffRuleInput, { ...cutOff, ignoreAfterOnMs: -5 }, ['ignoreAfterOnMs']],
  ] as [new () => object, object, string[]][])('%p %j', (type, value, fields) =>
    expect(refused(type, value)).toEqual(fields),
  );
});

it('keeps of a definition exactly what core knows', () => {
  expect(toDefinition(plainToInstance(PointDefinitionInput, point))).toMatchObject(point);
});
