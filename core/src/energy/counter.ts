/** Milliseconds in an hour. */
const HOUR = 3_600_000;

/** What is known of a counter besides its readings. */
export interface CounterRules {
  /** One count, Wh: falls of up to two of them are jitter. */
  resolution: number;
  /** One more than the largest reading, Wh, e.g. 65 536 counts or 99 999.9 kWh; null where it does not roll over. */
  modulus: number | null;
  /** The largest power that can be behind it, W: limits rises and falls alike. */
  largestWatts: number;
  /** How long after a reading at t the next one may come before the time between them is a gap, ms. */
  hold: (t: number) => number;
}

/** A reading of a counter, raw. */
export interface CounterReading {
  t: number;
  v: number;
  /** A person has said that the way to this reading counts, however unlikely it is. */
  forced?: boolean;
}

/** A counter that was removed, and the one that was put in its place at the same instant. */
export interface CounterExchange {
  t: number;
  /** Last reading of the old one, Wh. */
  before: number;
  /** First reading of the new one, Wh. */
  after: number;
}

/** Where the reading of a counter stands; a plain value, so that it can be kept and taken up again. */
export interface CounterState {
  /** The highest accepted reading: smaller ones within the jitter count nothing. */
  level: number;
  /** When that was first read. */
  since: number;
  /** When a reading was last accepted, a repeated one included. */
  seen: number;
  /** Power of the latest steps, W: what stands in where a step cannot be known. */
  watts: number;
  /** What was left behind at the last break, in case the counter returns to it, and what has been counted since. */
  left: { level: number; since: number; seen: number; counted: number } | null;
  /** Readings that do not follow, until it is plain what they are. */
  pending: { t: number; v: number }[];
}

/**
 * What was counted between two instants, evenly spread over them. `how`: `counted` between readings that follow one
 * another; `gap` over a time without readings, the total of which the counter knows; `estimated` where even that is
 * not sure.
 */
export interface CounterSegment {
  from: number;
  to: number;
  increment: number;
  how: 'counted' | 'gap' | 'estimated';
}

export const COUNTER_EVENTS = [
  'glitch',
  'rolled-over',
  'reset',
  'fell-back',
  'exchange',
  'returned',
] as const;

/** Something that a counter did besides rising. */
export interface CounterEvent {
  kind: (typeof COUNTER_EVENTS)[number];
  t: number;
  /** Until when it lasted; `t` for an instant. */
  until: number;
  before: number;
  after: number;
  /** Wh that were counted for it. */
  counted: number;
}

export interface CounterStep {
  state: CounterState | null;
  segments: CounterSegment[];
  events: CounterEvent[];
}

/** So many readings that agree with one another make a break believed. */
const CONFIRM = 3;
/** A rise is judged by the time since the level was first read, and by this much at least: counters move in jerks. */
const SHORTEST = 15_000;
/** Falls up to what could have been counted in this time are noise, where the readings follow closely. */
const NOISE = 60_000;
/** A step that cannot be known is taken from the power before it, over at most this time. */
const LONGEST_GUESS = 15 * 60_000;
/** After this time a counter is not believed to have come back from a break. */
const LONGEST_BREAK = 24 * HOUR;

type Ladder = Pick<CounterState, 'level' | 'since' | 'seen'>;

/**
 * Follows a counter reading by reading (ascending). A function of the whole row of readings: taken up from a kept
 * state it gives what it would have given in one go. What does not follow (a fall, a rise that no power could have
 * made) waits until further readings tell whether it was a slip or the counter goes on from there.
 */
export class CounterFold {
  state: CounterState | null;
  segments: CounterSegment[] = [];
  events: CounterEvent[] = [];

  constructor(
    private readonly rules: CounterRules,
    state: CounterState | null = null,
  ) {
    this.state = state && { ...state, pending: [...state.pending] };
  }

  take(reading: CounterReading): void {
    const { t, v, forced } = reading;
    const { state } = this;
    if (!state) {
      this.state = { level: v, since: t, seen: t, watts: 0, left: null, pending: [] };
      return;
    }
    if (forced && v >= state.level) return this.accept(t, v, v - state.level, 'counted');
    if (this.follows(state, t, v)) {
      this.dismiss(state.pending);
      return this.acceptFollowing(t, v);
    }
    if (this.fellBack(state, t, v)) {
      this.dismiss(state.pending);
      (this.state as CounterState).pending = [{ t, v }];
      return this.breakAway();
    }
    const last = state.pending.at(-1);
    if (last && !this.follows({ level: last.v, since: last.t, seen: last.t }, t, v, false)) {
      this.dismiss(state.pending);
      (this.state as CounterState).pending = [];
    }
    (this.state as CounterState).pending.push({ t, v });
    if ((this.state as CounterState).pending.length >= CONFIRM) this.breakAway();
  }

