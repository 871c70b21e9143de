import { cannotTell, fail, pass, type Check } from '../check.js';
import type { Look } from '../circuit.js';
import type { SeenEvent } from '../events.js';
import { inWords } from '../words.js';

/** A step belongs to a switching when it stands out of its scatter by this much. */
const CLEAR = 6;
/** Less than this is no load, W. */
const LEAST = 10;

/** Whether the relay that is said to be this circuit's switches it: whose reading steps with it. */
export function checkOutput({ switchings }: Look, events: readonly SeenEvent[]): Check | null {
  const byRelay = switchings.filter((s) => s.byRelay);
  if (byRelay.length === 0) return null;
  const seen = events.filter((e) => byRelay.some((s) => s.load === e.load && Math.abs(e.t - s.t) < 6000));
  const here = seen.filter(
    (e) => e.ownWatts !== null && e.ownWatts.by > Math.max(LEAST, CLEAR * e.ownWatts.noise),
  );
  if (here.length > 0) {
    const watts = Math.max(...here.map((e) => e.ownWatts?.by as number));
    return pass('output', 'Its relay switches it.', `${inWords(watts, 'W')} with the relay`);
  }
  for (const event of seen) {
    const other = event.others.find((o) => o.watts.by > Math.max(LEAST, CLEAR * o.watts.noise));
    if (other)
      return fail(
        'output',
        `Its relay switches ${other.name}.`,
        `${inWords(other.watts.by, 'W')} there, nothing here`,
        'Two outputs are exchanged, at the relay board or in the map.',
        'Exchange the wires, or choose the other output for this switch in Control.',
      );
  }
  return cannotTell(
    'output',
    'Nothing stepped with its relay.',
    'Have its load ready to run, and operate the relay once.',
  );
}
