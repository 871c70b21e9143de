import { voltageAngles, type Line, type SupplySystem } from '../installation/system.js';

export { LINES, type Line } from '../installation/system.js';

/** What is read of one line conductor: means over the same seconds. */
export interface LineReading {
  /** The conductor that the reading is said to be of. */
  line: Line;
  /** V against neutral. */
  volts: number;
  /** A, a magnitude. */
  amperes: number;
  /** W; null where only the current is measured. */
  watts: number | null;
  /** var, positive where the current lags; null where it is not measured. */
  vars: number | null;
}

/** How far a current lags its voltage, degrees; the sign is open where only power and current are known. */
export interface Lag {
  degrees: number;
  signed: boolean;
}

const DEGREES = 180 / Math.PI;

/** An angle between −180° (left out) and 180°. */
export function wrapAngle(degrees: number): number {
  const turned = ((degrees % 360) + 540) % 360;
  return turned === 0 ? 180 : turned - 180;
}

/**
 * By how much the current lags the voltage that it is multiplied with: atan2(Q, P) where reactive power is measured, else
 * acos(P / (U·I)) without its sign (IEEE 1459, 3.1.1). Null where there is no power, or too little to tell.
 */
export function lagOf({ volts, amperes, watts, vars }: LineReading): Lag | null {
  const apparent = volts * amperes;
  if (watts === null || !(apparent > 0)) return null;
  if (vars !== null && Math.hypot(watts, vars) > 0)
    return { degrees: Math.atan2(vars, watts) * DEGREES, signed: true };
  return { degrees: Math.acos(Math.max(-1, Math.min(1, watts / apparent))) * DEGREES, signed: false };
}

/** A phasor as it is drawn: its length in the unit of its kind, and its angle in degrees, L1's voltage upright at 0. */
export interface Phasor {
  line: Line;
  volts: number;
  voltageAngle: number;
  amperes: number;
  /** Null where it cannot be known. */
  currentAngle: number | null;
  /** Without the sign of the lag the current may lie at either side of its voltage; drawn lagging. */
  mirrored: boolean;
}

/** Where each clamp is taken to be: which conductor, and whether it is turned round. */
export interface Placed {
  on: readonly Line[];
  turned: readonly boolean[];
}

/**
 * The phasors of a circuit as its meter sees them.
 * @param placed where the clamps are taken to be: tells on which side of its voltage a current lies whose sign is not read
 */
export function phasorsOf(
  readings: readonly LineReading[],
  placed?: Placed,
  system: SupplySystem = 'three-phase',
): Phasor[] {
  const angles = voltageAngles(system);
  return readings.map((reading, i) => {
    const lag = lagOf(reading);
    const voltageAngle = angles[reading.line];
    const degrees =
      lag === null || lag.signed || !placed
        ? lag?.degrees
        : onItsSide(lag.degrees, reading.line, placed, i, angles);
    return {
      line: reading.line,
      volts: reading.volts,
      voltageAngle,
      amperes: reading.amperes,
      currentAngle: degrees === undefined ? null : wrapAngle(voltageAngle - degrees),
      mirrored: lag !== null && !lag.signed,
    };
  });
}

/** The lag with the sign that lies nearer to what a clamp at its place would read of a heater. */
function onItsSide(
  lag: number,
  label: Line,
  { on, turned }: Placed,
  i: number,
  angles: Readonly<Record<Line, number>>,
): number {
  const would = angles[label] - angles[on[i] as Line] + (turned[i] ? 180 : 0);
  return Math.abs(wrapAngle(lag - would)) <= Math.abs(wrapAngle(-lag - would)) ? lag : -lag;
}

/**
 * Current in the neutral, A: the sum of the line currents as phasors (Kirchhoff). Null where an angle is not known.
 */
export function neutralCurrent(phasors: readonly Phasor[]): number | null {
  let [x, y] = [0, 0];
  for (const { amperes, currentAngle } of phasors) {
    if (currentAngle === null) return null;
    x += amperes * Math.cos(currentAngle / DEGREES);
    y += amperes * Math.sin(currentAngle / DEGREES);
  }
  return Math.hypot(x, y);
}

/** The phasors as they would be read once each clamp is on its own conductor, arrow to the load: a way taken back. */
export function phasorsOnceRight(
  readings: readonly LineReading[],
  way: Placed,
  system: SupplySystem = 'three-phase',
): Phasor[] {
  const read = phasorsOf(readings, way, system);
  const right = readings.map((_, i): Phasor => {
    const [line, phasor] = [way.on[i] as Line, read[i] as Phasor];
    const turned = way.turned[i] ? 180 : 0;
    return {
      ...phasor,
      line,
      volts: read.find((p) => p.line === line)?.volts ?? phasor.volts,
      voltageAngle: voltageAngles(system)[line],
      currentAngle: phasor.currentAngle === null ? null : wrapAngle(phasor.currentAngle + turned),
    };
  });
  return right.sort((a, b) => a.line.localeCompare(b.line));
}
