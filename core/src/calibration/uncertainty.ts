import { correctionUncertainty, coverageOf, type Fit } from './fit.js';

/** A point at which a calibration was made, base units: what was read, how it scattered, what the reference said. */
export interface EvidencePoint {
  mean: number;
  deviation: number;
  count: number;
  reference: number;
}

/** What a calibration depends on. */
export interface Evidence {
  gain: number;
  offset: number;
  points: readonly EvidencePoint[];
  /** How certain it is; missing of one that was made before that was computed. */
  fit?: Fit | null;
}

/** Tolerance of a reference of which nothing is said: a good handheld clamp meter's (common practice). */
const REFERENCE_TOLERANCE = 0.015;
/** Tolerance of a clamp and its meter as they come out of the box, mounted by hand (common practice). */
export const UNCALIBRATED_TOLERANCE = 0.05;

/**
 * Expanded uncertainty of a reading, about 95 % (k = 2, or Student's t with few degrees of freedom) (JCGM 100:2008, 4.3.7 for a rectangular distribution, 5.1.2 for the
 * sum of squares, 6.2.1 for the factor), base unit. Parts: the reading's own step; without a calibration the tolerance of an
 * uncalibrated clamp; with one what its fit is uncertain by. Of a calibration of which that is not known: the reference's
 * tolerance, the scatter of the capture nearest to the value, and what the fit leaves over.
 * @param step smallest change of the reading; 0 where it has none
 */
export function readingUncertainty(value: number, step: number, evidence: Evidence | null): number {
  const size = Math.abs(value);
  const parts = [step / Math.sqrt(12)];
  const fit = evidence?.fit;
  if (evidence === null) parts.push((UNCALIBRATED_TOLERANCE * size) / Math.sqrt(3));
  else if (fit) {
    parts.push(correctionUncertainty(fit, (value - fit.offset) / fit.gain));
    // A zero alone says nothing about the gain.
    if (fit.method === 'offset') parts.push((UNCALIBRATED_TOLERANCE * size) / Math.sqrt(3));
    return coverageOf(fit) * Math.hypot(...parts);
  } else {
    const { gain, points } = evidence;
    parts.push((REFERENCE_TOLERANCE * size) / Math.sqrt(3), left(evidence));
    const [nearest] = [...points].sort((a, b) => Math.abs(a.reference - size) - Math.abs(b.reference - size));
    if (nearest) parts.push((gain * nearest.deviation) / Math.sqrt(Math.max(1, nearest.count)));
  }
  return 2 * Math.hypot(...parts);
}

/** Standard deviation of what a straight line leaves over at its points; nothing is left by construction at two. */
function left({ gain, offset, points }: Evidence): number {
  if (points.length < 3) return 0;
  const squares = points.map(({ mean, reference }) => (reference - (gain * mean + offset)) ** 2);
  return Math.sqrt(squares.reduce((a, b) => a + b, 0) / (points.length - 2));
}