  /** The old counter is read for the last time, and the new one goes on from its first reading. */
  exchange({ t, before, after }: CounterExchange): void {
    const { state } = this;
    if (state && before >= state.level) {
      this.dismiss(state.pending);
      this.accept(t, before, before - state.level, this.isGap(state.seen, t) ? 'gap' : 'counted');
    }
    const watts = this.state?.watts ?? 0;
    this.state = { level: after, since: t, seen: t, watts, left: null, pending: [] };
  }

  private isGap(from: number, to: number): boolean {
    return to - from > this.rules.hold(from);
  }

  /** The largest increment that can be true between two instants, Wh. */
  private largest(from: number, to: number): number {
    const { largestWatts, resolution } = this.rules;
    return (largestWatts * Math.max(to - from, SHORTEST)) / HOUR + 2 * resolution;
  }

  /** Whether a reading can come after what is accepted: a possible rise, jitter, or a roll-over. */
  private follows(ladder: Ladder, t: number, v: number, mayRollOver = true): boolean {
    const { level, since } = ladder;
    if (v >= level)
      return v - level <= this.largest(since, t) || (mayRollOver && this.wraps(ladder, t, v) > 0);
    return this.isJitter(ladder, t, v) || (mayRollOver && this.wraps(ladder, t, v) > 0);
  }

  private isJitter({ level, seen }: Ladder, t: number, v: number): boolean {
    const fall = level - v;
    if (fall <= 0) return false;
    if (fall <= 2 * this.rules.resolution) return true;
    // After a gap a fall is news: a meter that was off may come back with what it had last kept.
    if (this.isGap(seen, t) || v <= level / 2) return false;
    return fall <= (this.rules.largestWatts * NOISE) / HOUR;
  }

  /** After a gap, a little lower: a meter that was without supply comes back with what it had last kept. */
  private fellBack({ level, seen }: Ladder, t: number, v: number): boolean {
    return this.isGap(seen, t) && v < level && v > level / 2 && level - v <= this.largest(seen, t);
  }

  /** How often the counter has rolled over on its way to a reading; 0 when it need not have, or cannot have. */
  private wraps({ level, since, seen }: Ladder, t: number, v: number): number {
    const { modulus } = this.rules;
    if (modulus === null || v >= modulus) return 0;
    const largest = this.largest(since, t);
    // Never fewer than it takes to have counted upwards, also after a reading that no such counter can show.
    const first = Math.max(0, Math.ceil((level - v) / modulus));
    const possible: number[] = [];
    for (let k = first; v - level + k * modulus <= largest && possible.length < 1000; k++) possible.push(k);
    if (possible.length === 0) return 0;
    if (!this.isGap(seen, t)) return possible[0] as number;
    const expected = ((this.state?.watts ?? 0) * (t - seen)) / HOUR;
    return possible.reduce((best, k) =>
      Math.abs(v - level + k * modulus - expected) < Math.abs(v - level + best * modulus - expected)
        ? k
        : best,
    );
  }

  private acceptFollowing(t: number, v: number): void {
    const state = this.state as CounterState;
    const gap = this.isGap(state.seen, t);
    const wraps = this.isJitter(state, t, v) ? 0 : this.wraps(state, t, v);
    if (wraps > 0) {
      const increment = v - state.level + wraps * (this.rules.modulus as number);
      this.events.push({
        kind: 'rolled-over',
        t,
        until: t,
        before: state.level,
        after: v,
        counted: increment,
      });
      this.accept(t, v, increment, gap ? 'estimated' : 'counted');
    } else this.accept(t, v, Math.max(0, v - state.level), gap ? 'gap' : 'counted');
  }

