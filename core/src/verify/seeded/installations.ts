import type { Channel, Look, Metered, Plate, Switching } from '../circuit.js';
import type { FaultKind } from '../faults.js';
import type { Line } from '../phasors.js';
import { gauss, seededRandom } from './random.js';

/**
 * Made-up installations, healthy or with one fault, worked out with complex voltages and currents second by second.
 * Written apart from the diagnosis: nothing here is computed with its functions.
 */

interface Complex {
  re: number;
  im: number;
}
const polar = (size: number, degrees: number): Complex => ({
  re: size * Math.cos((degrees / 180) * Math.PI),
  im: size * Math.sin((degrees / 180) * Math.PI),
});
const plus = (a: Complex, b: Complex): Complex => ({ re: a.re + b.re, im: a.im + b.im });
const times = (a: Complex, k: number): Complex => ({ re: a.re * k, im: a.im * k });
const size = (a: Complex): number => Math.hypot(a.re, a.im);
/** U · conj(I): active power is its real part, reactive power its imaginary one. */
const product = (u: Complex, i: Complex): Complex => ({
  re: u.re * i.re + u.im * i.im,
  im: u.im * i.re - u.re * i.im,
});

const NAMES: readonly Line[] = ['L1', 'L2', 'L3'];
type Three = [Complex, Complex, Complex];
const none = (): Three => [0, 0, 0].map(() => ({ re: 0, im: 0 })) as Three;

export type Condition = FaultKind | 'healthy';

export interface Seeded {
  condition: Condition;
  /** Whether the readings can tell it, by the physics of the case. */
  tellable: boolean;
  look: Look;
  about: string;
}

interface LoadMade {
  watts: number;
  lag: number;
  lines: number[];
  shares: number[];
  inrush: number;
  plate: Plate;
}

const SECONDS = 200;
const START = 1_750_000_000_000;

