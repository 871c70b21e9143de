import { plainToInstance } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';
import { AlertRuleInput } from './alerts.js';
import { CalibrationInput } from './calibration.js';
import { CutOffRuleInput, SwitchCommand, SwitchInput } from './control.js';
import { TrialReadInput } from './acquisition.js';
import { BatchMember, DeviceBatch, DeviceInput, SettingsCopy } from './devices.js';
import { hasAddresses, isModbusKind, isNetworkKind, LINK_KINDS, LinkInput } from './links.js';
import { PointAssignment } from './points.js';
import { NodeInput } from './installation.js';
import {
  MessageDefinitionInput,
  PointDefinitionInput,
  RegisterMapFile,
  RegisterMapInput,
  toDefinition,
  toMessage,
} from './registers.js';
import { FoundDeviceInput, SearchInput, SunspecInput } from './search.js';
import { SiteInput } from './site.js';
import { VirtualMeterInput } from './virtual.js';

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
const broker = {
  ...link,
  kind: 'mqtt',
  port: 1883,
  mqttVersion: '5',
  tls: true,
  user: 'loka',
  password: 'x',
};
const serial = {
  ...link,
  kind: 'modbus-serial',
  host: '',
  path: '/dev/ttyUSB0',
  baudRate: 19_200,
  parity: 'even',
  stopBits: 2,
};
const member = { name: 'Meter 2', unit: 2, topic: '' };
const message = {
  kind: 'message',
  key: 'power',
  name: 'Power',
  topic: '{device}/report',
  pointer: '/power',
  scaling: factor,
  unit: 'W',
  quantity: 'active-power',
  phase: null,
  access: 'read',
  intervalMs: 10_000,
};
const availability = { topic: '{device}/online', online: 'yes', offline: 'no' };
const search = { addresses: '192.168.1.0/24', ports: '502', units: '1-10', timeoutMs: 300 };
const found = { name: 'Meter', host: '192.168.1.40', port: 502, unit: 1 };
const virtual = {
  name: 'Lighting',
  formula: 'a + b',
  inputs: [
    { name: 'a', pointId: 1 },
    { name: 'b', pointId: 2 },
  ],
  quantity: 'active-power',
  phase: null,
  nodeId: null,
  intervalMs: 1000,
};

