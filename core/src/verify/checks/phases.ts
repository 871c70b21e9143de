import { mean, median } from 'd3-array';
import type { SupplySystem } from '../../installation/system.js';
import { cannotTell, pass } from '../check.js';
import type { Channel, Circuit, Look } from '../circuit.js';
import type { LineChange, SeenEvent } from '../events.js';
import { LINES, type Line, type LineReading } from '../phasors.js';
import { scatterOf, type Trace } from '../trace.js';
import { lagsOf, ownOf, type Truth } from '../truth.js';
import { tryWays, type Way, type WaysTried } from '../ways.js';
import {
  FITS,
  isOpposite,
  readsMinus,
  restsOn,
  wiredWrong,
  type PhasesSeen,
  type Tried,
} from './phaseFaults.js';

/** The label's way is wrong when it is this far off, and this much farther than the best, degrees. */
const WRONG = 15;
const FARTHER = 12;
/** What flows is the load on the plate within this. */
const PLATE = 0.3;

/** Whether each clamp is on its own conductor and turned the right way. */
export function checkPhases(look: Look, events: readonly SeenEvent[], truths: readonly Truth[]): PhasesSeen {
  const { circuit } = look;
  const known = [...truths, ...answeredOnly(events, truths, circuit)].filter((t) => t.event.own.length > 0);
  const shows = (t: Answered) => t.own > 6 * t.ownNoise && isAsOnPlate(t);
  const askedFor = known.filter((t) => t.event.load !== null);
  // When most of what is asked for does not show, what moves is not this circuit's load.
  const answers = askedFor.filter(shows).length >= 0.5 * askedFor.length;
  const groups = alikeGroups(
    known
      .filter((t) => answers && shows(t))
      .filter((t) => t.event.load !== null || t.amperes !== null || isItsLoad(readingsOf(t.event.own), look)),
  );
  const byEvents = groups.slice(0, 2).map((group) => tryGroup(group, circuit.system));
  const level = circuit.feedsIn || !answers ? null : tryLevel(look);
  const candidates = byEvents.length > 0 ? byEvents : level ? [level] : [];
  if (candidates.length === 0)
    return {
      check: cannotTell(
        'phases',
        circuit.feedsIn
          ? 'Which way power flows here depends on the sun and the battery.'
          : 'Too little flows to see how the clamps are fitted.',
        'Switch a load on that is known: a heater is best.',
      ),
      faults: [],
      tried: null,
    };
  const wrong = candidates.filter((c) => isWrong(c.ways));
  // One step that came by itself may be two loads; a second one must agree, or what stands.
  const sure =
    byEvents.length === 0 ||
    groups.some((g) => g.length >= 2 || g[0]?.event.load != null) ||
    (level !== null && isWrong(level.ways));
  const asked = groups.some((g) => g[0]?.event.load != null);
  // What stands, of loads whose plates are known, speaks against steps that nobody asked for.
  const standsRight = level !== null && knowsLag(circuit) && !isWrong(level.ways);
  const shown = candidates[0] as Tried;
  if (sure && isWrong(shown.ways) && (asked || !standsRight)) {
    const seen = wiredWrong(look, shown);
    // Without a name only what was asked for, or what stands, is held against it.
    if (seen.faults.length > 0 || asked || byEvents.length === 0 || (level !== null && isWrong(level.ways)))
      return seen;
  }
  const { ways, readings } = candidates[0] as Tried;
  const rests = restsOn(readings);
  // Where the other line reads as a turned clamp does, ways come in pairs that read the same.
  const alike =
    isOpposite(circuit) &&
    ways.equal.every((way) => way === ways.asItShouldBe || readsMinus([way], readings).length === 0);
  if (wrong.length > 0 || (ways.equal.length > 1 && !alike))
    return {
      check: cannotTell(
        'phases',
        'It may be right; the readings fit other ways as well.',
        'Switch a load whose power factor is known, such as a heater, or measure each line above.',
        rests,
      ),
      faults: [],
      tried: { readings, ways },
    };
  return {
    check: pass(
      'phases',
      circuit.lines.length > 1
        ? 'Each clamp is on its own line, arrow to the load.'
        : 'The clamp is on its line, arrow to the load.',
      rests,
    ),
    faults: [],
    tried: { readings, ways },
  };
}

/** Whether how the loads make their current lag is known of all of them. */
const knowsLag = ({ loads }: Circuit): boolean =>
  loads.length > 0 && loads.every((load) => load.powerFactor !== null);

const isWrong = ({ asItShouldBe, ways }: WaysTried): boolean => {
  const best = ways[0] as Way;
  return asItShouldBe.off > WRONG && asItShouldBe.off > best.off + FARTHER;
};

type Answered = Pick<Truth, 'event' | 'own' | 'ownNoise' | 'amperes' | 'lag'> &
  Partial<Pick<Truth, 'from' | 'sum'>>;

/** Where only a plate says what came, what came must look like it. */
const isAsOnPlate = ({ from, own, sum }: Answered): boolean =>
  from !== 'plate' || sum === undefined || (own > 0.5 * sum && own < 2 * sum);

/** Loads that came when they were asked for, of which nobody knows how much they take, but how their current lags. */
function answeredOnly(events: readonly SeenEvent[], truths: readonly Truth[], circuit: Circuit): Answered[] {
  const of = new Set(truths.map((t) => t.event));
  return events
    .filter((event) => !of.has(event) && event.load !== null)
    .map((event) => ({ event, amperes: null, lag: lagsOf(event, circuit), ...ownOf(event, circuit) }));
}

