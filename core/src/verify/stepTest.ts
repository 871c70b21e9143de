import type { CheckVerdict } from './check.js';
import type { Look, Metered, Plate } from './circuit.js';
import { eventsOf, isReadHere, stepsOf, type SeenEvent } from './events.js';
import type { Line } from './phasors.js';
import { inWords } from './words.js';

/** A load was asked for at an instant, and its step is looked for from then on. */
export interface AskedStep {
  askedAt: number;
  on: boolean;
  load: Plate;
  /** Where it is to go off: the step by which it was seen to come on. */
  cameOn?: FoundStep | null;
}

/** The step that was found: what each meter saw of it, and whether that is right. */
export interface FoundStep {
  t: number;
  on: boolean;
  /** W here, all lines; null where no power is read. */
  own: number | null;
  /** A here, added up over the lines. */
  amperes: number;
  lines: { line: Line; watts: number | null; amperes: number }[];
  /** W by the plate at the voltage of that moment; null when it is not known. */
  expected: number | null;
  /** W at the meter above; null without one. */
  above: number | null;
  /** Other metered places at which as much came at the same time. */
  elsewhere: { id: number; name: string; watts: number }[];
  verdict: CheckVerdict;
  says: string;
}

/** A plate is good to 10 % (IEC 60335-1, clause 10: −10 % to +5 % for heating appliances; recalled). */
const PLATE = 0.1;
/** What a meter above sees agrees within this before calibration (trade). */
const ABOVE = 0.1;
/** So long the meter above is waited for, ms. */
const PATIENCE = 12_000;
/** What is found has at least this share of the plate; without one, this much, W. */
const SHARE = 0.3;
const LEAST = 15;
/** What goes off is what came on within this. */
const SAME = 0.2;

/**
 * Looks for the step of a load that was asked for: in the circuit's own readings, else in those of the meter above. Null as
 * long as there is none; then the readings after it are waited for.
 */
export function findAsked(look: Look, { askedAt, on, load, cameOn = null }: AskedStep): FoundStep | null {
  const steps = [...stepsOf(look.own), ...(look.above ? stepsOf(look.above) : [])]
    .filter((step) => step.t > askedAt && step.height > 0 === on)
    .sort((a, b) => a.t - b.t);
  let best: { event: SeenEvent; size: number } | null = null;
  for (const step of steps) {
    const [event] = eventsOf({ ...look, switchings: [{ t: step.t, on, load }] }).filter(
      (e) => e.load === load,
    );
    if (!event) continue;
    if (isYetToSee(look, event)) continue;
    const size = Math.max(apparent(event, look), event.aboveWatts?.by ?? 0);
    const enough = load.watts === null ? LEAST : SHARE * load.watts;
    // With a plate the first that fits; without one the largest.
    if (
      (size >= enough || isWhatCame(event, cameOn)) &&
      (best === null || (load.watts === null && size > best.size))
    )
      best = { event, size };
  }
  return best && judge(best.event, look, load);
}

/** W of an event here; of a circuit without power by its current and the voltage. */
const watts = (event: SeenEvent, { circuit }: Look): number =>
  event.ownWatts?.by ??
  event.own.reduce((sum, l) => sum + l.amperes * (l.volts || circuit.nominalVoltage), 0);

/**
 * Whether one of the two meters has not had time yet to show what it saw, while the other has: a busy link may be some
 * readings behind. It is waited for, but not for ever.
 */
function isYetToSee({ own, above }: Look, event: SeenEvent): boolean {
  if (above === null) return false;
  const hasOwn = isReadHere(event);
  if (hasOwn && event.aboveWatts !== null) return false;
  return newestOf(hasOwn ? own : above) < event.t + PATIENCE;
}

function newestOf({ channels, total }: Metered): number {
  const [channel] = channels;
  return (channel?.current ?? channel?.power ?? total)?.t.at(-1) ?? 0;
}

/**
 * Whether as much goes as came. A meter that sees a part of the load only is known by it, also where another load moves the
 * meter above in the same moment.
 */
function isWhatCame({ own, ownWatts }: SeenEvent, cameOn: FoundStep | null): boolean {
  if (!cameOn) return false;
  const [gone, came] =
    own.length > 0 ? [amperesOf(own), cameOn.amperes] : [ownWatts?.by ?? 0, cameOn.own ?? 0];
  return came > 0 && Math.abs(gone / came - 1) <= SAME;
}

const amperesOf = (lines: SeenEvent['own']): number => lines.reduce((sum, l) => sum + Math.abs(l.amperes), 0);

