import { median } from 'd3-array';
import { extraLag, sumFactor } from '../installation/system.js';
import type { Circuit } from './circuit.js';
import { isReadHere, type LineChange, type SeenEvent } from './events.js';
import { LINES, type Line } from './phasors.js';
import { ANY_LOAD, lagOfPowerFactor, type KnownLag } from './ways.js';

/** What an event truly was, as a meter above or a plate says. */
export interface Truth {
  event: SeenEvent;
  from: 'above' | 'plate';
  /** A by line; by line only where it is known. */
  amperes: Partial<Record<Line, number>> | null;
  /** A, all lines added up. */
  sum: number;
  /** Whether `sum` is known, or worked out of a power whose power factor is not. */
  sumKnown: boolean;
  /** W; null where only a current is known. */
  watts: number | null;
  lag: Record<Line, KnownLag>;
  /** What the circuit's own meter saw, A added up over its lines. */
  own: number;
  /** Scatter of `own`, A. */
  ownNoise: number;
}

/** A change stands out of its scatter by this much. */
const CLEAR = 6;
/** Smaller events say nothing, A. */
const LEAST_AMPERES = 0.1;
/** Plates are right within this, and what a meter above sees is the same event only within it (trade). */
const PLATE = 0.3;

/**
 * What the events of a window truly were; those of which nobody knows, that another load spoilt, or at which nothing was
 * read here are left out.
 */
export function truthsOf(events: readonly SeenEvent[], circuit: Circuit): Truth[] {
  return events
    .filter(isReadHere)
    .flatMap((event) => byAbove(event, circuit) ?? byPlate(event, circuit) ?? []);
}

function byAbove(event: SeenEvent, circuit: Circuit): Truth | null {
  if (event.above.length === 0) return byAboveTotal(event, circuit);
  const most = Math.max(...event.above.map((l) => Math.abs(l.amperes)));
  const clear = event.above.filter((l) => l.amperes > Math.max(CLEAR * l.noise, LEAST_AMPERES, 0.1 * most));
  if (clear.length === 0) return null;
  const watts = clear.reduce((sum, l) => sum + (l.watts ?? NaN), 0);
  if (!agrees(event, Number.isNaN(watts) ? null : watts, clear, circuit)) return null;
  const amperes: Partial<Record<Line, number>> = {};
  for (const { line } of event.above) amperes[line] = 0;
  const lag = lagsOf(event, circuit);
  const plate = event.load?.powerFactor ?? null;
  for (const l of clear) {
    // The difference of two powers is exact; that of two currents is one of phasors, of which the angle is not read.
    const byPower =
      plate !== null && l.watts !== null && extraLag(l.line, circuit.lines, circuit.system) === 0;
    amperes[l.line] = byPower ? Math.abs(l.watts as number) / l.volts / plate : l.amperes;
    if (plate === null) lag[l.line] = measuredLag(l);
  }
  return {
    event,
    from: 'above',
    amperes,
    sum: clear.reduce((sum, l) => sum + (amperes[l.line] as number), 0),
    sumKnown: true,
    watts: Number.isNaN(watts) ? null : watts,
    lag,
    ...ownOf(event, circuit),
  };
}

/** A meter above that gives the power of all lines alone. */
function byAboveTotal(event: SeenEvent, circuit: Circuit): Truth | null {
  const watts = event.aboveWatts;
  if (!watts || Math.abs(watts.by) < Math.max(CLEAR * watts.noise, LEAST_AMPERES * circuit.nominalVoltage))
    return null;
  // Something larger went in the same second as this came.
  if (watts.by < 0 && !circuit.feedsIn) return null;
  if (!agrees(event, watts.by, [], circuit)) return null;
  const lag = lagsOf(event, circuit);
  const own = plateLag(event, circuit);
  const isKnown = own.from === own.to;
  const known = isKnown ? Math.cos((own.from * Math.PI) / 180) : 1;
  return {
    event,
    from: 'above',
    amperes: null,
    sum: (Math.abs(watts.by) / circuit.nominalVoltage / Math.max(0.1, known)) * sumFactorOf(circuit),
    sumKnown: isKnown,
    watts: watts.by,
    lag,
    ...ownOf(event, circuit),
  };
}

function byPlate(event: SeenEvent, circuit: Circuit): Truth | null {
  // A meter above that saw nothing of it: then nobody knows whether it was switched at all.
  if (event.above.length > 0 || event.aboveWatts !== null) return null;
  const { load } = event;
  if (!load?.watts) return null;
  const volts = median(event.own.map((l) => l.volts)) ?? circuit.nominalVoltage;
  const factor = load.powerFactor ?? 1;
  const watts = factor === 1 ? load.watts * (volts / circuit.nominalVoltage) ** 2 : load.watts;
  const sum = (watts / volts / factor) * sumFactorOf(circuit);
  if (sum < LEAST_AMPERES) return null;
  const amperes: Partial<Record<Line, number>> = {};
  for (const line of circuit.lines) amperes[line] = sum / circuit.lines.length;
  return {
    event,
    from: 'plate',
    amperes: circuit.lines.length > 1 ? amperes : null,
    sum,
    sumKnown: load.powerFactor !== null,
    watts,
    lag: lagsOf(event, circuit),
    ...ownOf(event, circuit),
  };
}

