/** A line conductor. */
export type Line = 'L1' | 'L2' | 'L3';
export const LINES: readonly Line[] = ['L1', 'L2', 'L3'];

/** How the lines of a supply stand to one another: three of them 120° apart, or two halves of a winding, 180° apart. */
export const SUPPLY_SYSTEMS = ['three-phase', 'split-phase'] as const;
export type SupplySystem = (typeof SUPPLY_SYSTEMS)[number];

/** The line conductors that a supply has. */
export const linesIn = (system: SupplySystem): readonly Line[] =>
  system === 'split-phase' ? ['L1', 'L2'] : LINES;

const THREE: Readonly<Record<Line, number>> = { L1: 0, L2: -120, L3: 120 };
const SPLIT: Readonly<Record<Line, number>> = { L1: 0, L2: 180, L3: NaN };

/**
 * Angle of a line's voltage against neutral, degrees: in positive sequence L1 first, then L2, then L3 (IEC 60034-8,
 * IEC 60445); of a split-phase supply the two are opposite.
 */
export const voltageAngles = (system: SupplySystem): Readonly<Record<Line, number>> =>
  system === 'split-phase' ? SPLIT : THREE;

/** The voltage between two lines over that of one against neutral: |e^(jα) − e^(jβ)|, √3 or 2. */
export const betweenLines = (system: SupplySystem): number => (system === 'split-phase' ? 2 : Math.sqrt(3));

/** The line conductors of a circuit; two of them have their load between them. */
export const CIRCUIT_PHASES = ['L1', 'L2', 'L3', 'L1 L2', 'L2 L3', 'L1 L3', 'L1 L2 L3'] as const;
export type CircuitPhases = (typeof CIRCUIT_PHASES)[number];

/** The conductors that a circuit of this supply may have. */
export const phasesIn = (system: SupplySystem): readonly CircuitPhases[] =>
  CIRCUIT_PHASES.filter((p) => p.split(' ').every((line) => linesIn(system).includes(line as Line)));

/** The conductors of the whole supply. */
export const allPhasesOf = (system: SupplySystem): CircuitPhases =>
  system === 'split-phase' ? 'L1 L2' : 'L1 L2 L3';

/**
 * By what all line currents together, times the voltage against neutral, are more than the apparent power of the load:
 * 1, except for a load between two lines of three, whose current is 2/√3 of it in both together (both carry
 * I = S/(√3·U), and 2·U·I = 2/√3·S).
 */
export const sumFactor = (lines: number, system: SupplySystem): number =>
  lines === 2 ? 2 / betweenLines(system) : 1;

/** A in each line of a load by its plate. @param volts V against neutral */
export const lineAmperes = (
  { watts, powerFactor }: { watts: number; powerFactor: number },
  lines: number,
  volts: number,
  system: SupplySystem,
): number => (watts / powerFactor / volts / lines) * sumFactor(lines, system);

/**
 * How much more the current of a load between two lines of three lags in each of them than its own lag, degrees: the
 * voltage between the lines stands 30° before that of the first and after that of the second. 0 for all others.
 */
export function extraLag(line: Line, lines: readonly Line[], system: SupplySystem): number {
  if (lines.length !== 2 || system === 'split-phase') return 0;
  const [a, b] = lines as [Line, Line];
  const angles = voltageAngles(system);
  // Which of the two comes first in the order of the phases: b comes after a when it is 120° behind.
  const [first] = (angles[a] - angles[b] + 360) % 360 === 120 ? [a] : [b];
  return line === first ? -30 : 30;
}
