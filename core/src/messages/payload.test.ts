import fc from 'fast-check';
import { QUALITY } from '../series/index.js';
import {
  at,
  checkMessages,
  instantIn,
  LARGEST_PAYLOAD,
  parsePayload,
  payloadFor,
  settingPayloadFor,
  PointerError,
  pointerOf,
  stepsOf,
  templateOf,
  topicFault,
  topicFor,
  valueInPayload,
  newMessage,
  type MessageDefinition,
} from './index.js';

const NOW = Date.UTC(2026, 10, 25, 12);
const power = newMessage({
  key: 'power',
  name: 'Power',
  pointer: '/power',
  unit: 'W',
  quantity: 'active-power',
});
const take = (definition: MessageDefinition, payload: string) => {
  const parsed = parsePayload(payload);
  return 'fault' in parsed ? parsed : valueInPayload(definition, parsed.json, NOW);
};

describe('JSON pointer', () => {
  // RFC 6901, section 5: the document and what each pointer evaluates to.
  const document = {
    foo: ['bar', 'baz'],
    '': 0,
    'a/b': 1,
    'c%d': 2,
    'e^f': 3,
    'g|h': 4,
    'i\\j': 5,
    'k"l': 6,
    ' ': 7,
    'm~n': 8,
  };
  it.each([
    ['', document],
    ['/foo', ['bar', 'baz']],
    ['/foo/0', 'bar'],
    ['/', 0],
    ['/a~1b', 1],
    ['/c%d', 2],
    ['/e^f', 3],
    ['/g|h', 4],
    ['/i\\j', 5],
    ['/k"l', 6],
    ['/ ', 7],
    ['/m~0n', 8],
  ])('%j', (pointer, value) => expect(at(document, pointer)).toEqual(value));
  it('finds nothing where nothing is, and no inherited member', () => {
    expect(at(document, '/foo/2')).toBeUndefined();
    expect(at(document, '/foo/01')).toBeUndefined();
    expect(at(document, '/constructor')).toBeUndefined();
    expect(at({ a: 1 }, '/a/toString')).toBeUndefined();
  });
  it('refuses what is none', () => {
    expect(() => stepsOf('power')).toThrow(PointerError);
    expect(() => stepsOf('/a~2')).toThrow(PointerError);
  });
  it('is made from steps and gives them back', () => {
    fc.assert(
      fc.property(fc.array(fc.string()), (steps) => expect(stepsOf(pointerOf(steps))).toEqual(steps)),
    );
  });
});

