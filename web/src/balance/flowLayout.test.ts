import type { Picture, Strip } from '@loka/core/balance';
import fc from 'fast-check';
import { flowLayout, REFERENCE, roundUp, ROW, scaleFor } from './flowLayout.js';

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
const picture = (out: Strip[], into: Strip[] = []): Picture => ({
  nodeId: 1,
  places: [1],
  derived: false,
  total: out.reduce((sum, s) => sum + s.value, 0),
  into,
  out,
});

/** Pictures of up to three levels. */
const anyPicture = fc
  .array(
    fc.tuple(
      fc.double({ min: 0, max: 100, noNaN: true }),
      fc.array(fc.double({ min: 0, max: 50, noNaN: true }), { maxLength: 8 }),
    ),
    {
      minLength: 1,
      maxLength: 15,
    },
  )
  .map((list) =>
    picture(
      list.map(([value, parts], i) => {
        const inner = parts.map((v, k) => strip(`${i}.${k}`, v));
        const sum = parts.reduce((a, b) => a + b, 0);
        return parts.length === 0 ? strip(`${i}`, value) : strip(`${i}`, sum, picture(inner));
      }),
      [strip('a', 1), strip('b', 2)],
    ),
  );

it('rows follow one another without overlap, each with room for its band, and bars reach over what hangs on them', () => {
  fc.assert(
    fc.property(anyPicture, (of) => {
      const { rows, headings, bars, height } = flowLayout(of, (s) => s.value);
      const lines = [...rows, ...headings].sort((a, b) => a.top - b.top);
      lines.slice(1).forEach((line, i) => {
        const before = lines[i] as (typeof lines)[number];
        expect(line.top).toBeGreaterThanOrEqual(before.top + before.height - 1e-6);
      });
      for (const row of rows)
        expect(row.height).toBeGreaterThanOrEqual(Math.max(ROW, row.strip.value) - 1e-6);
      for (const line of lines) expect(line.top + line.height).toBeLessThanOrEqual(height + 1e-6);
      for (const bar of bars)
        if (bar.strip) expect(bar.height).toBeGreaterThanOrEqual(bar.strip.value - 1e-6);
    }),
  );
});

it('the scale is a round number, and stays while the whole wanders', () => {
  expect([0.3, 1, 1.01, 2.5, 70, 99.9, 0].map(roundUp)).toEqual([0.5, 1, 2, 5, 100, 100, 1]);
  // 200 px for 9 kW: 20 px are 0.9 kW, so 1 kW; up to 1.3 times the room is taken.
  expect(scaleFor(9000, 200, null)).toBe(1000);
  expect(scaleFor(12_900, 200, null)).toBe(1000);
  expect(scaleFor(13_100, 200, null)).toBe(2000);
  expect(scaleFor(14_900, 200, 1000)).toBe(1000);
  expect(scaleFor(15_100, 200, 1000)).toBe(2000);
  expect(scaleFor(4000, 200, 1000)).toBe(1000);
  expect(scaleFor(3000, 200, 1000)).toBe(500);
  expect((9000 / scaleFor(9000, 200, null)) * REFERENCE).toBeLessThanOrEqual(200);
});
