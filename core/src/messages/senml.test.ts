import fc from 'fast-check';
import { resolveSenml, SenmlError } from './index.js';

// The examples of RFC 8428, section 5.1; what they resolve to is given there in 5.1.5 or follows from 4.6.
const NOW = 1_320_078_429_000;

it('5.1.1 single data point', () => {
  expect(resolveSenml([{ n: 'urn:dev:ow:10e2073a01080063', u: 'Cel', v: 23.1 }], NOW)).toEqual([
    { name: 'urn:dev:ow:10e2073a01080063', unit: 'Cel', value: 23.1, sum: null, t: NOW, timed: false },
  ]);
});
it('5.1.2 multiple data points: a base name is put before the names', () => {
  const pack = [
    { bn: 'urn:dev:ow:10e2073a01080063:', n: 'voltage', u: 'V', v: 120.1 },
    { n: 'current', u: 'A', v: 1.2 },
  ];
  expect(resolveSenml(pack, NOW).map((r) => [r.name, r.unit, r.value])).toEqual([
    ['urn:dev:ow:10e2073a01080063:voltage', 'V', 120.1],
    ['urn:dev:ow:10e2073a01080063:current', 'A', 1.2],
  ]);
});
it('5.1.2 with base time, base unit and version: times are added, units taken over', () => {
  const pack = [
    {
      bn: 'urn:dev:ow:10e2073a0108006:',
      bt: 1.276020076001e9,
      bu: 'A',
      bver: 5,
      n: 'voltage',
      u: 'V',
      v: 120.1,
    },
    { n: 'current', t: -5, v: 1.2 },
    { n: 'current', t: -4, v: 1.3 },
    { n: 'current', t: -3, v: 1.4 },
    { n: 'current', t: -2, v: 1.5 },
    { n: 'current', t: -1, v: 1.6 },
    { n: 'current', v: 1.7 },
  ];
  const records = resolveSenml(pack, NOW);
  expect(records.map((r) => r.t)).toEqual([
    1276020076001, 1276020071001, 1276020072001, 1276020073001, 1276020074001, 1276020075001, 1276020076001,
  ]);
  expect(records.map((r) => r.unit)).toEqual(['V', 'A', 'A', 'A', 'A', 'A', 'A']);
  expect(records[6]?.value).toBe(1.7);
});
it('5.1.3 multiple measurements: humidity and position with a base name and base time', () => {
  const pack = [
    { bn: 'urn:dev:ow:10e2073a01080063', bt: 1.320067464e9, bu: '%RH', v: 20 },
    { u: 'lon', v: 24.30621 },
    { u: 'lat', v: 60.07965 },
    { t: 60, v: 20.3 },
    { u: 'lon', t: 60, v: 24.30622 },
  ];
  const records = resolveSenml(pack, NOW);
  expect(records[3]).toEqual({
    name: 'urn:dev:ow:10e2073a01080063',
    unit: '%RH',
    value: 20.3,
    sum: null,
    t: 1320067524000,
    timed: true,
  });
  expect(records[1]?.unit).toBe('lon');
});
// The packs of the RFC's section 5.1, recalled.
it('5.1.4: what 5.1.3 resolves to', () => {
  const pack = [
    { bn: 'urn:dev:ow:10e2073a01080063', bt: 1.320067464e9, bu: '%RH', v: 20 },
    { u: 'lon', v: 24.30621 },
    { u: 'lat', v: 60.07965 },
    { t: 60, v: 20.3 },
    { u: 'lon', t: 60, v: 24.30622 },
    { u: 'lat', t: 60, v: 60.07965 },
    { t: 120, v: 20.7 },
    { u: 'lon', t: 120, v: 24.30623 },
    { u: 'lat', t: 120, v: 60.07966 },
    { u: '%EL', t: 150, v: 98 },
    { t: 180, v: 21.2 },
    { u: 'lon', t: 180, v: 24.30628 },
    { u: 'lat', t: 180, v: 60.07967 },
  ];
  const resolved: [unit: string, t: number, value: number][] = [
    ['%RH', 1.320067464e9, 20],
    ['lon', 1.320067464e9, 24.30621],
    ['lat', 1.320067464e9, 60.07965],
    ['%RH', 1.320067524e9, 20.3],
    ['lon', 1.320067524e9, 24.30622],
    ['lat', 1.320067524e9, 60.07965],
    ['%RH', 1.320067584e9, 20.7],
    ['lon', 1.320067584e9, 24.30623],
    ['lat', 1.320067584e9, 60.07966],
    ['%EL', 1.320067614e9, 98],
    ['%RH', 1.320067644e9, 21.2],
    ['lon', 1.320067644e9, 24.30628],
    ['lat', 1.320067644e9, 60.07967],
  ];
  expect(resolveSenml(pack, NOW)).toEqual(
    resolved.map(([unit, t, value]) => ({
      name: 'urn:dev:ow:10e2073a01080063',
      unit,
      value,
      sum: null,
      t: t * 1000,
      timed: true,
    })),
  );
});
it('5.1.5: numbers, texts, states and data in one pack', () => {
  const pack = [
    { bn: 'urn:dev:ow:10e2073a01080063:', n: 'temp', u: 'Cel', v: 23.1 },
    { n: 'label', vs: 'Machine Room' },
    { n: 'open', vb: false },
    { n: 'nfv', vd: 'aGkgCg' },
  ];
  expect(resolveSenml(pack, NOW).map((r) => [r.name, r.value])).toEqual([
    ['urn:dev:ow:10e2073a01080063:temp', 23.1],
    ['urn:dev:ow:10e2073a01080063:label', 'Machine Room'],
    ['urn:dev:ow:10e2073a01080063:open', false],
    ['urn:dev:ow:10e2073a01080063:nfv', 'aGkgCg'],
  ]);
});
it('5.1.6: several devices in one pack', () => {
  const pack = [
    { bn: '2001:db8::2/', bt: 1.320078429e9, n: 'temperature', u: 'Cel', v: 27.2 },
    { n: 'humidity', u: '%RH', v: 80 },
    { bn: '2001:db8::1/', n: 'temperature', u: 'Cel', v: 12.3 },
    { n: 'humidity', u: '%RH', v: 67 },
  ];
  expect(resolveSenml(pack, NOW).map((r) => [r.name, r.value, r.t])).toEqual([
    ['2001:db8::2/temperature', 27.2, 1_320_078_429_000],
    ['2001:db8::2/humidity', 80, 1_320_078_429_000],
    ['2001:db8::1/temperature', 12.3, 1_320_078_429_000],
    ['2001:db8::1/humidity', 67, 1_320_078_429_000],
  ]);
});
it('4.1 and 4.6: base value and base sum are added, and a base sum alone is the sum', () => {
  const pack = [{ bn: 'm', bv: 20, bs: 7000, v: 1.5, s: 200 }, { v: -3 }, { s: 5 }];
  expect(resolveSenml(pack, NOW).map((r) => [r.value, r.sum])).toEqual([
    [21.5, 7200],
    [17, 7000],
    [20, 7005],
  ]);
});
it('4.5.3: a time below 2^28 is relative to now', () => {
  expect(resolveSenml([{ n: 'a', v: 1, t: -60 }], NOW)[0]?.t).toBe(NOW - 60_000);
  expect(resolveSenml([{ n: 'a', v: 1, t: 268435456 }], NOW)[0]?.t).toBe(268435456000);
});
it('4.5.4: a base value is added to the value', () => {
  expect(
    resolveSenml(
      [
        { n: 'a', bv: 100, v: 1.5 },
        { n: 'b', v: 2 },
      ],
      NOW,
    ).map((r) => r.value),
  ).toEqual([101.5, 102]);
});
it.each([
  [{}, 'array'],
  [[], 'array'],
  [[5], 'Record 1: it is not an object'],
  [[{ n: 'a', v: '5' }], 'Record 1: “v” is not a number'],
  [[{ n: 'a', v: 1, vb: true }], 'one value'],
  [[{ n: 'a', v: 1 }, { v: 1 }], 'is not a name'],
  [[{ n: 'a', v: 1, must_: 1 }], '“must_” must be understood'],
  [[{ bver: 11, n: 'a', v: 1 }], 'version 11'],
])('refuses %j in words', (pack, message) => {
  expect(() => resolveSenml(pack, NOW)).toThrow(message);
});
it('whatever comes is resolved or refused as no SenML; 10 000 cases', () => {
  fc.assert(
    fc.property(fc.jsonValue(), (json) => {
      try {
        for (const record of resolveSenml(json, NOW)) expect(Number.isFinite(record.t)).toBe(true);
      } catch (error) {
        expect(error).toBeInstanceOf(SenmlError);
      }
    }),
    { numRuns: 10_000, seed: 8428 },
  );
});
it('records that are nearly right never give a number that is none', () => {
  const record = fc.record(
    {
      n: fc.stringMatching(/^[a-z]{1,5}$/),
      v: fc.double(),
      t: fc.double(),
      bt: fc.double(),
      bv: fc.double(),
    },
    { requiredKeys: ['n'] },
  );
  fc.assert(
    fc.property(fc.array(record, { minLength: 1, maxLength: 6 }), (pack) => {
      try {
        for (const { value } of resolveSenml(JSON.parse(JSON.stringify(pack)), NOW))
          expect(value === null || typeof value === 'number').toBe(true);
      } catch (error) {
        expect(error).toBeInstanceOf(SenmlError);
      }
    }),
    { seed: 1 },
  );
});
