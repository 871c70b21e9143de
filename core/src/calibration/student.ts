/**
 * Two-sided 95 % quantiles of Student's t by degrees of freedom (JCGM 100:2008, table G.2, for the fraction 95 %). Between two
 * lines the smaller number of degrees holds, which is on the safe side.
 */
const T95: readonly (readonly [degrees: number, t: number])[] = [
  [1, 12.71],
  [2, 4.3],
  [3, 3.18],
  [4, 2.78],
  [5, 2.57],
  [6, 2.45],
  [7, 2.36],
  [8, 2.31],
  [9, 2.26],
  [10, 2.23],
  [11, 2.2],
  [12, 2.18],
  [13, 2.16],
  [14, 2.14],
  [15, 2.13],
  [16, 2.12],
  [17, 2.11],
  [18, 2.1],
  [19, 2.09],
  [20, 2.09],
  [25, 2.06],
  [30, 2.04],
  [35, 2.03],
  [40, 2.02],
  [50, 2.01],
  [100, 1.984],
];
const NORMAL = 1.96;

/** Coverage factor for 95 % with so many degrees of freedom; 12.71 with fewer than two, 1.96 without end. */
export function coverageFactor(degrees: number): number {
  if (degrees === Infinity) return NORMAL;
  const line = T95.findLast(([from]) => from <= degrees) ?? T95[0];
  return (line as (typeof T95)[number])[1];
}

/** A part of an uncertainty: a standard uncertainty, and how many degrees of freedom it is known with. */
export interface Part {
  u: number;
  degrees: number;
}

/** Effective degrees of freedom of a sum of independent parts (Welch and Satterthwaite; JCGM 100:2008, G.4.1). */
export function effectiveDegrees(parts: readonly Part[]): number {
  const variance = parts.reduce((sum, { u }) => sum + u ** 2, 0);
  const weighed = parts.reduce((sum, { u, degrees }) => sum + u ** 4 / degrees, 0);
  return weighed === 0 ? Infinity : variance ** 2 / weighed;
}
