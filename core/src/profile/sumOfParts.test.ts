import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { emptySpans, type PowerSpans } from './powerSpans.js';
import { sumOfParts } from './sumOfParts.js';

const spansOf = (watts: readonly number[]): PowerSpans => {
  const spans = emptySpans(0, 60_000, watts.length);
  watts.forEach((w, i) => {
    spans.mean[i] = w;
    spans.min[i] = w - 1;
    spans.max[i] = w + 1;
    spans.last[i] = w;
  });
  return spans;
};

test('a meter fitted at the end of the period does not take away what the others know', () => {
  const { spans, without } = sumOfParts([
    spansOf([100, 110, 120, 130]),
    spansOf([NaN, NaN, NaN, 50]),
    spansOf([10, 10, 10, 10]),
  ]);
  expect([...spans.mean]).toEqual([110, 120, 130, 140]);
  expect([...spans.max]).toEqual([112, 122, 132, 142]);
  expect(without).toEqual([1]);
});

test('one that was read for half of it is part of the sum, which is known where both are', () => {
  const { spans, without } = sumOfParts([spansOf([100, 110, 120, 130]), spansOf([NaN, NaN, 50, 60])]);
  expect([...spans.mean]).toEqual([NaN, NaN, 170, 190]);
  expect(without).toEqual([]);
});

test('where no part was read nothing is known, and none is left out', () => {
  const { spans, without } = sumOfParts([spansOf([NaN, NaN]), spansOf([NaN, NaN])]);
  expect([...spans.last]).toEqual([NaN, NaN]);
  expect(without).toEqual([]);
});

test('parts that were read equally long are all of the sum; the best known is never left out', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 20 }).chain((length) =>
        fc.array(
          fc.array(fc.option(fc.integer({ min: -5000, max: 20_000 }), { nil: NaN }), {
            minLength: length,
            maxLength: length,
          }),
          { minLength: 1, maxLength: 6 },
        ),
      ),
      (parts) => {
        const { spans, without } = sumOfParts(parts.map(spansOf));
        const known = parts.map((watts) => watts.filter((w) => !Number.isNaN(w)).length);
        expect(without).not.toContain(known.indexOf(Math.max(...known)));
        const rest = parts.filter((_, i) => !without.includes(i));
        spans.mean.forEach((w, k) => {
          expect(w).toBe(rest.map((watts) => watts[k] as number).reduce((a, b) => a + b, 0));
        });
        if (new Set(known).size === 1) expect(without).toEqual([]);
      },
    ),
  );
});
