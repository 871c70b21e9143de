import { median } from 'd3-array';
import { cannotTell, fail, pass, type Check } from '../check.js';
import type { Look, Metered } from '../circuit.js';
import { isReadHere, type SeenEvent } from '../events.js';
import { usualFactor, type Fault } from '../faults.js';
import type { Line } from '../phasors.js';
import { levelBetween, type Trace } from '../trace.js';
import { isEnough, middleOf, type Truth } from '../truth.js';
import { inWords } from '../words.js';

/** Less than this share of the load reads: it does not pass through the meter. */
const MOST_OF_IT = 0.35;
/** Less than this is nothing: both conductors, or none. */
const NOTHING = 0.03;
/** A factor as exact as this is taken for a setting; a second path would have to hit it by chance. */
const EXACT = 0.05;

/** Readings with a load on, from which two meters may be seen to read the same. */
const MOVES = 15;
/** Smaller steps elsewhere say nothing about whose they are, W. */
const LEAST_WATTS = 20;

export interface ThroughSeen {
  check: Check;
  fault: Fault | null;
  /** Whether the whole load goes through, as far as is known. */
  whole: boolean;
}

/** Whether the current of the load passes through the meter: all of it, a part, none, or somebody else's. */
export function checkThrough(
  look: Look,
  events: readonly SeenEvent[],
  truths: readonly Truth[],
): ThroughSeen {
  const followed = followedInstead(look, events);
  if (followed) return followed;
  const shareOf = (t: Truth) => t.own / t.sum;
  const usable = truths.filter((t) => t.sum > 4 * t.ownNoise);
  const share = middleOf(usable, shareOf);
  if (share === null || !isEnough(usable, shareOf)) return notSeen(look, events, truths.length > 0);
  const shown = biggest(usable);
  const rests = `${inWords(shown.own, 'A')} here of ${inWords(shown.sum, 'A')}${shown.from === 'above' ? ` at ${look.above?.name ?? 'the meter above'}` : ' by the plate'}`;
  const lone = loneLine(usable, look);
  if (share >= MOST_OF_IT && lone === null)
    return {
      check: pass('through', 'The whole load goes through the meter.', rests),
      fault: null,
      whole: true,
    };
  if (lone !== null)
    return {
      check: fail(
        'through',
        `Nothing reads on ${lone} while the other lines carry the load.`,
        rests,
        look.circuit.reach === 'clamp'
          ? 'Its clamp is around two conductors, or around none.'
          : 'That line is bridged past the meter.',
        `Look at the clamp of ${lone}: one line conductor alone, jaws closed.`,
      ),
      fault:
        look.circuit.reach === null
          ? null
          : {
              kind: look.circuit.reach === 'clamp' ? 'both-conductors' : 'bypassed',
              lines: [lone],
              factor: 0,
            },
      whole: false,
    };
  const setting = usable.every((t) => t.from === 'above') && clear(usable) ? usualFactor(share, EXACT) : null;
  if (setting !== null)
    return { check: pass('through', 'The load is seen, at a fraction.', rests), fault: null, whole: true };
  return { ...missing(look, events, usable, share, rests), whole: false };
}