  private accept(t: number, v: number, increment: number, how: CounterSegment['how']): void {
    const state = this.state as CounterState;
    const { left } = state;
    const rose = increment > 0;
    this.segments.push({ from: state.seen, to: t, increment, how });
    // The power of about the last minute, so that one jerk of the counter does not stand for all.
    const weight = Math.min(1, (t - state.seen) / 60_000);
    const watts = t > state.seen ? (increment * HOUR) / (t - state.seen) : state.watts;
    this.state = {
      level: rose ? v : state.level,
      since: rose ? t : state.since,
      seen: t,
      watts: state.watts + weight * (watts - state.watts),
      left: left && t - left.seen <= LONGEST_BREAK ? { ...left, counted: left.counted + increment } : null,
      pending: [],
    };
  }

  /** What had been waiting was a slip. */
  private dismiss(pending: readonly { t: number; v: number }[]): void {
    const [first] = pending;
    if (!first || !this.state) return;
    this.events.push({
      kind: 'glitch',
      t: first.t,
      until: (pending.at(-1) as { t: number }).t,
      before: this.state.level,
      after: first.v,
      counted: 0,
    });
  }

  /** The waiting readings agree with one another: the counter goes on from there. */
  private breakAway(): void {
    const before = this.state as CounterState;
    const [first, ...others] = before.pending as [{ t: number; v: number }, ...{ t: number; v: number }[]];
    const { kind, counted, how } = this.breakOf(before, first);
    this.events.push({ kind, t: first.t, until: first.t, before: before.level, after: first.v, counted });
    const from = kind === 'returned' ? (before.left as { seen: number }).seen : before.seen;
    this.segments.push({ from, to: first.t, increment: counted, how });
    this.state = {
      level: first.v,
      since: first.t,
      seen: first.t,
      watts: before.watts,
      left:
        kind === 'returned' ? null : { level: before.level, since: before.since, seen: before.seen, counted },
      pending: [],
    };
    for (const { t, v } of others) this.acceptFollowing(t, v);
  }

  private breakOf(
    { level, seen, watts, left }: CounterState,
    { t, v }: { t: number; v: number },
  ): { kind: CounterEvent['kind']; counted: number; how: CounterSegment['how'] } {
    const gap = this.isGap(seen, t);
    if (left && v >= left.level && v - left.level <= this.largest(left.since, t)) {
      // It had only been away: what it has counted in all that time is known, less what was counted meanwhile.
      return { kind: 'returned', counted: Math.max(0, v - left.level - left.counted), how: 'estimated' };
    }
    const guess = t - seen <= LONGEST_GUESS ? (watts * (t - seen)) / HOUR : 0;
    if (v < level && v <= this.largest(seen, t) && v <= level / 2)
      return { kind: 'reset', counted: v, how: gap ? 'estimated' : 'counted' };
    if (this.fellBack({ level, since: seen, seen }, t, v))
      return { kind: 'fell-back', counted: 0, how: 'gap' };
    return { kind: 'exchange', counted: guess, how: 'estimated' };
  }
}

/** Follows readings and exchanges from a kept state on. Both ascending; an exchange comes before a reading at its instant. */
export function foldCounter(
  rules: CounterRules,
  state: CounterState | null,
  readings: readonly CounterReading[],
  exchanges: readonly CounterExchange[] = [],
): CounterStep {
  const fold = new CounterFold(rules, state);
  let next = 0;
  for (const reading of readings) {
    for (; next < exchanges.length && (exchanges[next] as CounterExchange).t <= reading.t; next++)
      fold.exchange(exchanges[next] as CounterExchange);
    fold.take(reading);
  }
  for (; next < exchanges.length; next++) fold.exchange(exchanges[next] as CounterExchange);
  return { state: fold.state, segments: fold.segments, events: fold.events };
}

/** The part of a segment that lies in [from, to), Wh; segments are spread evenly. */
export function partOfSegment(
  segment: Pick<CounterSegment, 'from' | 'to' | 'increment'>,
  from: number,
  to: number,
): number {
  const length = segment.to - segment.from;
  if (length <= 0) return segment.to >= from && segment.to < to ? segment.increment : 0;
  const overlap = Math.min(segment.to, to) - Math.max(segment.from, from);
  return overlap > 0 ? (segment.increment * overlap) / length : 0;
}

/**
 * One more than the largest reading of a counter in a register of so many bits, in counts; null for one that is not a
 * whole number, and for 64 bits, beyond which no installation counts. Signed registers roll over at half (common practice).
 */
export const modulusOfType = (type: string): number | null =>
  ({ uint16: 2 ** 16, int16: 2 ** 15, uint32: 2 ** 32, int32: 2 ** 31 })[type] ?? null;
