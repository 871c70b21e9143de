/** Energy of equal, short parts of a period, Wh each: quarter-hours, as a rule. */
export interface SelfUseParts {
  /** From the supply, and back to it. */
  import: ArrayLike<number>;
  export: ArrayLike<number>;
  /** What own sources (a roof) generated. */
  generated: ArrayLike<number>;
  /** Into storage, and out of it. */
  charged: ArrayLike<number>;
  discharged: ArrayLike<number>;
}

export interface SelfUse {
  /** Wh that own sources generated. */
  generated: number;
  /** Wh of it that did not go to the supply in the part in which it was generated. */
  stayed: number;
  /** Wh that everything on the site used, storage apart: import + generated + discharged − export − charged. */
  used: number;
  /** Wh of it that did not come from the supply. */
  own: number;
  /** stayed / generated, null without any. */
  selfUse: number | null;
  /** own / used, null without any. */
  selfSufficiency: number | null;
  /** Parts in which something was not known; they are left out. */
  unknown: number;
}

/**
 * Self-use and self-sufficiency over a period: the share of what a site generates that stays, and the share of what it uses
 * that it does not take from the supply. Part by part what went back to the supply is counted against own
 * generation as far as there was any, the rest against storage; and what came from the supply against use as far as there was any, the rest went into storage.
 * As Luthander et al., “Photovoltaic self-consumption in buildings: A review”, Applied Energy 142 (2015), equations 1 to 5: φSC = ∫M/∫P, φSS = ∫M/∫L with M
 * what of generation and storage meets the load (recalled from memory).
 * NaN in a part is not known.
 */
export function selfUseOf(parts: SelfUseParts): SelfUse {
  let [generated, stayed, used, own, unknown] = [0, 0, 0, 0, 0];
  for (let i = 0; i < parts.import.length; i++) {
    const [into, out, made, charged, discharged] = [
      parts.import[i] as number,
      parts.export[i] as number,
      parts.generated[i] as number,
      parts.charged[i] as number,
      parts.discharged[i] as number,
    ];
    const load = into + made + discharged - out - charged;
    if (Number.isNaN(load)) {
      unknown++;
      continue;
    }
    generated += made;
    stayed += made - Math.min(made, out);
    // Meters that do not agree to the last watt-hour must not make a use below zero.
    const use = Math.max(0, load);
    used += use;
    own += use - Math.min(use, into);
  }
  return {
    generated,
    stayed,
    used,
    own,
    unknown,
    selfUse: generated > 0 ? stayed / generated : null,
    selfSufficiency: used > 0 ? own / used : null,
  };
}

/** A storage over a period. */
export interface StorageUse {
  charged: number;
  discharged: number;
  /** Full cycles: what was discharged over what it holds; null where that is not known. */
  cycles: number | null;
  /** What comes out of what went in, with what it holds more or less at the end taken into account; null where that cannot be told. */
  efficiency: number | null;
}

/**
 * Cycles and efficiency of a storage over a period: η = discharged / (charged − change of what is held). Over less than
 * half a cycle, or without the state of charge, the efficiency is not told: what is still held would decide it.
 * @param capacity Wh, null where not known
 * @param held state of charge at the start and at the end, 0–1; null where not known
 */
export function storageUse(
  charged: number,
  discharged: number,
  capacity: number | null,
  held: readonly [number, number] | null,
): StorageUse {
  const cycles = capacity !== null && capacity > 0 ? discharged / capacity : null;
  const gained = capacity !== null && held !== null ? (held[1] - held[0]) * capacity : null;
  const spent = gained === null ? null : charged - gained;
  const telling = cycles !== null && cycles >= 0.5 && spent !== null && spent > 0;
  return { charged, discharged, cycles, efficiency: telling ? discharged / (spent as number) : null };
}
