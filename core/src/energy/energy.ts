import type { Counts, Slots } from '../series/index.js';

/** Milliseconds in an hour. */
const HOUR = 3_600_000;

/** Energy in Wh of a mean power in W over the covered milliseconds. */
export const energyOfMean = (meanWatts: number, coveredMs: number): number => (meanWatts * coveredMs) / HOUR;

/**
 * Energy over a span. Three things are kept apart: what came in, what went out, and the difference. What is not covered
 * is left out, and said by the coverage.
 */
export interface Energy {
  /** Wh, not negative; null where nothing tells. */
  import: number | null;
  /** Wh, not negative; null where nothing tells. */
  export: number | null;
  /** Import less export, Wh. */
  net: number | null;
  /** Milliseconds for which it is known. */
  covered: number;
  /** Part of import and export together that is spread or counted by estimate, Wh. */
  estimated: number;
}

/** Nothing is known. */
export const NO_ENERGY: Energy = { import: null, export: null, net: null, covered: 0, estimated: 0 };

const plus = (a: number | null, b: number | null): number | null => (a === null ? b : b === null ? a : a + b);

/**
 * Two energies as one. `later`: of two stretches of one point, what is known of both is added up. `beside`: of two
 * conductors at the same time, the sum is known as long as both are.
 */
export function addEnergy(a: Energy, b: Energy, how: 'later' | 'beside'): Energy {
  if (how === 'beside' && (a.net === null || b.net === null)) return NO_ENERGY;
  return {
    import: plus(a.import, b.import),
    export: plus(a.export, b.export),
    net: plus(a.net, b.net),
    covered: how === 'later' ? a.covered + b.covered : Math.min(a.covered, b.covered),
    estimated: a.estimated + b.estimated,
  };
}

/**
 * What counters of the two directions say together. A count below zero, which a reversed transducer makes when it is set
 * right, belongs to the other direction. Without a counter of what flows out, that is not known, and the net is what
 * came in.
 */
export function energyShare(incoming: Energy | null, outgoing: Energy | null): Energy {
  const [into, out] = [incoming?.net ?? null, outgoing?.net ?? null];
  if (into === null && out === null) return NO_ENERGY;
  const known = [incoming, outgoing].filter((e): e is Energy => e !== null && e.net !== null);
  const back = Math.max(0, -(into ?? 0));
  const forth = Math.max(0, -(out ?? 0));
  const imported = into === null && forth === 0 ? null : Math.max(0, into ?? 0) + forth;
  const exported = out === null && back === 0 ? null : Math.max(0, out ?? 0) + back;
  return {
    import: imported,
    export: exported,
    net: (into ?? 0) - (out ?? 0),
    covered: Math.min(...known.map((e) => e.covered)),
    estimated: known.reduce((sum, e) => sum + e.estimated, 0),
  };
}

/** Sums slots into the parts between borders. A slot belongs to the part in which it begins. @param borders ascending */
export function sumByPart(
  slots: Pick<Slots | Counts, 'start' | 'step' | 'length'>,
  borders: readonly number[],
  add: (part: number, i: number) => void,
): void {
  let part = 0;
  for (let i = 0; i < slots.length; i++) {
    const t = slots.start + i * slots.step;
    while (part < borders.length - 1 && (borders[part + 1] as number) <= t) part++;
    if (part >= borders.length - 1) return;
    if (t >= (borders[part] as number)) add(part, i);
  }
}

/** Energy of a power from its slots, part by part. A slot belongs to the part in which it begins. @param borders ascending */
export function energyOfSlots(slots: Slots, borders: readonly number[]): Energy[] {
  const { start, step, length, plus, minus, covered } = slots;
  return borders.slice(1).map((end, part) => {
    const from = borders[part] as number;
    let [into, out, known] = [0, 0, 0];
    const last = Math.min(length, Math.ceil((end - start) / step));
    for (let i = Math.max(0, Math.ceil((from - start) / step)); i < last; i++) {
      const ms = covered[i] as number;
      into += (plus[i] as number) * ms;
      out += (minus[i] as number) * ms;
      known += ms;
    }
    if (known === 0) return NO_ENERGY;
    return {
      import: into / HOUR,
      export: out / HOUR,
      net: (into - out) / HOUR,
      covered: known,
      estimated: 0,
    };
  });
}
