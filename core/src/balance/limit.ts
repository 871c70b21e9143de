/** What is known of how right a meter is. */
export interface MeterEvidence {
  /** Expanded relative uncertainty of its calibration, 95 %; null without one. */
  calibrated: number | null;
  /** Class of its transducer, per cent of the reading at its rating (IEC 61869-2). */
  accuracyClass: string | null;
  /** Whether its voltage is assumed, not measured. */
  assumedVoltage: boolean;
}

/** Within how much a reading is taken to be right, and why. */
export interface Limit {
  /** Of the reading, 95 %. */
  relative: number;
  why: string;
}

/** What is left after a calibration at other loads, temperatures and times (trade). */
const AFTER_CALIBRATION = 0.005;
/** A meter of which nothing is known (trade). */
const UNKNOWN = 0.03;
/** A supply's voltage lies within ±10 % of its nominal value (EN 50160). */
const VOLTAGE = 0.1;
/** What the meter itself adds to its transducer: class 1 of IEC 62053-21. */
const METER = 0.01;

/** Limits of a meter by what is known of it. */
export function limitOf({ calibrated, accuracyClass, assumedVoltage }: MeterEvidence): Limit {
  const own = ((): Limit => {
    if (calibrated !== null)
      return { relative: Math.hypot(calibrated, AFTER_CALIBRATION), why: 'calibrated' };
    if (accuracyClass !== null) {
      const share = Number.parseFloat(accuracyClass) / 100;
      return {
        relative: Math.hypot(share, METER),
        why: `transducer of class ${accuracyClass}, not calibrated`,
      };
    }
    return { relative: UNKNOWN, why: 'not calibrated' };
  })();
  return assumedVoltage
    ? { relative: Math.hypot(own.relative, VOLTAGE), why: `${own.why}, voltage assumed` }
    : own;
}