describe('a value out of a payload', () => {
  it('one JSON with several values', () => {
    const payload = '{"power": 1150.5, "volts": {"L1": 230.1}}';
    expect(take(power, payload)).toEqual({
      value: 1150.5,
      t: NOW,
      q: QUALITY.good,
      ownTime: false,
    });
    expect(take({ ...power, pointer: '/volts/L1', quantity: 'voltage', unit: 'V' }, payload)).toMatchObject({
      value: 230.1,
    });
  });
  it('a plain number, a number as a string, a kilowatt', () => {
    expect(take({ ...power, pointer: '' }, '42.5')).toMatchObject({ value: 42.5 });
    expect(take(power, '{"power":" 17.5 "}')).toMatchObject({ value: 17.5 });
    expect(take({ ...power, unit: 'kW' }, '{"power":1.15}')).toMatchObject({ value: 1150 });
  });
  it.each([
    '{"power":"NaN"}',
    '{"power":"Infinity"}',
    '{"power":null}',
    '{"power":[]}',
    '{"power":"12 W"}',
    '{"power":1e999}',
    '{}',
    'no JSON',
    '',
    '{"power":""}',
  ])('refuses %s in words', (payload) => expect(take(power, payload)).toHaveProperty('fault'));
  it('states by their words, and a value that is neither', () => {
    const contact: MessageDefinition = {
      ...power,
      pointer: '',
      quantity: 'contact-state',
      unit: '',
      on: 'closed',
      off: 'open',
    };
    expect(take(contact, 'closed')).toMatchObject({ value: 1 });
    expect(take(contact, '"open"')).toMatchObject({ value: 0 });
    expect(take(contact, 'ajar')).toEqual({ fault: '"ajar" is neither “closed” nor “open”.' });
    expect(take({ ...contact, pointer: '/on', on: 'true', off: 'false' }, '{"on":true}')).toMatchObject({
      value: 1,
    });
  });
  it('the time inside, as seconds, milliseconds or ISO 8601; one that cannot be is marked', () => {
    const timed = { ...power, timePointer: '/at' };
    const t = NOW - 60_000;
    for (const at of [t / 1000, t, `"${new Date(t).toISOString()}"`, `"${t / 1000}"`])
      expect(take(timed, `{"power":1,"at":${at}}`)).toEqual({
        value: 1,
        t,
        q: QUALITY.good,
        ownTime: true,
      });
    expect(take(timed, `{"power":1,"at":${NOW / 1000 + 86_400}}`)).toEqual({
      value: 1,
      t: NOW,
      q: QUALITY.arrivalTime,
      ownTime: false,
    });
    expect(take(timed, '{"power":1,"at":12}')).toMatchObject({ t: NOW, q: QUALITY.arrivalTime });
    expect(take(timed, '{"power":1}')).toMatchObject({ t: NOW, q: QUALITY.arrivalTime });
    // A clock may be ahead by five minutes, and not by a second more.
    expect(take(timed, `{"power":1,"at":${NOW / 1000 + 300}}`)).toMatchObject({
      t: NOW + 300_000,
      q: QUALITY.good,
    });
    expect(take(timed, `{"power":1,"at":${NOW / 1000 + 301}}`)).toMatchObject({
      t: NOW,
      q: QUALITY.arrivalTime,
    });
  });
  it('local time without an offset is none that can be known', () => {
    expect(instantIn('2026-11-25T12:00:00')).toBeNull();
    expect(instantIn('2026-11-25T12:00:00+01:00')).toBe(Date.UTC(2026, 10, 25, 11));
  });
  it('huge payloads are not looked into', () => {
    expect(take(power, `{"power":${' '.repeat(LARGEST_PAYLOAD)}1}`)).toHaveProperty('fault');
  });
  it('any payload gives a finite number at a finite instant, or words; 10 000 cases', () => {
    const pointer = fc.constantFrom('', '/a', '/a/0', '/a/b', '/~2');
    const payload = fc.oneof(
      fc.string(),
      fc.json(),
      fc.json().map((j) => j.slice(0, -1)),
      fc.double().map(String),
    );
    fc.assert(
      fc.property(payload, pointer, fc.boolean(), (text, p, timed) => {
        const found = take({ ...power, pointer: p, ...(timed ? { timePointer: '/t' } : {}) }, text);
        if ('fault' in found) expect(found.fault.length).toBeGreaterThan(0);
        else expect(Number.isFinite(found.value) && Number.isFinite(found.t)).toBe(true);
      }),
      { numRuns: 10_000, seed: 42 },
    );
  });
});