/** Whether what a meter above saw can be the load on the plate. */
function agrees(event: SeenEvent, watts: number | null, clear: LineChange[], circuit: Circuit): boolean {
  const plate = event.load?.watts;
  if (!plate) return true;
  const volts = median(clear.map((l) => l.volts)) ?? circuit.nominalVoltage;
  const expected = event.load?.powerFactor === 1 ? plate * (volts / circuit.nominalVoltage) ** 2 : plate;
  const seen =
    watts ??
    (clear.reduce((sum, l) => sum + l.amperes * l.volts, 0) * (event.load?.powerFactor ?? 1)) /
      sumFactorOf(circuit);
  return Math.abs(seen / expected - 1) <= PLATE;
}

/** What the circuit's own meter saw of an event. */
export function ownOf(event: SeenEvent, circuit: Circuit): Pick<Truth, 'own' | 'ownNoise'> {
  if (event.own.length > 0)
    return {
      own: event.own.reduce((sum, l) => sum + Math.abs(l.amperes), 0),
      ownNoise: Math.hypot(...event.own.map((l) => l.noise)),
    };
  // A meter that gives the power of all lines alone.
  const volts = circuit.nominalVoltage;
  return {
    own: Math.abs(event.ownWatts?.by ?? 0) / volts,
    ownNoise: (event.ownWatts?.noise ?? 0) / volts,
  };
}

/** What the plates tell of the lag, line by line. */
export function lagsOf(event: Pick<SeenEvent, 'load'> | null, circuit: Circuit): Record<Line, KnownLag> {
  const lag = plateLag(event, circuit);
  return Object.fromEntries(
    LINES.map((line) => {
      const extra = extraLag(line, circuit.lines, circuit.system);
      return [line, { ...lag, from: lag.from + extra, to: lag.to + extra }];
    }),
  ) as Record<Line, KnownLag>;
}

/** The lag of the load itself, by its plate. */
function plateLag(event: Pick<SeenEvent, 'load'> | null, circuit: Circuit): KnownLag {
  const plates = event?.load ? [event.load] : circuit.loads;
  const factors = plates.map((p) => p.powerFactor);
  return factors.length > 0 && factors.every((f) => f !== null && Math.abs(f - (factors[0] as number)) < 0.05)
    ? lagOfPowerFactor(factors[0] as number)
    : ANY_LOAD;
}

const sumFactorOf = ({ lines, system }: Circuit): number => sumFactor(lines.length, system);

/** Scatter of apparent power, relative, by the resolution of common meters. */
const APPARENT = 0.002;

/**
 * The lag of what came, as a meter above read it. Where reactive power is not read it comes out of two nearly equal
 * numbers, so it is known within some degrees only, and without its sign.
 */
function measuredLag({ watts, vars, volts, amperes, varsMeasured }: LineChange): KnownLag {
  if (watts === null || vars === null || !(volts * amperes > 0)) return ANY_LOAD;
  const degrees = Math.atan2(vars, watts) * (180 / Math.PI);
  if (varsMeasured) return { from: degrees - 3, to: degrees + 3 };
  const apparent = Math.hypot(watts, vars);
  const slack = Math.min(25, 5 + Math.atan(Math.sqrt(2 * APPARENT) * (1 + 500 / apparent)) * (180 / Math.PI));
  return { from: degrees - slack, to: degrees + slack, eitherSign: true };
}

/** Two events are alike within this, relative. */
const ALIKE = 0.05;

/**
 * Whether events are enough to say something of: one of a load whose plate says the same as the meter above, else two that
 * are alike, and no more that are not. Another load that moved in the same second would have to do it twice by as much.
 */
export function isEnough(truths: readonly Truth[], valueOf: (truth: Truth) => number): boolean {
  if (truths.some((t) => t.event.load?.watts != null)) return true;
  const values = truths.map(valueOf);
  const middle = middleOf(truths, valueOf) ?? 0;
  const near = values.filter((v) => Math.abs(v - middle) <= ALIKE * Math.max(Math.abs(middle), 0.1));
  return near.length >= 2 && near.length >= 0.5 * values.length;
}

/** The middle one of a value over events; those of known loads that were asked for count alone, where there are any. */
export function middleOf(truths: readonly Truth[], valueOf: (truth: Truth) => number): number | null {
  const asked = truths.filter((t) => t.event.load !== null);
  const plates = asked.filter((t) => t.event.load?.watts != null);
  const [counted] = [plates, asked, truths].filter((list) => list.length > 0);
  return counted ? (median(counted.map(valueOf)) ?? null) : null;
}
