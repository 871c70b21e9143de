import { checkMap } from './check.js';
import { readSpanOf, valueOf } from './definition.js';
import { isSunspecMarker, sunspecCommon, sunspecMeter, sunspecPoints } from './sunspec.js';

// Layouts recalled from the SunSpec Alliance's model definitions; the images below are made by hand from them.
const model203 = (): number[] => {
  const words = new Array<number>(105).fill(0x8000);
  words.splice(0, 5, 1523, 510, 506, 507, 0xfffe); // A, lines, A_SF −2
  words.splice(5, 9, 2301, 2299, 2302, 2303, 3985, 3982, 3986, 3987, 0xffff); // V, V_SF −1
  words.splice(14, 2, 5001, 0xfffe); // Hz, Hz_SF −2
  words.splice(16, 5, 342, 114, 114, 114, 1); // W, W_SF +1
  words.splice(31, 5, 976, 975, 976, 977, 0xffff); // PF in %, PF_SF −1
  words.splice(36, 17, 0, 0, 0, 0, 0, 0, 0, 0, 0x0005, 0x2340, 0, 0, 0, 0, 0, 0, 1); // Wh: export none, import 0x52340 · 10
  return words;
};

it('knows its marker and its meters', () => {
  expect(isSunspecMarker([0x5375, 0x6e53])).toBe(true);
  expect(isSunspecMarker([0x6e53, 0x5375])).toBe(false);
  expect([201, 202, 203, 204, 211, 214].every((m) => sunspecMeter(m) !== null)).toBe(true);
  expect([1, 101, 200, 205, 210, 215].every((m) => sunspecMeter(m) === null)).toBe(true);
});
it('reads the common model', () => {
  const text = (s: string, words: number) =>
    Array.from(
      { length: words },
      (_, i) => ((s.charCodeAt(2 * i) || 0) << 8) | (s.charCodeAt(2 * i + 1) || 0),
    );
  const words = [
    ...text('Maker', 16),
    ...text('Model X', 16),
    ...text('', 8),
    ...text('1.2', 8),
    ...text('S-77', 16),
    1,
    0x8000,
  ];
  expect(sunspecCommon(words)).toEqual({ maker: 'Maker', model: 'Model X', version: '1.2', serial: 'S-77' });
});
it('a three-phase integer meter: values with their scale factors, what is not there left out', () => {
  const start = 40072;
  const words = model203();
  const points = sunspecPoints({ model: 203, start, length: 105 }, words);
  expect(checkMap(points)).toEqual([]);
  const read = (key: string) => {
    const point = points.find((p) => p.key === key);
    const span = point && readSpanOf(point);
    if (!point || !span) return undefined;
    return valueOf(point, words.slice(span.start - start, span.start - start + span.count));
  };
  expect(read('current')).toBeCloseTo(15.23, 9);
  expect(read('current-l3')).toBeCloseTo(5.07, 9);
  expect(read('voltage-l2')).toBeCloseTo(230.2, 9);
  expect(read('frequency')).toBeCloseTo(50.01, 9);
  expect(read('power')).toBe(3420);
  expect(read('power-factor-l1')).toBeCloseTo(0.975, 9);
  expect(read('energy-import')).toBe(0x52340 * 10);
  expect(read('energy-export')).toBeUndefined();
  expect(read('apparent-power')).toBeUndefined();
});
it('a single-phase meter has no other lines', () => {
  const points = sunspecPoints({ model: 201, start: 2, length: 105 }, model203());
  expect(points.filter((p) => p.quantity === 'current').map((p) => p.phase)).toEqual(['total', 'L1']);
});
it('a float meter: floats at their own places, NaN is not there', () => {
  const words = new Array<number>(124).fill(0);
  for (let i = 0; i < 124; i += 2) words[i] = 0x7fc0;
  const put = (at: number, value: number) => {
    const view = new DataView(new ArrayBuffer(4));
    view.setFloat32(0, value);
    words[at] = view.getUint16(0);
    words[at + 1] = view.getUint16(2);
  };
  put(10, 230.15);
  put(26, 1234.5);
  const points = sunspecPoints({ model: 213, start: 100, length: 124 }, words);
  expect(points.map((p) => [p.key, p.address])).toEqual([
    ['voltage-l1', '110'],
    ['power', '126'],
  ]);
  expect(valueOf(points[1]!, words.slice(26, 28))).toBe(1234.5);
});
it('a block that is too short gives nothing', () => {
  expect(sunspecPoints({ model: 203, start: 0, length: 10 }, new Array<number>(10).fill(1))).toEqual([]);
});

// Every register of a meter model and what lies there, recalled from the models' definitions: [key, integer, scale factor, float].
const POSITIONS: [key: string, at: number, factorAt: number, floatAt: number][] = [
  ['current', 0, 4, 0],
  ['current-l1', 1, 4, 2],
  ['current-l2', 2, 4, 4],
  ['current-l3', 3, 4, 6],
  ['voltage', 5, 13, 8],
  ['voltage-l1', 6, 13, 10],
  ['voltage-l2', 7, 13, 12],
  ['voltage-l3', 8, 13, 14],
  ['frequency', 14, 15, 24],
  ['power', 16, 20, 26],
  ['power-l1', 17, 20, 28],
  ['power-l2', 18, 20, 30],
  ['power-l3', 19, 20, 32],
  ['apparent-power', 21, 25, 34],
  ['apparent-power-l1', 22, 25, 36],
  ['apparent-power-l2', 23, 25, 38],
  ['apparent-power-l3', 24, 25, 40],
  ['reactive-power', 26, 30, 42],
  ['reactive-power-l1', 27, 30, 44],
  ['reactive-power-l2', 28, 30, 46],
  ['reactive-power-l3', 29, 30, 48],
  ['power-factor', 31, 35, 50],
  ['power-factor-l1', 32, 35, 52],
  ['power-factor-l2', 33, 35, 54],
  ['power-factor-l3', 34, 35, 56],
  ['energy-export', 36, 52, 58],
  ['energy-export-l1', 38, 52, 60],
  ['energy-export-l2', 40, 52, 62],
  ['energy-export-l3', 42, 52, 64],
  ['energy-import', 44, 52, 66],
  ['energy-import-l1', 46, 52, 68],
  ['energy-import-l2', 48, 52, 70],
  ['energy-import-l3', 50, 52, 72],
];
it('every value of a meter model lies where the model has it (positions recalled)', () => {
  const start = 40_072;
  const points = sunspecPoints({ model: 203, start, length: 105 }, new Array<number>(105).fill(1));
  expect(points.map((p) => [p.key, Number(p.address) - start, Number(p.companion?.address) - start])).toEqual(
    POSITIONS.map(([key, at, factorAt]) => [key, at, factorAt]),
  );
  const floats = sunspecPoints({ model: 213, start, length: 124 }, new Array<number>(124).fill(0x3f80));
  expect(floats.map((p) => [p.key, Number(p.address) - start])).toEqual(
    POSITIONS.map(([key, , , floatAt]) => [key, floatAt]),
  );
});
