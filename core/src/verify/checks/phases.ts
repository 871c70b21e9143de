import { mean, median } from 'd3-array';
import { cannotTell, fail, pass, type Check } from '../check.js';
import type { Channel, Circuit, Look } from '../circuit.js';
import type { LineChange, SeenEvent } from '../events.js';
import type { Fault } from '../faults.js';
import { LINES, type Line, type LineReading } from '../phasors.js';
import { scatterOf, type Trace } from '../trace.js';
import { lagsOf, ownOf, type Truth } from '../truth.js';
import { tryWays, type Way, type WaysTried } from '../ways.js';
import { listed } from '../words.js';

/** The label's way is wrong when it is this far off, and this much farther than the best, degrees. */
const WRONG = 15;
const FARTHER = 12;
/** The best way is believed when it is this near. */
const FITS = 12;
/** What flows is the load on the plate within this. */
const PLATE = 0.3;

export interface PhasesSeen {
  check: Check;
  faults: Fault[];
  /** What was tried, on what; null where nothing could be. */
  tried: { readings: LineReading[]; ways: WaysTried } | null;
}

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
  const byEvents = groups.slice(0, 2).map(tryGroup);
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
  if (wrong.length > 0 || ways.equal.length > 1)
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

interface Tried {
  readings: LineReading[];
  ways: WaysTried;
}

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
function tryGroup(group: readonly Answered[]): Tried {
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
  const ways = tryWays(readings, {
    known,
    trueAmperes: group.some((t) => t.amperes) || amperes ? trueAmperes : undefined,
    totalWatts: middle((t) => t.event.ownWatts?.by),
  });
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
  return { readings, ways: tryWays(readings, { known: lagsOf(null, circuit), totalWatts }) };
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

function wiredWrong(look: Look, { readings, ways }: Tried): PhasesSeen {
  const kinds = commonKinds(ways.equal, readings);
  const best = ways.ways[0] as Way;
  const rests = restsOn(readings);
  const tried = { readings, ways };
  if (kinds.length === 0 || best.off > FITS)
    return {
      check: fail(
        'phases',
        'It is not wired as it should be; how, the readings do not tell.',
        rests,
        'A clamp is turned round or on another phase than its voltage.',
        'Switch a load whose power factor is known, such as a heater.',
      ),
      faults: [],
      tried,
    };
  const faults = faultsOf(ways.equal, readings, kinds);
  const says = faults.map((f) => saysOf(f, look)).join(' ');
  return {
    check: fail('phases', says, rests, causeOf(faults, look), todoOf(faults)),
    faults,
    tried,
  };
}

type WayKind = 'moved' | 'turned';

/** What all ways that fit have in common. Where no power is read, nobody sees which way a clamp is turned. */
function commonKinds(equal: readonly Way[], readings: readonly LineReading[]): WayKind[] {
  const isMoved = (way: Way) => way.on.some((line, i) => line !== readings[i]?.line || way.tap[i] !== line);
  const kinds: WayKind[] = [];
  if (equal.every(isMoved)) kinds.push('moved');
  if (equal.every((way) => way.turned.includes(true))) kinds.push('turned');
  return kinds;
}

function faultsOf(
  equal: readonly Way[],
  readings: readonly LineReading[],
  kinds: readonly WayKind[],
): Fault[] {
  const best = equal[0] as Way;
  const at = (way: Way) => ({
    moved: readings.filter((r, i) => way.on[i] !== r.line || way.tap[i] !== r.line).map((r) => r.line),
    turned: readings.filter((_, i) => way.turned[i]).map((r) => r.line),
    on: readings.flatMap((r, i) => (way.on[i] !== r.line ? [way.on[i] as Line] : [])),
  });
  const { moved, turned, on } = at(best);
  const all = equal.map(at);
  const same = (list: 'moved' | 'turned' | 'on') =>
    all.every((w) => String(w[list]) === String({ moved, turned, on }[list]));
  const faults: Fault[] = [];
  if (kinds.includes('moved'))
    faults.push({
      kind: readings.length > 1 ? 'swapped' : 'wrong-phase',
      lines: same('moved') ? moved : [],
      ...(same('on') ? { on } : {}),
    });
  if (kinds.includes('turned')) faults.push({ kind: 'reversed', lines: same('turned') ? turned : [] });
  return faults;
}

function saysOf({ kind, lines, on }: Fault, { circuit }: Look): string {
  if (kind === 'reversed')
    return circuit.lines.length > 1
      ? `${lines.length > 0 ? `The clamp${lines.length > 1 ? 's' : ''} of ${listed(lines)}` : 'One clamp'} ${lines.length > 1 ? 'are' : 'is'} turned round.`
      : 'The clamp is turned round.';
  if (kind === 'wrong-phase')
    return on?.[0]
      ? `The clamp is on ${on[0]}, and it is multiplied with the voltage of ${lines[0]}.`
      : 'Clamp and voltage are on different phases.';
  if (lines.length === 2) return `Clamps ${listed(lines)} have changed places.`;
  return 'All three clamps are on another line.';
}

function causeOf(faults: readonly Fault[], { circuit }: Look): string {
  if (faults.some((f) => f.kind === 'swapped'))
    return 'Leads are crossed at the meter, or the clamps at the conductors.';
  if (faults.some((f) => f.kind === 'wrong-phase'))
    return `The voltage tap is on another line, or the circuit is not on ${listed(circuit.lines)}.`;
  return 'Its arrow points away from the load, or its two leads are exchanged.';
}

function todoOf(faults: readonly Fault[]): string {
  const todo = faults.map(({ kind, lines }) => {
    if (kind === 'reversed')
      return `turn ${lines.length > 0 ? `the clamp of ${listed(lines)}` : 'the clamp'} round`;
    if (kind === 'wrong-phase')
      return 'give it the voltage of its own line, or set the phase of this circuit right';
    return lines.length > 0 ? `exchange the leads of ${listed(lines)}` : 'move each clamp to its own line';
  });
  const text = listed(todo);
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
}

function restsOn(readings: readonly LineReading[]): string {
  return readings
    .map((r) =>
      r.watts === null || !(r.volts * r.amperes > 0)
        ? `${r.line} ${r.amperes.toFixed(2)} A`
        : `${r.line} cos φ ${(r.watts / (r.volts * r.amperes)).toFixed(2).replace('-', '−')}`,
    )
    .join(' · ');
}