const readingsOf = (changes: readonly LineChange[]): LineReading[] =>
  changes.map((l) => ({
    line: l.line,
    volts: l.volts,
    amperes: Math.abs(l.amperes),
    watts: l.watts,
    vars: l.varsMeasured ? l.vars : null,
  }));

/** Events are of the same load when they are this much alike, relative. */
const SAME_LOAD = 0.15;

/** Events of the same load together: those that were asked for first, then the larger ones. */
function alikeGroups(events: readonly Answered[]): Answered[][] {
  const groups: Answered[][] = [];
  const rank = (t: Answered) => t.own * (t.event.load !== null ? 1000 : 1);
  for (const event of [...events].sort((a, b) => rank(b) - rank(a))) {
    const group = groups.find(
      ([g]) =>
        g &&
        (g.event.load === null) === (event.event.load === null) &&
        g.event.load?.name === event.event.load?.name &&
        Math.abs(event.own / g.own - 1) <= SAME_LOAD,
    );
    if (group) group.push(event);
    else groups.push([event]);
  }
  return groups;
}

/** The middle of alike events: another load that moved in the same second as one of them is left out by it. */
function tryGroup(group: readonly Answered[], system: SupplySystem): Tried {
  const middle = (of: (t: Answered) => number | null | undefined): number | null =>
    median(group.flatMap((t) => of(t) ?? [])) ?? null;
  const [{ event, lag, amperes }] = group as [Answered];
  const readings = readingsOf(
    event.own.map((l, i): LineChange => ({
      ...l,
      volts: middle((t) => t.event.own[i]?.volts) ?? l.volts,
      amperes: middle((t) => t.event.own[i]?.amperes) ?? l.amperes,
      watts: middle((t) => t.event.own[i]?.watts),
      vars: middle((t) => t.event.own[i]?.vars),
    })),
  );
  const trueAmperes: Partial<Record<Line, number>> = {};
  const known = { ...lag };
  for (const line of LINES) {
    const truth = middle((t) => t.amperes?.[line]);
    if (truth !== null) trueAmperes[line] = truth;
    known[line] = {
      ...lag[line],
      from: middle((t) => t.lag[line].from) as number,
      to: middle((t) => t.lag[line].to) as number,
    };
  }
  const by = { known, totalWatts: middle((t) => t.event.ownWatts?.by), system };
  const angles = () => tryWays(readings, by);
  if (!group.some((t) => t.amperes) && !amperes) return { readings, ways: angles() };
  const ways = tryWays(readings, { ...by, trueAmperes });
  // Another load that came in the same second is in what the meter above saw: of several clamps the angles tell by themselves.
  const fits = ({ ways: [best] }: WaysTried) => (best as Way).off <= FITS;
  if (readings.length > 1 && !fits(ways) && fits(angles())) return { readings, ways: angles() };
  return { readings, ways };
}

/** The readings as they stand, over the time in which most flows. */
function tryLevel(look: Look): Tried | null {
  const { circuit, own } = look;
  const busy = busyTime(own.channels);
  if (busy === null) return null;
  const over = (trace: Trace | null) =>
    trace ? mean(trace.v.filter((_, i) => busy(trace.t[i] as number))) : undefined;
  const readings = own.channels.flatMap((c): LineReading[] => {
    const amperes = over(c.current);
    if (amperes === undefined || !c.current || amperes < Math.max(0.1, 8 * scatterOf(c.current.v))) return [];
    return [
      {
        line: c.line,
        volts: over(c.voltage) ?? circuit.nominalVoltage,
        amperes,
        watts: over(c.power) ?? null,
        vars: over(c.reactive) ?? null,
      },
    ];
  });
  if (readings.length < own.channels.length || readings.length === 0) return null;
  const totalWatts = over(own.total) ?? null;
  if (!isItsLoad(readings, look)) return null;
  if (readings.every((r) => r.watts === null) && totalWatts === null) return null;
  return {
    readings,
    ways: tryWays(readings, { known: lagsOf(null, circuit), totalWatts, system: circuit.system }),
  };
}

/** Whether what flows can be the load of this circuit, where its plate is known: else it may be another circuit's. */
function isItsLoad(readings: readonly LineReading[], { circuit }: Look): boolean {
  const known = circuit.loads.every((l) => l.powerFactor !== null);
  if (!known || circuit.loads.length === 0) return true;
  const apparent = readings.reduce((sum, r) => sum + r.volts * r.amperes, 0);
  const plates = circuit.loads.map((l) => (l.watts === null ? null : l.watts / (l.powerFactor as number)));
  return plates.some((p) => p !== null && Math.abs(apparent / p - 1) < PLATE);
}

/** The instants at which at least half of the most flows. */
function busyTime(channels: readonly Channel[]): ((t: number) => boolean) | null {
  const [first] = channels.flatMap((c) => (c.current && c.current.v.length >= 5 ? [c.current] : []));
  if (!first) return null;
  const half = 0.5 * Math.max(...first.v);
  const spans = first.t.filter((_, i) => (first.v[i] as number) >= half);
  if (spans.length < 5) return null;
  const at = new Set(spans.map((t) => Math.round(t / 1000)));
  return (t) => at.has(Math.round(t / 1000));
}
