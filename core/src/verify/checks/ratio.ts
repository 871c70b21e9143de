import { mean } from 'd3-array';
import { cannotTell, fail, pass, type Check } from '../check.js';
import type { Look } from '../circuit.js';
import { causeOfFactor, factorInWords, usualFactor, type Fault } from '../faults.js';
import { isEnough, middleOf, type Truth } from '../truth.js';
import { inWords } from '../words.js';

/** Off by less than this is a matter of calibration: against a meter, against a plate. */
const SETTING = { above: 0.15, plate: 0.25 };
/** A usual factor is taken for it within this. */
const NEAR = { above: 0.06, plate: 0.12 };

/** Whether the ratio is right: readings off by a common factor are a setting, not an error of the transducer. */
export function checkRatio(look: Look, truths: readonly Truth[]): { check: Check; fault: Fault | null } {
  const tooMuch = powerAgainstCurrent(look);
  if (tooMuch !== null) return tooMuch;
  const usable = truths.filter((t) => t.own > 5 * t.ownNoise && (byWatts(t) || t.sumKnown));
  const factorOf = (t: Truth) =>
    byWatts(t) ? (t.event.ownWatts?.by as number) / (t.watts as number) : t.own / t.sum;
  const factor = middleOf(usable, factorOf);
  if (factor === null)
    return {
      check: cannotTell(
        'ratio',
        'Nothing to compare with yet.',
        'Switch a load whose power is known, or meter what is above.',
      ),
      fault: null,
    };
  const source = usable.every((t) => t.from === 'above') ? 'above' : 'plate';
  const big = usable.reduce((a, b) => (b.sum > a.sum ? b : a));
  const [here, there, unit] = byWatts(big)
    ? [big.event.ownWatts?.by as number, big.watts as number, 'W']
    : [big.own, big.sum, 'A'];
  const rests = `${inWords(here, unit)} here, ${inWords(there, unit)} ${source === 'above' ? `at ${look.above?.name ?? 'the meter above'}` : 'by the plate'}`;
  if (Math.abs(factor - 1) <= SETTING[source])
    return { check: pass('ratio', `The ratio is right, factor ${factor.toFixed(2)}.`, rests), fault: null };
  const usual = usualFactor(factor, NEAR[source]);
  const enough = isEnough(usable, factorOf);
  if (usual !== null && enough)
    return {
      check: fail(
        'ratio',
        `It reads ${factorInWords(usual)} times what flows.`,
        rests,
        causeOfFactor(usual),
        'Correct the ratio, the turns or the map’s factor.',
      ),
      fault: { kind: 'wrong-ratio', lines: look.circuit.lines, factor },
    };
  if (!enough)
    return {
      check: cannotTell(
        'ratio',
        'One step alone is not enough; another load may have moved with it.',
        'Run a step test.',
        rests,
      ),
      fault: null,
    };
  return {
    check: fail(
      'ratio',
      `It reads ${factor.toFixed(2)} times what flows; that is not a usual ratio.`,
      rests,
      'A part of the load goes past it, another load moved with it, or the plate is wrong.',
      'Try with another load.',
    ),
    fault: null,
  };
}

/** Differences of powers are exact; those of currents only where nothing else flows. */
const byWatts = ({ event, watts }: Truth): boolean =>
  watts !== null && event.ownWatts !== null && Math.abs(event.ownWatts.by) > 5 * event.ownWatts.noise;

/** Power beyond voltage times current cannot be: its scaling is wrong. */
function powerAgainstCurrent({ circuit, own }: Look): { check: Check; fault: Fault | null } | null {
  const factors = own.channels.flatMap((c) => {
    if (!c.current || !c.power) return [];
    const amperes = mean(c.current.v) ?? 0;
    const volts = (c.voltage ? mean(c.voltage.v) : undefined) ?? circuit.nominalVoltage;
    const watts = mean(c.power.v.map(Math.abs)) ?? 0;
    return amperes > 0.3 ? [watts / (volts * amperes)] : [];
  });
  const factor = mean(factors);
  if (factor === undefined || factor < 1.25) return null;
  const usual = usualFactor(factor, 0.25);
  return {
    check: fail(
      'ratio',
      `Power is ${usual === null ? factor.toFixed(2) : factorInWords(usual)} times voltage times current, which cannot be.`,
      `cos φ would be ${factor.toFixed(2)}`,
      'Current and power are scaled differently: a ratio or a factor is set for one of them alone.',
      'Look at both registers in the map.',
    ),
    fault: usual === null ? null : { kind: 'wrong-ratio', lines: circuit.lines, factor },
  };
}
