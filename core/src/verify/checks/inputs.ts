import { median } from 'd3-array';
import { cannotTell, pass, type Check } from '../check.js';
import type { Look } from '../circuit.js';
import { inWords, listed } from '../words.js';

/** An input with nothing on it reads less than this, A, or than this share of its range (trade). */
const NOTHING = { amperes: 0.05, share: 0.002 };

/** Whether inputs of the device that belong to no circuit read nothing; null where there are none. */
export function checkInputs({ unused = [] }: Look): Check | null {
  const levels = unused.flatMap(({ name, current, range }) => {
    const amperes = median(current.v.map(Math.abs));
    return amperes === undefined
      ? []
      : [{ name, amperes, limit: Math.max(NOTHING.amperes, NOTHING.share * (range ?? 0)) }];
  });
  if (levels.length === 0) return null;
  const rests = levels.map((l) => `${l.name} ${inWords(l.amperes, 'A')}`).join(' · ');
  const reading = levels.filter((l) => l.amperes > l.limit);
  if (reading.length === 0)
    return pass(
      'inputs',
      levels.length === 1 ? 'Its unused input reads nothing.' : 'Its unused inputs read nothing.',
      rests,
    );
  return cannotTell(
    'inputs',
    `${listed(reading.map((l) => `“${l.name}”`))} read${reading.length === 1 ? 's' : ''} something and belong${reading.length === 1 ? 's' : ''} to no circuit.`,
    'Assign what it measures. An input without a clamp needs its terminals bridged: left open, it picks up what is beside it.',
    rests,
  );
}
