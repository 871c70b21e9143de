import { max, mean } from 'd3-array';
import { cannotTell, fail, pass, type Check } from '../check.js';
import type { Look } from '../circuit.js';
import { partOf, scatterOf } from '../trace.js';
import { inWords } from '../words.js';

/** Below this share of the breaker's rating a clamp's zero is noise (trade). */
const NOISE = 0.005;
/** A after the switching until what is left has died away, ms. */
const SETTLES = 3000;

/** Whether nothing reads while nothing can flow: what stays is the clamp's zero, or another load on the conductor. */
export function checkZero({ circuit, own, offSpans }: Look): Check {
  const rows = offSpans.flatMap(({ from, to }) =>
    own.channels.flatMap((c) => {
      const part = c.current ? partOf(c.current, from + SETTLES, to) : null;
      return part && part.v.length >= 3
        ? [
            {
              line: c.line,
              level: mean(part.v) as number,
              most: max(part.v.map(Math.abs)) as number,
              scatter: scatterOf(part.v),
            },
          ]
        : [];
    }),
  );
  if (rows.length === 0)
    return cannotTell(
      'zero',
      'Not seen yet with nothing flowing.',
      'Open its breaker or its relay for twenty seconds.',
    );
  const limit = Math.max(
    0.02,
    NOISE * (circuit.ratedCurrent ?? 0),
    3 * Math.max(...rows.map((r) => r.scatter)),
  );
  const worst = rows.reduce((a, b) => (Math.abs(b.level) > Math.abs(a.level) ? b : a));
  const rests = `at most ${inWords(Math.max(...rows.map((r) => r.most)), 'A')}; up to ${inWords(limit, 'A')} is noise`;
  if (Math.abs(worst.level) <= limit) return pass('zero', 'Nothing reads with nothing on.', rests);
  return fail(
    'zero',
    `${inWords(worst.level, 'A')} is read with nothing on.`,
    rests,
    'The clamp’s zero is off, or something else is fed through the conductor.',
    'Take the conductor out of the jaws: what still reads is the zero. Correct it under Calibrate.',
  );
}