describe('what is right passes', () => {
  it.each([
    ['site', SiteInput, site],
    ['node', NodeInput, node],
    ['node that feeds in', NodeInput, { ...node, flow: 'both' }],
    [
      'supply without parent or rating',
      NodeInput,
      { ...node, kind: 'supply', parentId: null, ratedCurrent: null, protectiveDevice: null },
    ],
    ['link by address', LinkInput, link],
    ['link by name', LinkInput, { ...link, host: 'meter-3.local' }],
    ['link by IPv6', LinkInput, { ...link, host: 'fd00::12' }],
    ['broker', LinkInput, broker],
    ['serial line, which has no host', LinkInput, serial],
    ['push, which has neither', LinkInput, { ...link, kind: 'http-push', host: '' }],
    ['several devices', DeviceBatch, { likeId: 1, members: [member, { ...member, unit: 255 }] }],
    ['one at another address', BatchMember, { ...member, address: { host: '192.168.1.41', port: 502 } }],
    ['copied settings', SettingsCopy, { deviceIds: [2, 3] }],
    ['message', MessageDefinitionInput, { ...message, timePointer: '/at', qos: 1 }],
    ['setting in messages', MessageDefinitionInput, { ...message, setTopic: 'a/set', setPointer: '/every' }],
    ['map of messages', RegisterMapInput, { ...map, points: [], messages: [message], availability }],
    [
      'value over two registers',
      PointDefinitionInput,
      { ...point, companion: { role: 'decimals', address: '9', digits: 2 } },
    ],
    [
      'scaled by another register',
      PointDefinitionInput,
      { ...point, companion: { role: 'exponent', address: '9' } },
    ],
    ['named states', PointDefinitionInput, { ...point, names: [{ value: 3, name: 'float charge' }] }],
    ['map as a file', RegisterMapFile, { format: 'csv', name: 'Meter', text: 'name,address' }],
    ['search', SearchInput, search],
    ['found device', FoundDeviceInput, found],
    ['SunSpec device', SunspecInput, { linkId: 1, unit: 1, name: 'Meter' }],
    ['virtual meter', VirtualMeterInput, virtual],
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
    [NodeInput, { ...node, flow: 'out' }, ['flow']],
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
    [DeviceInput, { ...device, topic: 'plug/#' }, ['topic']],
    [LinkInput, { ...link, kind: 'telepathy' }, ['kind']],
    [LinkInput, { ...link, retries: 6 }, ['retries']],
    [LinkInput, { ...link, maxWords: 126 }, ['maxWords']],
    [LinkInput, { ...broker, mqttVersion: '4' }, ['mqttVersion']],
    [LinkInput, { ...broker, host: '' }, ['host']],
    [LinkInput, { ...serial, path: '/etc/passwd' }, ['path']],
    [LinkInput, { ...serial, path: '/dev/../etc/shadow', baudRate: 9601 }, ['path', 'baudRate']],
    [LinkInput, { ...serial, parity: 'mark', stopBits: 3 }, ['parity', 'stopBits']],
    [DeviceBatch, { likeId: 1, members: [] }, ['members']],
    [DeviceBatch, { likeId: 1, members: Array.from({ length: 101 }, () => member) }, ['members']],
    [DeviceBatch, { likeId: 1, members: [{ ...member, unit: 256 }] }, ['members.0.unit']],
    [BatchMember, { ...member, topic: 'plug/+' }, ['topic']],
    [BatchMember, { ...member, address: { host: 'http://x', port: 0 } }, ['address.host', 'address.port']],
    [SettingsCopy, { deviceIds: [] }, ['deviceIds']],
    [MessageDefinitionInput, { ...message, topic: '' }, ['topic']],
    [MessageDefinitionInput, { ...message, qos: 2 }, ['qos']],
    [MessageDefinitionInput, { ...message, setTopic: '' }, ['setTopic']],
    [RegisterMapInput, { ...map, messages: [{ ...message, kind: 'holding' }] }, ['messages.0.kind']],
    [RegisterMapInput, { ...map, availability: { ...availability, online: '' } }, ['availability.online']],
    [
      PointDefinitionInput,
      { ...point, companion: { role: 'decimals', address: '9', digits: 6 } },
      ['companion.digits'],
    ],
    [PointDefinitionInput, { ...point, names: [{ value: 'x', name: 'a;b' }] }, ['names']],
    [PointDefinitionInput, { ...point, names: [{ value: 1, name: 'on', more: 1 }] }, ['names']],
    [PointDefinitionInput, { ...point, names: [null] }, ['names']],
    [
      PointDefinitionInput,
      { ...point, names: Array.from({ length: 101 }, (_, value) => ({ value, name: 'n' })) },
      ['names'],
    ],
    [RegisterMapFile, { format: 'xls', name: '', text: '' }, ['format', 'text']],
    [SearchInput, { ...search, timeoutMs: 10 }, ['timeoutMs']],
    [SearchInput, { ...search, addresses: '', units: 'x'.repeat(101) }, ['addresses', 'units']],
    [FoundDeviceInput, { ...found, port: 70_000, unit: -1 }, ['port', 'unit']],
    [SunspecInput, { linkId: 1, unit: 300, name: '' }, ['unit', 'name']],
    [VirtualMeterInput, { ...virtual, formula: '' }, ['formula']],
    [VirtualMeterInput, { ...virtual, intervalMs: 500 }, ['intervalMs']],
    [VirtualMeterInput, { ...virtual, inputs: [{ name: '1a', pointId: 1 }] }, ['inputs.0.name']],
    [VirtualMeterInput, { ...virtual, quantity: 'happiness', phase: 'L5' }, ['quantity', 'phase']],
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
it('keeps of a message exactly what core knows; what is null is not there', () => {
  const kept = toMessage(
    plainToInstance(MessageDefinitionInput, { ...message, on: null, names: [{ value: 1, name: 'on' }] }),
  );
  expect(kept).toEqual({ ...message, names: [{ value: 1, name: 'on' }] });
});
it('knows which links have a host, and which may stand at another address', () => {
  const those = (test: (kind: (typeof LINK_KINDS)[number]) => boolean) => LINK_KINDS.filter(test);
  expect(those(isModbusKind)).toEqual(['modbus-tcp', 'modbus-rtu-tcp', 'modbus-serial']);
  expect(those(isNetworkKind)).toEqual(['modbus-tcp', 'modbus-rtu-tcp', 'mqtt']);
  expect(those(hasAddresses)).toEqual(['modbus-tcp', 'modbus-rtu-tcp']);
});