function missing(
  look: Look,
  events: readonly SeenEvent[],
  usable: readonly Truth[],
  share: number,
  rests: string,
): { check: Check; fault: Fault | null } {
  const lines = look.circuit.lines;
  const elsewhere = whereElse(usable) ?? whoseReading(look, events, usable);
  if (elsewhere !== null)
    return {
      check: fail(
        'through',
        `The load shows at ${elsewhere.name}, not here.`,
        rests,
        elsewhere.reads
          ? `The clamp is on the conductor of ${elsewhere.name}.`
          : `The load hangs on the circuit of ${elsewhere.name}, or the two devices are mixed up.`,
        'Follow the conductor from the breaker, and put meter or label right.',
      ),
      fault: { kind: 'other-circuit', lines, other: { id: elsewhere.id, name: elsewhere.name } },
    };
  const { reach } = look.circuit;
  const partly = share >= NOTHING && clear(usable);
  if (usable.every((t) => t.from !== 'above'))
    return {
      check: fail(
        'through',
        'The load was called for, but hardly shows.',
        rests,
        'It did not come on, it hangs on another circuit, or its current goes past the meter.',
        'Make sure that it runs. A meter above this circuit would show where its power goes.',
      ),
      fault: null,
    };
  if (partly)
    return {
      check: fail(
        'through',
        `Only ${Math.round(share * 100)} % of the load goes through the meter.`,
        rests,
        'A second path feeds the load: a bridge at the terminals, or a conductor outside the clamp.',
        'Isolate, and take the bridge out; all of the load’s conductors of this line go through.',
      ),
      fault: { kind: 'bypassed', lines, factor: share },
    };
  const words = {
    clamp: [
      'Both conductors of the circuit go through the clamp, or none does.',
      'Open the clamp; close it around one line conductor alone.',
    ],
    series: [
      'The load is fed past the meter: a bridge from its supply terminal.',
      'Isolate, and have the load current pass through the meter.',
    ],
    none: [
      'Both conductors go through the clamp, or the load is fed past the meter.',
      'Enter what kind of meter it is, and look at its conductors.',
    ],
  }[reach ?? 'none'] as [string, string];
  return {
    check: fail('through', 'The load does not show here.', rests, ...words),
    fault:
      reach === null
        ? null
        : { kind: reach === 'clamp' ? 'both-conductors' : 'bypassed', lines, factor: Math.max(0, share) },
  };
}

function notSeen(look: Look, events: readonly SeenEvent[], some: boolean): ThroughSeen {
  const asked = events.filter((e) => e.load !== null);
  const say = (says: string, todo: string) => ({
    check: cannotTell('through', says, todo),
    fault: null,
    whole: false,
  });
  if (look.above === null && asked.every((e) => !e.load?.watts))
    return say(
      'Nothing above this circuit is metered, and no load with a plate was switched.',
      'Run a step test with a load whose power is known.',
    );
  if (asked.length > 0 && !asked.some(isReadHere))
    return say(
      'Nothing was read here when a load was switched.',
      'Look at the device and its link, then switch the load again.',
    );
  if (asked.length === 0 && !some)
    return say('No load has switched on or off.', 'Run a step test: switch a load of this circuit.');
  return say(
    'What was switched does not stand out.',
    'Switch a larger load, while the other loads of the site are quiet.',
  );
}

/** The other place at which the load shows each time. */
function whereElse(usable: readonly Truth[]): { id: number; name: string; reads: false } | null {
  const asked = usable.filter((t) => t.watts !== null);
  if (asked.length === 0) return null;
  const ids = asked.flatMap((t) => t.event.others.map((o) => o.id));
  for (const id of new Set(ids)) {
    const alike = asked.filter((t) => {
      const other = t.event.others.find((o) => o.id === id);
      return (
        other &&
        Math.abs(other.watts.by / (t.watts as number) - 1) <= 0.3 &&
        Math.abs(other.watts.by) > 5 * other.watts.noise
      );
    });
    const name = asked.flatMap((t) => t.event.others).find((o) => o.id === id)?.name ?? '';
    if (alike.length > 0.6 * asked.length) return { id, name, reads: false };
  }
  return null;
}

/** The other place whose loads this meter follows. */
function whoseReading(
  look: Look,
  events: readonly SeenEvent[],
  usable: readonly Truth[],
): { id: number; name: string; reads: true } | null {
  const of = new Set(usable.map((t) => t.event));
  const byItself = events.filter((e) => e.load === null && !of.has(e));
  const following = byItself.length > 0 ? byItself : events.filter((e) => e.load === null);
  for (const { id, name } of look.others) {
    const alike = following.filter((e) => {
      const other = e.others.find((o) => o.id === id)?.watts;
      const own = e.own.reduce((sum, l) => sum + Math.abs(l.amperes) * l.volts, 0);
      return (
        other &&
        other.by > Math.max(LEAST_WATTS, 5 * other.noise) &&
        own > 0.75 * other.by &&
        own < 1.35 * other.by
      );
    });
    if (alike.length >= 2 && alike.length > 0.6 * following.length) return { id, name, reads: true };
  }
  return null;
}