/** VA of what came here: a clamp on the wrong line sees the current, whatever becomes of the power. */
const apparent = (event: SeenEvent, { circuit }: Look): number =>
  event.own.length > 0
    ? event.own.reduce((sum, l) => sum + Math.abs(l.amperes) * (l.volts || circuit.nominalVoltage), 0)
    : (event.ownWatts?.by ?? 0);

function judge(event: SeenEvent, look: Look, load: Plate): FoundStep {
  const own = event.ownWatts?.by ?? null;
  const volts = event.own[0]?.volts ?? look.circuit.nominalVoltage;
  // A heater's plate holds at nominal voltage.
  const expected =
    load.watts === null
      ? null
      : load.watts * (load.powerFactor === 1 ? (volts / look.circuit.nominalVoltage) ** 2 : 1);
  const above =
    event.aboveWatts && Math.abs(event.aboveWatts.by) > 3 * event.aboveWatts.noise
      ? event.aboveWatts.by
      : null;
  const true_ = expected ?? above;
  const elsewhere = event.others
    .filter(
      (o) => true_ !== null && o.watts.by > 5 * o.watts.noise && Math.abs(o.watts.by / true_ - 1) <= SHARE,
    )
    .map((o) => ({ id: o.id, name: o.name, watts: o.watts.by }));
  const found = {
    t: event.t,
    on: event.on,
    own,
    amperes: amperesOf(event.own),
    lines: event.own.map((l) => ({ line: l.line, watts: l.watts, amperes: l.amperes })),
    expected,
    above,
    elsewhere,
  };
  if (!isReadHere(event))
    return {
      ...found,
      verdict: 'cannot-tell',
      says: `Too little was read here when ${look.above?.name ?? 'the meter above'} saw ${inWords(above ?? 0, 'W')}. Do it again.`,
    };
  return { ...found, ...verdictOf(found, watts(event, look), look, load) };
}

function verdictOf(
  { own, expected, above, elsewhere }: Pick<FoundStep, 'own' | 'expected' | 'above' | 'elsewhere'>,
  here: number,
  look: Look,
  load: Plate,
): Pick<FoundStep, 'verdict' | 'says'> {
  const near = (value: number, goal: number, by: number) => Math.abs(value / goal - 1) <= by;
  const seen = inWords(here, own === null ? 'VA' : 'W');
  if (elsewhere.length > 0 && !near(here, expected ?? (above as number), 0.5))
    return { verdict: 'fail', says: `It shows at ${elsewhere.map((e) => e.name).join(' and ')}, not here.` };
  if (own === null && load.powerFactor !== 1) {
    if (above !== null && here > 0.9 * above)
      return { verdict: 'pass', says: `${seen} here; no power is read to compare closer.` };
    return {
      verdict: 'cannot-tell',
      says: `${seen} here; without power or a power factor that says little.`,
    };
  }
  // What moved the other way above was another load, and a larger one.
  if (above !== null && above < 0 && !near(here, expected ?? NaN, PLATE))
    return expected !== null
      ? { verdict: 'fail', says: `${seen} here, ${inWords(expected, 'W')} expected.` }
      : {
          verdict: 'cannot-tell',
          says: `${seen} here, but ${look.above?.name} moved by ${inWords(above, 'W')}: another load switched at the same time. Do it again.`,
        };
  if (above !== null && !near(here, above, 0.25))
    // The plate and this meter agree, and neither knows of the other: what is apart above is more likely a second load.
    return expected !== null && near(here, expected, PLATE)
      ? {
          verdict: 'cannot-tell',
          says: `As expected here: ${seen}. But ${look.above?.name} moved by ${inWords(above, 'W')}: another load may have switched at the same time. Do it again.`,
        }
      : {
          verdict: 'fail',
          says: `${look.above?.name ?? 'The meter above'} saw ${inWords(above, 'W')}, here it is ${seen}.`,
        };
  if (expected !== null)
    return near(here, expected, PLATE)
      ? { verdict: 'pass', says: `As expected: ${seen} of ${inWords(expected, 'W')}.` }
      : near(here, above ?? NaN, ABOVE)
        ? {
            verdict: 'pass',
            says: `The plate says ${inWords(expected, 'W')}; ${look.above?.name} saw ${inWords(above as number, 'W')}, as here.`,
          }
        : { verdict: 'fail', says: `${seen} here, ${inWords(expected, 'W')} expected.` };
  if (above !== null)
    return near(here, above, ABOVE)
      ? { verdict: 'pass', says: `${look.above?.name} saw it as well: ${inWords(above, 'W')}.` }
      : {
          verdict: 'cannot-tell',
          says: `${look.above?.name} saw ${inWords(above, 'W')}; not far from here.`,
        };
  return { verdict: 'cannot-tell', says: `${seen}; there is nothing to compare it with.` };
}
