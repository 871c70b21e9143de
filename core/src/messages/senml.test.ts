import fc from 'fast-check';
import { resolveSenml, SenmlError } from './index.js';

// The examples of RFC 8428, section 5.1; what they resolve to is given there in 5.1.5 or follows from 4.6.
const NOW = 1_320_078_429_000;

it('5.1.1 single data point', () => {
  expect(resolveSenml([{ n: 'urn:dev:ow:10e2073a01080063', u: 'Cel', v: 23.1 }], NOW)).toEqual([
    { name: 'urn:dev:ow:10e2073a01080063', unit: 'Cel', value: 23.1, sum: null, t: NOW },
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
  });
  expect(records[1]?.unit).toBe('lon');
});
it('5.1.4 resolved data keep their values; 5.1.6 a state, a text and a sum', () => {
  const pack = [
    { bn: 'urn:dev:ow:10e2073a01080063:', n: 'temp', u: 'Cel', v: 27.2 },
    { n: 'open', vb: false },
    { n: 'label', vs: 'Machine Room' },
    { n: 'meter', u: 'J', s: 7200 },
  ];
  expect(resolveSenml(pack, NOW).map((r) => r.value ?? r.sum)).toEqual([27.2, false, 'Machine Room', 7200]);
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