/** This meter reads what another one does, and not what its own loads do when they are asked for. */
function followedInstead(look: Look, events: readonly SeenEvent[]): ThroughSeen | null {
  const asked = events.filter((e) => e.load !== null && isReadHere(e));
  const other = look.others.find((o) => follows(look, o));
  if (!other || asked.length < 2) return null;
  const level = rangeOf(other);
  const silent = asked.filter((e) => e.own.every((l) => Math.abs(l.amperes) < 0.2 * level));
  if (silent.length < 0.6 * asked.length) return null;
  return {
    check: fail(
      'through',
      `It reads what ${other.name} reads, and not its own load.`,
      `${silent.length} of ${asked.length} switchings do not show`,
      `The clamp is on the conductor of ${other.name}.`,
      'Follow the conductor from the breaker, and put the clamp on the right one.',
    ),
    fault: { kind: 'other-circuit', lines: look.circuit.lines, other: { id: other.id, name: other.name } },
    whole: false,
  };
}

/** A between the least and the most of a meter's first current. */
function rangeOf({ channels }: Metered): number {
  const current = channels.find((c) => c.current)?.current;
  return current ? Math.max(...current.v) - Math.min(...current.v) : 0;
}

/** Whether this meter reads what another one does, all the time, and both move. */
function follows({ own, circuit }: Look, other: Metered): boolean {
  const [here] = own.channels;
  const there = other.channels.find((c) => c.current);
  if (own.channels.length !== 1 || !here?.current || !there?.current) return false;
  const level = rangeOf(other);
  if (!(level > 0.01 * (circuit.ratedCurrent ?? 16))) return false;
  const busy = Math.min(...there.current.v) + 0.3 * level;
  const pairs = here.current.t.flatMap((t, i) => {
    const at = levelBetween(there.current as Trace, t - 1500, t + 1500, 2);
    if (!at || at.spread >= 0.1 * level) return [];
    const own = (here.current as Trace).v[i] as number;
    // That both are off says nothing.
    return own > busy || at.mean > busy ? [Math.abs(own - at.mean)] : [];
  });
  return pairs.length >= MOVES && pairs.filter((off) => off < 0.12 * level).length > 0.85 * pairs.length;
}

/** One line of several that reads nothing while the others read the load. */
function loneLine(usable: readonly Truth[], look: Look): Line | null {
  if (look.own.channels.length < 2) return null;
  const shares = look.circuit.lines.flatMap((line) => {
    const share = median(
      usable.flatMap(({ event, amperes }) => {
        const own = event.own.find((l) => l.line === line);
        const least = amperes ? Math.min(...look.circuit.lines.map((l) => amperes[l] ?? 0)) : 0;
        return own && least > 8 * own.noise ? [Math.abs(own.amperes) / least] : [];
      }),
    );
    return share === undefined ? [] : [{ line, share }];
  });
  const dead = shares.filter((s) => s.share < 0.1).map((s) => s.line);
  if (shares.length < 2 || shares.some((s) => s.share >= 0.1 && s.share < 0.5)) return null;
  return dead.length === 1 ? (dead[0] as Line) : null;
}

const clear = (usable: readonly Truth[]): boolean => {
  const own = median(usable.map((t) => t.own / Math.max(t.ownNoise, 1e-9)));
  return own !== undefined && own > 6;
};

const biggest = (truths: readonly Truth[]): Truth =>
  truths.reduce((a, b) => (b.sum > a.sum ? b : a), truths[0] as Truth);
