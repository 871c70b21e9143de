import { MINUTE, QUARTER, spanEnd, spanStart } from '@loka/core/series';

/** The parts of a period that are read in different ways. */
export interface PeriodParts {
  /** The stretch before the first full minute, and the one after the last. */
  edges: [from: number, to: number][];
  minutes: [from: number, to: number][];
  quarters: [from: number, to: number];
}

/** How a period is made of full quarter-hours, full minutes beside them, and what is left at both ends. */
export function partsOf(from: number, to: number, longest = QUARTER): PeriodParts {
  const first = spanEnd(from, MINUTE);
  const last = spanStart(to, MINUTE);
  if (first > last) return { edges: [[from, to]], minutes: [], quarters: [0, 0] };
  const edges = [
    [from, first],
    [last, to],
  ].filter((e): e is [number, number] => (e[1] as number) > (e[0] as number));
  const [a, b] = [spanEnd(first, QUARTER), spanStart(last, QUARTER)];
  if (a >= b || longest < QUARTER)
    return { edges, minutes: last > first ? [[first, last]] : [], quarters: [0, 0] };
  const minutes = [
    [first, a],
    [b, last],
  ].filter((m): m is [number, number] => (m[1] as number) > (m[0] as number));
  return { edges, minutes, quarters: [a, b] };
}