/** The installation of a seed with a condition. */
export function seededInstallation(seed: number, condition: Condition): Seeded {
  const random = seededRandom(seed * 7919 + 13);
  const chance = (p: number) => random() < p;
  const between = (a: number, b: number) => a + (b - a) * random();
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;

  const wantsThree =
    condition === 'swapped' || (condition !== 'wrong-phase' && condition !== 'other-circuit' && chance(0.4));
  const label = wantsThree ? [0, 1, 2] : [Math.floor(random() * 3)];
  const heavy = condition === 'clipped' || chance(0.7);
  const kind = pick(['heater', 'heater', 'motor', 'electronics'] as const);
  const watts = heavy ? between(600, 3000) * label.length : between(90, 350) * label.length;
  const lag = kind === 'heater' ? 0 : kind === 'motor' ? between(24, 46) : between(-10, 30);
  const factor = Math.cos((lag / 180) * Math.PI);
  const knowsWatts = chance(0.75);
  const knowsFactor = kind === 'heater' || (kind === 'motor' && chance(0.6));
  const shares = label.map(() => (wantsThree && kind !== 'motor' ? between(0.85, 1.15) : 1));
  const load: LoadMade = {
    watts,
    lag,
    lines: label,
    shares: shares.map((s) => s / shares.reduce((a, b) => a + b, 0)),
    inrush: kind === 'motor' ? between(1.5, 5) : 1,
    plate: {
      name: kind,
      watts: knowsWatts ? Math.round(watts * between(0.92, 1.08)) : null,
      powerFactor: knowsFactor ? (kind === 'heater' ? 1 : factor + between(-0.02, 0.02)) : null,
    },
  };

  const measuresPower = chance(0.8);
  const measuresReactive = measuresPower && chance(0.3);
  const aboveKind = pick(['lines', 'lines', 'lines', 'total', 'none', 'none'] as const);
  const asked = chance(0.75);
  const reach =
    condition === 'both-conductors'
      ? 'clamp'
      : condition === 'bypassed'
        ? 'series'
        : pick(['clamp', 'series', null] as const);
  const pace = chance(0.2) ? 2 : 1;
  const gain = between(0.97, 1.03);
  const noise = 0.003;
  const resolution = pick([0.001, 0.01]);
  const hasOther = condition === 'other-circuit' || chance(0.5);

  // When the load runs.
  const flips: number[] = [];
  let at = 30 + Math.floor(random() * 10);
  while (at < SECONDS - 25) {
    flips.push(at);
    at += 28 + Math.floor(random() * 22);
  }
  const runs = (s: number) => flips.filter((f) => f <= s).length % 2 === 1;

  // Other loads of the site, and one other metered circuit.
  const site = Array.from({ length: 4 }, () => ({
    line: Math.floor(random() * 3),
    watts: between(50, 1500),
    lag: between(-5, 35),
    flips: Array.from({ length: Math.floor(random() * 2) }, () => Math.floor(random() * SECONDS)),
    on: chance(0.6),
  }));
  const otherLine = Math.floor(random() * 3);
  const otherWatts = between(200, 2500);
  const otherFlips = [12, 55, 90, 140, 170].map((s) => s + Math.floor(random() * 12));
  const otherRuns = (s: number) => otherFlips.filter((f) => f <= s).length % 2 === 1;

  // The fault, as it is wired.
  const clampIndex = Math.floor(random() * label.length);
  const swap = chance(0.75)
    ? pick([
        [1, 0, 2],
        [0, 2, 1],
        [2, 1, 0],
      ])
    : pick([
        [1, 2, 0],
        [2, 0, 1],
      ]);
  const turnedClamps =
    label.length === 3 ? (chance(0.6) ? [clampIndex] : [clampIndex, (clampIndex + 1) % 3]) : [0];
  const wrongTap = chance(0.5);
  const wrongLine = ((label[0] as number) + (chance(0.5) ? 1 : 2)) % 3;
  const share = condition === 'bypassed' ? between(0, 0.28) : 1;
  const ratio =
    condition === 'wrong-ratio' ? pick([2, 3, Math.sqrt(3), 10, 0.5, 1 / 3, 1 / Math.sqrt(3), 0.1, 100]) : 1;
  const loadOnOther = condition === 'other-circuit' && chance(0.5);
  const perLine = watts / 230 / factor / label.length;
  const range = condition === 'clipped' ? perLine * between(0.45, 0.75) : perLine * between(2, 6);
  const knowsRange = chance(0.5);

  const rows = Array.from({ length: SECONDS }, () => ({
    u: none(),
    own: none(),
    all: none(),
    other: { re: 0, im: 0 } as Complex,
    otherU: 0,
  }));
  const drift = between(0, 6);
  rows.forEach((row, s) => {
    row.u = [0, -120, 120].map((angle, i) =>
      polar(231 + i * 0.6 + Math.sin(s / 40 + drift) + 0.1 * gauss(random), angle),
    ) as Three;
    const started = flips.findLast((f) => f <= s);
    const surge = started !== undefined && s - started < 1 + (load.inrush > 1 ? 1 : 0) ? load.inrush : 1;
    const real = loadOnOther
      ? [otherLine]
      : condition === 'wrong-phase' && !wrongTap
        ? [wrongLine]
        : load.lines;
    if (runs(s))
      real.forEach((line, k) => {
        const volts = size(row.u[line] as Complex);
        const part = watts * (loadOnOther ? 1 : (load.shares[k] ?? 1));
        const amperes = kind === 'heater' ? (part / 230) * (volts / 230) : part / volts / factor;
        const angle = [0, -120, 120][line] as number;
        row.own[line] = polar(amperes * surge, angle - lag);
      });
    for (let line = 0; line < 3; line++) row.all[line] = { ...(row.own[line] as Complex) };
    for (const thing of site) {
      const on = thing.flips.filter((f) => f <= s).length % 2 === (thing.on ? 0 : 1);
      if (!on) continue;
      const amperes = thing.watts / 230 / Math.cos((thing.lag / 180) * Math.PI);
      row.all[thing.line] = plus(
        row.all[thing.line] as Complex,
        polar(amperes, ([0, -120, 120][thing.line] as number) - thing.lag),
      );
    }
    const otherAmperes = hasOther && otherRuns(s) ? otherWatts / 230 : 0.02;
    row.all[otherLine] = plus(
      row.all[otherLine] as Complex,
      polar(otherAmperes, [0, -120, 120][otherLine] as number),
    );
    row.other = plus(
      polar(otherAmperes, [0, -120, 120][otherLine] as number),
      loadOnOther ? (row.own[otherLine] as Complex) : { re: 0, im: 0 },
    );
  });

  const read = (value: number, step: number) =>
    Math.round((value * (1 + noise * gauss(random)) + step * gauss(random) * 0.6) / step) * step;
  const times_ = rows.map((_, s) => s).filter((s) => s % pace === 0);
  const held: Partial<Record<string, number>> = {};
  const stuckFrom = 20;
  const trace = (key: string, of: (s: number) => number, step: number, sticks = true) => ({
    t: times_.map((s) => START + s * 1000 + 140),
    v: times_.map((s) => {
      if (condition === 'stuck' && sticks && s >= stuckFrom && held[key] !== undefined)
        return held[key] as number;
      const value = read(of(s), step);
      held[key] = value === 0 ? step * 40 : value;
      return condition === 'stuck' && sticks && s >= stuckFrom ? (held[key] as number) : value;
    }),
  });

  // What each clamp has in its jaws, and which voltage it is multiplied with.
  const jaws = (k: number, s: number): Complex => {
    const row = rows[s] as (typeof rows)[number];
    let line = label[k] as number;
    if (condition === 'swapped') line = swap[k] as number;
    if (condition === 'wrong-phase' && !wrongTap) line = wrongLine;
    if (condition === 'other-circuit' && !loadOnOther) return times(row.other, gain);
    if (loadOnOther) return { re: 0.005, im: 0 };
    let current = row.own[line] as Complex;
    if (condition === 'reversed' && turnedClamps.includes(k)) current = times(current, -1);
    if (condition === 'both-conductors' && (label.length === 1 || k === clampIndex))
      current = times(current, 0.002);
    if (condition === 'bypassed') current = times(current, share);
    const scaled = times(current, gain * ratio);
    const now = size(scaled);
    return condition === 'clipped' && now > range ? times(scaled, range / now) : scaled;
  };
  /** A transducer at its end gives the same value to the digit. */
  const cutOff = (value: number): number =>
    condition === 'clipped' && value > range * 0.995 ? Math.round(range / resolution) * resolution : value;
  const tapOf = (k: number): number => {
    const line = label[k] as number;
    return condition === 'wrong-phase' && wrongTap ? wrongLine : line;
  };
  const channels = label.map((line, k): Channel => {
    const u = (s: number) => (rows[s] as (typeof rows)[number]).u[tapOf(k)] as Complex;
    const current = trace(`i${k}`, (s) => size(jaws(k, s)), resolution);
    return {
      line: NAMES[line] as Line,
      voltage: measuresPower ? trace(`u${k}`, (s) => size(u(s)), 0.1, false) : null,
      current: { t: current.t, v: current.v.map(cutOff) },
      power: measuresPower ? trace(`p${k}`, (s) => product(u(s), jaws(k, s)).re, 1) : null,
      reactive: measuresReactive ? trace(`q${k}`, (s) => product(u(s), jaws(k, s)).im, 1) : null,
    };
  });
  const own: Metered = { id: 1, name: 'Circuit', channels, total: null, counter: null };

  const seconds = rows.map((_, s) => s);
  const aboveTrace = (of: (s: number) => number, step: number) => ({
    t: seconds.map((s) => START + s * 1000 + 420),
    v: seconds.map((s) => Math.round((of(s) * (1 + 0.001 * gauss(random))) / step) * step),
  });
  const row = (s: number) => rows[s] as (typeof rows)[number];
  const above: Metered | null =
    aboveKind === 'none'
      ? null
      : {
          id: 2,
          name: 'Main meter',
          channels:
            aboveKind === 'total'
              ? []
              : [0, 1, 2].map((line) => ({
                  line: NAMES[line] as Line,
                  voltage: aboveTrace((s) => size(row(s).u[line] as Complex), 0.1),
                  current: aboveTrace((s) => size(row(s).all[line] as Complex), 0.001),
                  power: aboveTrace(
                    (s) => product(row(s).u[line] as Complex, row(s).all[line] as Complex).re,
                    1,
                  ),
                  reactive: null,
                })),
          total: aboveTrace(
            (s) =>
              [0, 1, 2].reduce(
                (sum, line) => sum + product(row(s).u[line] as Complex, row(s).all[line] as Complex).re,
                0,
              ),
            1,
          ),
          counter: null,
        };
  const others: Metered[] = hasOther
    ? [
        {
          id: 3,
          name: 'Other circuit',
          channels: [
            {
              line: NAMES[otherLine] as Line,
              voltage: null,
              current: aboveTrace((s) => size(row(s).other), 0.01),
              power: aboveTrace((s) => product(row(s).u[otherLine] as Complex, row(s).other).re, 1),
              reactive: null,
            },
          ],
          total: null,
          counter: null,
        },
      ]
    : [];
  const switchings: Switching[] = asked
    ? flips.map((s, i) => ({
        t: START + s * 1000 - 200 - Math.floor(random() * 1500),
        on: i % 2 === 0,
        load: load.plate,
      }))
    : [];
  const look: Look = {
    circuit: {
      name: 'Circuit',
      lines: label.map((l) => NAMES[l] as Line),
      system: 'three-phase',
      nominalVoltage: 230,
      frequency: 50,
      ratedCurrent: Math.max(6, Math.ceil(perLine * 1.3)),
      feedsIn: false,
      reach,
      range: knowsRange ? range : null,
      loads: [load.plate],
    },
    own,
    above,
    others,
    below: [],
    beside: [],
    switchings,
    offSpans: [],
    frequency: aboveTrace(() => 50, 0.01),
  };

  // What the readings can tell, by the physics of the case.
  const byLines = aboveKind === 'lines';
  const anyAbove = aboveKind !== 'none';
  const resistive = load.plate.powerFactor === 1;
  // Without the sign of the angle a clamp that is turned round (180° − φ) reads like one on the next phase (120° + φ) where
  // φ is near 30°.
  const apart = Math.abs(60 - 2 * Math.abs(lag)) > 20;
  const lagKnown = resistive || (measuresReactive && knowsFactor) || ((byLines || knowsFactor) && apart);
  // A load that nobody asked for may be another one, unless its plate or the meter above says that it is this one.
  const itsLoad = asked || byLines || knowsWatts;
  const angle = measuresPower && lagKnown && itsLoad;
  const readAmperes = perLine * ratio;
  const fine = range > 250 * resolution;
  const tellable = {
    healthy: true,
    reversed: angle,
    swapped: angle,
    'wrong-phase': wrongTap ? angle : byLines,
    'both-conductors': asked && anyAbove && (label.length === 1 || byLines),
    // A share of just a tenth reads like a slipped decimal.
    bypassed: asked && anyAbove && reach !== null && Math.abs(share / 0.1 - 1) > 0.1,
    'other-circuit': asked && anyAbove,
    'wrong-ratio': readAmperes > 0.3 && (anyAbove || (asked && knowsWatts && (resistive || knowsFactor))),
    stuck: asked && (anyAbove || knowsWatts),
    clipped: fine && (knowsRange || (asked && (byLines || (knowsWatts && resistive && !anyAbove)))),
  }[condition];
  return {
    condition,
    tellable,
    look,
    about: `${kind} ${Math.round(watts)} W on ${look.circuit.lines.join(' ')}, above ${aboveKind}, ${asked ? 'asked' : 'by itself'}, ${measuresPower ? (measuresReactive ? 'P and Q' : 'P') : 'I only'}${knowsWatts ? ', W known' : ''}${knowsFactor ? ', PF known' : ''}, reach ${reach}, ratio ${ratio.toFixed(2)}, share ${share.toFixed(2)}${condition === 'wrong-phase' ? (wrongTap ? ', tap' : ', conductor') : ''}${condition === 'other-circuit' ? (loadOnOther ? ', load elsewhere' : ', clamp elsewhere') : ''}`,
  };
}
