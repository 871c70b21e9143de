import { mean, quantileSorted } from 'd3-array';
import { knownMs, type PowerSpans } from './powerSpans.js';

/** A single-phase circuit on one of the lines: 0 is L1. */
export interface LineCircuit {
  line: number;
  power: PowerSpans;
}

export interface LineLoad {
  /** W: mean, what is not passed 95 % of the time, and the highest mean of a span. */
  mean: number;
  p95: number;
  highest: { watts: number; at: number };
}

/** How far the lines differ. */
export interface Unevenness {
  /** A in the neutral: mean, and what is not passed 95 % of the time. */
  neutralMean: number;
  neutralP95: number;
  /** What the busiest line takes, W: not passed 95 % of the time, and at most. */
  busiestP95: number;
  busiest: number;
}

/** A circuit put on another line, and what would come of it. */
export interface Move extends Unevenness {
  /** By its place in the list. */
  circuit: number;
  from: number;
  to: number;
}

export interface Phases {
  /** ms. */
  known: number;
  lines: LineLoad[];
  now: Unevenness;
  /** The single moves that lower the mean of the neutral most, the best first; those that lower it by less than a twentieth are none. */
  moves: Move[];
}

const WORTH = 0.95;
const MOST_MOVES = 3;

/**
 * How the load of three lines differs over a time, and what moving one single-phase circuit would do. All of it from active power,
 * as if each line had its nominal voltage and the same power factor, without harmonics: the neutral carries what is left of three
 * currents a third of a turn apart, √(a² + b² + c² − ab − bc − ca). What flows back counts against what is taken.
 * @param lines power of L1, L2 and L3 over the same spans
 * @param circuits over the same spans; where one is not known it is taken not to change anything
 * @param nominal V, line to neutral
 * @returns null where the three are never known together
 */
export function phasesOf(
  lines: readonly [PowerSpans, PowerSpans, PowerSpans],
  circuits: readonly LineCircuit[],
  nominal: number,
): Phases | null {
  const { start, step, length } = lines[0];
  const known = Array.from({ length }, (_, i) => i).filter((i) =>
    lines.every((l) => !Number.isNaN(l.mean[i])),
  );
  if (known.length === 0) return null;
  const power = lines.map((l) => Float64Array.from(known, (i) => l.mean[i] as number));
  const now = unevenness(power, nominal);
  const moves = circuits
    .map(({ power: own }) =>
      Float64Array.from(known, (i) => (Number.isNaN(own.mean[i]) ? 0 : (own.mean[i] as number))),
    )
    .flatMap((own, circuit) => {
      const from = (circuits[circuit] as LineCircuit).line;
      return [0, 1, 2]
        .filter((to) => to !== from)
        .map((to): Move => {
          const moved = power.map((watts, line) =>
            line === from
              ? watts.map((w, k) => w - (own[k] as number))
              : line === to
                ? watts.map((w, k) => w + (own[k] as number))
                : watts,
          );
          return { circuit, from, to, ...unevenness(moved, nominal) };
        });
    })
    .filter((m) => m.neutralMean < WORTH * now.neutralMean)
    .sort((a, b) => a.neutralMean - b.neutralMean)
    .slice(0, MOST_MOVES);
  return {
    known: knownMs({ ...lines[0], mean: Float64Array.from(known, () => 0), length: known.length }),
    lines: power.map((watts) => {
      const top = watts.reduce((best, w, k) => (w > (watts[best] as number) ? k : best), 0);
      return {
        mean: mean(watts) as number,
        p95: quantile95(watts),
        highest: { watts: watts[top] as number, at: start + (known[top] as number) * step },
      };
    }),
    now,
    moves,
  };
}

function unevenness([a, b, c]: readonly Float64Array[], nominal: number): Unevenness {
  const [x, y, z] = [a, b, c] as [Float64Array, Float64Array, Float64Array];
  const neutral = new Float64Array(x.length);
  const busy = new Float64Array(x.length);
  for (let i = 0; i < x.length; i++) {
    const [p, q, r] = [x[i] as number, y[i] as number, z[i] as number];
    // Rounding may leave a little less than nothing.
    neutral[i] = Math.sqrt(Math.max(0, p * p + q * q + r * r - p * q - q * r - r * p)) / nominal;
    busy[i] = Math.max(Math.abs(p), Math.abs(q), Math.abs(r));
  }
  return {
    neutralMean: mean(neutral) as number,
    neutralP95: quantile95(neutral),
    busiestP95: quantile95(busy),
    busiest: busy.reduce((most, w) => Math.max(most, w), 0),
  };
}

const quantile95 = (values: Float64Array): number =>
  quantileSorted(Array.from(values.slice().sort()), 0.95) as number;
