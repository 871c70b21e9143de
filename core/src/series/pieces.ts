import { bendAfter, IDENTITY, type Line } from './line.js';

/** A straight line that holds from an instant on, until the next one. */
export interface LineFrom extends Line {
  validFrom: number;
}

/** The line in force at t: the last one that has begun; {@link IDENTITY} before the first. @param lines by `validFrom`, ascending */
export function lineAt(lines: readonly LineFrom[], t: number): Line {
  let low = 0;
  let high = lines.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((lines[middle] as LineFrom).validFrom <= t) low = middle + 1;
    else high = middle;
  }
  return low === 0 ? IDENTITY : (lines[low - 1] as LineFrom);
}

/** Two stages one after the other as one: `then(first(raw))`, each with its own versions in time; the first is straight. */
export function chainLines(first: readonly LineFrom[], then: readonly LineFrom[]): LineFrom[] {
  if (first.length === 0) return [...then];
  if (then.length === 0) return [...first];
  const starts = [...new Set([...first, ...then].map((l) => l.validFrom))].sort((a, b) => a - b);
  return starts.map((validFrom) => {
    const [a, b] = [lineAt(first, validFrom), lineAt(then, validFrom)];
    const knots = bendAfter(a, b);
    return {
      validFrom,
      gain: b.gain * a.gain,
      offset: b.gain * a.offset + b.offset,
      ...(knots && { knots }),
      ...(b.noLoad && { noLoad: b.noLoad }),
    };
  });
}

/** The instants in (from, to) at which a line gives way to another. */
export const changesWithin = (lines: readonly LineFrom[], from: number, to: number): number[] =>
  lines.map((l) => l.validFrom).filter((t) => t > from && t < to);
