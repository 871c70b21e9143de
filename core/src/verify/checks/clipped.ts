import { max } from 'd3-array';
import { cannotTell, fail, pass, type Check } from '../check.js';
import type { Channel, Look } from '../circuit.js';
import type { Fault } from '../faults.js';
import type { Truth } from '../truth.js';
import { scatterOf, type Trace } from '../trace.js';
import { inWords, listed } from '../words.js';

/** Readings at exactly the same top from which it is flat. */
const FLAT = 6;
/** Steps of resolution in the top from which on its scatter would be seen. */
const FINE = 150;
/** A reading this near to the range has reached it. */
const AT_RANGE = 0.98;

/** Whether the current is cut off at the top: the same highest value again and again, while the load goes on above it. */
export function checkClipped(look: Look, truths: readonly Truth[]): { check: Check; fault: Fault | null } {
  const { circuit, own } = look;
  const read = own.channels.flatMap((c) =>
    c.current && c.current.v.length > 0 ? [{ ...c, current: c.current }] : [],
  );
  const most = max(read.map((c) => max(c.current.v) as number));
  if (most === undefined)
    return { check: cannotTell('clipped', 'No current is read here.', 'Nothing to do.'), fault: null };
  const cut = read.filter((c) => isCut(c.current, circuit.range) && fallsShort(c, look, truths));
  const rests = `at most ${inWords(most, 'A')}${circuit.range === null ? '' : ` of ${inWords(circuit.range, 'A')}`}`;
  if (cut.length === 0)
    return circuit.range !== null && most < AT_RANGE * circuit.range
      ? { check: pass('clipped', 'It stays inside its range.', rests), fault: null }
      : { check: pass('clipped', 'Nothing is cut off at the top.', rests), fault: null };
  const lines = cut.map((c) => c.line);
  return {
    check: fail(
      'clipped',
      `The current of ${listed(lines)} is cut off at ${inWords(Math.max(...cut.map((c) => max(c.current.v) as number)), 'A')}.`,
      rests,
      'The clamp saturates, or the input of the meter is at its end.',
      'Take a clamp with a larger rating, or fewer turns through it.',
    ),
    fault: { kind: 'clipped', lines },
  };
}

/** The top is flat to the digit while what lies below it has scatter. */
function isCut({ v }: Trace, range: number | null): boolean {
  const top = max(v) as number;
  if (!(top > 0)) return false;
  const at = v.filter((value) => value === top).length;
  const below = v.filter((value) => value < 0.97 * top);
  // A coarse reading is flat by itself: the top must be fine enough for its scatter to show.
  if (!(top > FINE * resolutionOf(v))) return false;
  const lively = below.length >= 6 && scatterOf(below) > 0;
  if (at < FLAT || at < 0.6 * v.filter((value) => value > 0.97 * top).length) return false;
  return lively || (range !== null && top >= AT_RANGE * range);
}

/** The smallest move between neighbours; 0 where nothing moves. */
function resolutionOf(v: readonly number[]): number {
  const moves = v
    .slice(1)
    .map((value, i) => Math.abs(value - (v[i] as number)))
    .filter((m) => m > 1e-9);
  return moves.length === 0 ? 0 : Math.min(...moves);
}

/** Less comes in at the top than what the load takes; or nobody knows, and the range is reached. */
function fallsShort(channel: Channel & { current: Trace }, look: Look, truths: readonly Truth[]): boolean {
  const top = max(channel.current.v) as number;
  const short = truths.some(({ event, amperes, sum }) => {
    const own = event.own.find((l) => l.line === channel.line);
    const truth = amperes?.[channel.line] ?? sum / look.circuit.lines.length;
    return own && own.amperes < 0.93 * truth && own.amperes > 0.05 * truth;
  });
  return short || (look.circuit.range !== null && top >= AT_RANGE * look.circuit.range);
}