describe('topics', () => {
  it('{device} stands for the base topic, both ways', () => {
    expect(topicFor('{device}/report', 'bakery/plug-1')).toBe('bakery/plug-1/report');
    expect(templateOf('bakery/plug-1/report', 'bakery/plug-1')).toBe('{device}/report');
    expect(templateOf('bakery/plug-10/report', 'bakery/plug-1')).toBe('bakery/plug-10/report');
  });
  it('wildcards and control characters are refused', () => {
    for (const topic of ['', 'a/+/b', 'a/#', 'a\u0000b']) expect(topicFault(topic)).not.toBeNull();
    expect(topicFault('a/b')).toBeNull();
  });
  it('a map says what is wrong with it, at its field', () => {
    expect(checkMessages([power])).toEqual([]);
    const fields = (d: MessageDefinition) => checkMessages([d]).map((f) => f.field);
    expect(fields({ ...power, topic: '{device}/+' })).toEqual(['topic']);
    expect(fields({ ...power, pointer: 'power' })).toEqual(['pointer']);
    expect(fields({ ...power, unit: 'V' })).toEqual(['unit']);
    expect(fields({ ...power, on: 'yes' })).toEqual(['off']);
    expect(fields({ ...power, on: 'yes', off: 'yes' })).toEqual(['off']);
    expect(fields({ ...power, access: 'read-write', pointer: '' })).toEqual(['access']);
    expect(checkMessages([power, power]).map((f) => f.field)).toEqual(['name']);
  });
  it('a setting says what it sets, and is sent on another topic than it is told on', () => {
    const setting: MessageDefinition = {
      ...power,
      access: 'setting',
      setting: 'power-gain',
      setTopic: '{device}/set',
    };
    expect(checkMessages([setting])).toEqual([]);
    expect(checkMessages([{ ...power, access: 'setting', setting: 'other' }])).toEqual([]);
    const fields = (d: Partial<MessageDefinition>) =>
      checkMessages([{ ...setting, ...d }]).map((f) => f.field);
    const { setting: _, ...unsaid } = setting;
    expect(checkMessages([unsaid]).map((f) => f.field)).toEqual(['setting']);
    expect(fields({ access: 'read' })).toEqual(['setting', 'setTopic']);
    expect(fields({ setTopic: power.topic })).toEqual(['setTopic']);
    expect(fields({ setTopic: '{device}/#' })).toEqual(['setTopic']);
    expect(fields({ setPointer: 'gain' })).toEqual(['setPointer']);
    expect(fields({ setPointer: '/list/0' })).toEqual(['setPointer']);
  });
  it('a setting is sent as the value itself, or in an object where the device looks for it', () => {
    expect(settingPayloadFor(power, 1150)).toBe('1150');
    expect(settingPayloadFor({ ...power, unit: 'kW', setPointer: '/limit/max' }, 1150)).toBe(
      '{"limit":{"max":1.15}}',
    );
    expect(settingPayloadFor({ ...power, on: 'true', off: 'false', setPointer: '/turned' }, 1)).toBe(
      '{"turned":true}',
    );
    expect(settingPayloadFor({ ...power, on: 'fast', off: 'slow', setPointer: '/a~1b' }, 0)).toBe(
      '{"a/b":"slow"}',
    );
    expect(settingPayloadFor({ ...power, setPointer: '/__proto__/polluted' }, 1)).toBe(
      '{"__proto__":{"polluted":1}}',
    );
    expect(({} as Record<string, unknown>).polluted).toBeUndefined();
  });
  it('a command is its word, or its number in the unit of the device', () => {
    expect(payloadFor({ ...power, on: 'close', off: 'open' }, 1)).toBe('close');
    expect(payloadFor({ ...power, on: 'close', off: 'open' }, 0)).toBe('open');
    expect(payloadFor({ ...power, unit: 'kW' }, 1150)).toBe('1.15');
  });
});

describe('what a SenML record says beside its value', () => {
  const said = (definition: MessageDefinition, value: unknown, more: { t?: number; unit?: string | null }) =>
    valueInPayload({ ...definition, pointer: '' }, value, NOW, more);
  it('its unit holds instead of the one of the map', () => {
    expect(said(power, 1.2, { unit: 'kW' })).toMatchObject({ value: 1200 });
    expect(said(power, 1200, { unit: 'W' })).toMatchObject({ value: 1200 });
    expect(said({ ...power, unit: 'kW' }, 1.2, { unit: null })).toMatchObject({ value: 1200 });
  });
  it('units of the registry that have another name here are understood (RFC 8428, 12.1)', () => {
    expect(said({ ...power, quantity: 'temperature', unit: '°C' }, 21, { unit: 'Cel' })).toMatchObject({
      value: 21,
    });
    expect(said({ ...power, quantity: 'power-factor', unit: '%' }, 0.9, { unit: '/' })).toMatchObject({
      value: 0.9,
    });
    expect(said({ ...power, quantity: 'state-of-charge', unit: '%' }, 80, { unit: '%EL' })).toMatchObject({
      value: 80,
    });
  });
  it('a unit of something else is a fault and no value', () => {
    expect(said(power, 1.2, { unit: 'kWh' })).toEqual({
      fault: 'It is in “kWh”, which is not a unit of active power.',
    });
    expect(said({ ...power, quantity: 'other', unit: '' }, 400, { unit: 'lx' })).toMatchObject({
      value: 400,
    });
  });
  it('its time is that of the reading when it can be; a pointer to a time inside goes before', () => {
    expect(said(power, 1, { t: NOW - 5000 })).toMatchObject({ t: NOW - 5000, q: QUALITY.good });
    for (const t of [NOW + 3_600_000, 0, 1e300, Infinity])
      expect(said(power, 1, { t })).toMatchObject({ t: NOW, q: QUALITY.arrivalTime });
    const inside = valueInPayload({ ...power, timePointer: '/at' }, { power: 1, at: NOW / 1000 - 9 }, NOW, {
      t: NOW - 1,
    });
    expect(inside).toMatchObject({ t: NOW - 9000 });
  });
});
