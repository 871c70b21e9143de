import { cannotTell, fail, pass, type Check } from '../check.js';
import type { Channel, Look, Metered } from '../circuit.js';
import type { SeenEvent } from '../events.js';
import type { Fault } from '../faults.js';
import { inWords, listed } from '../words.js';
import { NO_TRACE, type Trace } from '../trace.js';
import { isEnough, type Truth } from '../truth.js';

/** Readings alike from which a value may be standing still. */
const ALIKE = 20;

/** Whether the readings move as they should: a value that stands still while its load comes and goes is no measurement. */
export function checkAlive(
  look: Look,
  truths: readonly Truth[],
): { check: Check; fault: Fault | null; moves: boolean } {
  const { own } = look;
  const traces = currentsOrPowers(own);
  const readings = Math.max(0, ...traces.map(({ trace }) => trace.v.length));
  if (readings < 6)
    return {
      check: cannotTell(
        'alive',
        'Hardly any readings have come in.',
        'Wait a minute, or look at its device in Field.',
      ),
      fault: null,
      moves: false,
    };
  const still = traces.filter(
    ({ trace, beside }) => standsStill(trace) && (beside === null || isFlat(beside)),
  );
  const missed = truths.filter(({ event }) => still.some(({ trace }) => missedBy(trace, event)));
  const value = (t: Truth) => t.sum;
  if (still.length > 0 && missed.length > 0 && (isEnough(missed, value) || missed.length >= 2)) {
    const lines = still.map((s) => s.line);
    const first = still[0] as Standing;
    return {
      check: fail(
        'alive',
        `${still.length === traces.length ? 'The reading stands' : `The reading of ${listed(lines)} stands`} still while the load changes.`,
        `${inWords(first.trace.v.at(-1) as number, first.unit)}, ${first.trace.v.length} times the same`,
        'The device repeats its last value, or the register holds something else.',
        'Restart the device, and check the register in its map.',
      ),
      fault: { kind: 'stuck', lines },
      moves: false,
    };
  }
  if (still.length === traces.length && traces.some(({ trace }) => trace.v.at(-1) !== 0))
    return {
      check: cannotTell(
        'alive',
        'The reading has not moved.',
        'Switch a load of this circuit, and see whether it does.',
        `${readings} readings the same`,
      ),
      fault: null,
      moves: false,
    };
  return { check: pass('alive', 'Readings are live.', `${readings} readings`), fault: null, moves: true };
}

interface Standing {
  line: Channel['line'];
  trace: Trace;
  /** Power of the same line: a coarse current may stand still where power moves. */
  beside: Trace | null;
  unit: 'A' | 'W';
}

const currentsOrPowers = ({ channels, total }: Metered): Standing[] => {
  const lines = channels.map((c): Standing => ({
    line: c.line,
    trace: c.current ?? c.power ?? NO_TRACE,
    beside: c.current ? c.power : null,
    unit: c.current ? 'A' : 'W',
  }));
  if (lines.length > 0 || !total) return lines;
  return [{ line: 'L1', trace: total, beside: null, unit: 'W' }];
};

/** The tail of a trace is one value, and not zero: a load that is off reads zero. */
function standsStill({ v }: Trace): boolean {
  const last = v.at(-1);
  if (last === undefined || last === 0) return false;
  const tail = v.slice(-ALIKE);
  return tail.length >= ALIKE && tail.every((value) => value === last);
}

const isFlat = ({ v }: Trace): boolean => v.slice(-ALIKE).every((value) => value === v.at(-1));

/** Whether an event fell into the part of the trace that stands still. */
function missedBy({ t, v }: Trace, event: SeenEvent): boolean {
  const last = v.at(-1);
  let i = v.length - 1;
  while (i > 0 && v[i - 1] === last) i--;
  return event.t > (t[i] as number) && event.t < (t.at(-1) as number);
}
