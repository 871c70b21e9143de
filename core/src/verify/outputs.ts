import { byPlainness, moveWith, QUALITY, type Mark } from '../series/index.js';
import type { Trace } from './trace.js';
import { inWords, listed } from './words.js';

/** A measured place, for finding out which one a relay switches. */
export interface OutputPlace {
  id: number;
  name: string;
  /** Places that feed it, nearest first. */
  above: number[];
  /** W */
  power: Trace;
}

export interface OutputVerdict {
  verdict: 'pass' | 'fail' | 'cannot-tell';
  says: string;
  /** W that came and went with the relay at the place that was found; null with none. */
  watts: number | null;
  /** The place that moved; null with none. */
  movedId: number | null;
}

/** Less than this is no load, W. */
const LEAST = 10;
/** A place has moved with the relay when it does so this plainly; see {@link moveWith}. */
const PLAIN = 0.8;

/**
 * Which place's power moved with a relay that was operated once, there and back. A place above moves as well: the one
 * farthest down is meant.
 * @param expected the place that the relay is said to switch; where nothing measures it, the nearest one above counts
 * @param marks when the contact was closed (on) and opened, ascending; @param end until when the last one holds
 */
export function judgeOutput(
  expected: { id: number; name: string; above: readonly number[] },
  places: readonly OutputPlace[],
  marks: readonly Mark[],
  end: number,
): OutputVerdict {
  const moved = places
    .flatMap((place) => {
      const move = moveWith(
        place.power.t.map((t, i) => ({ t, v: place.power.v[i] as number, q: QUALITY.good })),
        marks,
        end,
      );
      return move && move.step > LEAST && move.clarity >= PLAIN ? [{ place, move }] : [];
    })
    .sort((a, b) => byPlainness(a.move, b.move));
  // Farthest down: none of those that moved hangs below it.
  const down = moved.filter(({ place }) => !moved.some((m) => m.place.above.includes(place.id)));
  const own = down.find(({ place }) => place.id === expected.id);
  if (own)
    return {
      verdict: 'pass',
      says: `${inWords(own.move.step, 'W')} came and went with the relay.`,
      watts: own.move.step,
      movedId: own.place.id,
    };
  const isMeasured = places.some((p) => p.id === expected.id);
  const [first] = down;
  if (!first)
    return {
      verdict: 'cannot-tell',
      says: 'Nothing moved with the relay. Have its load ready to run, and try again.',
      watts: null,
      movedId: null,
    };
  if (!isMeasured && expected.above.includes(first.place.id))
    return {
      verdict: 'pass',
      says: `Nothing measures ${expected.name} itself; ${inWords(first.move.step, 'W')} came and went at ${first.place.name}, which feeds it.`,
      watts: first.move.step,
      movedId: first.place.id,
    };
  return {
    verdict: 'fail',
    says: `It switches ${listed(down.map((d) => d.place.name))}, ${inWords(first.move.step, 'W')}, and not ${expected.name}. Exchange the wires at the relays, or choose the other output for this switch.`,
    watts: first.move.step,
    movedId: first.place.id,
  };
}
