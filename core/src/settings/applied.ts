import type { Sensing } from '../sensing/index.js';
import type { SettingRole } from './role.js';

/** A setting as it was read. */
export interface SettingRead {
  role: SettingRole;
  value: number;
}

/** Ratios are the same within this share: those that are printed differ by far more. */
const SAME_RATIO = 0.01;
/** A gain this near 1 corrects nothing. */
const NO_GAIN = 0.002;
/** Two gains are the same correction when they differ by less than this share of it. */
const SAME_GAIN = 0.25;
/** Secondary currents for which transformers are made, A (IEC 61869-2: 1 A and 5 A). */
const LARGEST_SECONDARY = 5;

/** Where the ratio of a transformer is applied: in the device, in Loka, in both, or nowhere. */
export interface AppliedRatio {
  where: 'once' | 'twice' | 'nowhere' | 'off' | 'cannot-tell';
  /** Times what flows that is read; null where it cannot be told. */
  factor: number | null;
  /** Primary over secondary, as it is set in the device; null where only one side can be read. */
  inDevice: number | null;
  inLoka: number;
}

/**
 * Whether the ratio of a current transformer is applied once. The device multiplies by primary over secondary, Loka by its
 * own ratio on top of that: both together must give what is printed on the transformer. Null where the device has no ratio
 * that could be read.
 * @param sensing what Loka knows to sit before the device
 */
export function appliedRatio(
  settings: readonly SettingRead[],
  { kind, ratio: inLoka, ratedCurrent }: Pick<Sensing, 'kind' | 'ratio' | 'ratedCurrent'>,
): AppliedRatio | null {
  const value = (role: SettingRole) => settings.find((s) => s.role === role)?.value ?? null;
  const [primary, secondary] = [value('primary-current'), value('secondary-current')];
  const inDevice = value('current-ratio') ?? (primary !== null && secondary ? primary / secondary : null);
  if (primary === null && inDevice === null) return null;
  if (kind === 'voltage-transformer') return null;
  const applied = (where: AppliedRatio['where'], factor: number | null): AppliedRatio => ({
    where,
    factor,
    inDevice,
    inLoka,
  });
  if (kind === 'direct') {
    // Nothing is transformed, and so nothing is to be multiplied.
    const factor = inDevice === null ? null : inDevice * inLoka;
    if (factor === null) return null;
    return isSame(factor, 1) ? applied('once', 1) : applied('off', factor);
  }
  if (primary !== null && ratedCurrent !== null && ratedCurrent > 0) {
    const factor = (primary * inLoka) / ratedCurrent;
    if (isSame(factor, 1)) return applied('once', 1);
    if (
      isSame(primary, ratedCurrent) ||
      (inDevice !== null && !isSame(inDevice, 1) && isSame(inDevice, inLoka))
    )
      return applied('twice', factor);
    if (inLoka === 1 && primary <= LARGEST_SECONDARY && ratedCurrent > LARGEST_SECONDARY)
      return applied('nowhere', factor);
    return applied('off', factor);
  }
  if (inDevice === null || isSame(inDevice, 1) || isSame(inLoka, 1)) return applied('once', null);
  return isSame(inDevice, inLoka) ? applied('twice', inLoka) : applied('cannot-tell', null);
}

/** A correction that is applied both in the device and in Loka. */
export interface AppliedGain {
  /** `changed`: the device's gain was changed after Loka had been calibrated on it. */
  where: 'once' | 'twice' | 'changed';
  /** Times what it should be that is read. */
  factor: number;
}

/**
 * Whether a gain is applied once. A device with a gain of its own may be calibrated in Loka on top of it; what must not be
 * is that the gain came into the device afterwards.
 * @param before the gain in the device before it was changed, null where nobody saw it change
 * @param changedAt when it was seen to change, UTC ms; null where it never was
 * @param calibratedAt when Loka's calibration was made, UTC ms
 */
export function appliedGain(
  inDevice: number,
  { before, changedAt }: { before: number | null; changedAt: number | null },
  inLoka: number,
  calibratedAt: number,
): AppliedGain {
  if (before !== null && changedAt !== null) {
    if (changedAt < calibratedAt || Math.abs(inDevice / before - 1) <= NO_GAIN)
      return { where: 'once', factor: 1 };
    const factor = inDevice / before;
    return { where: isSameGain(factor, inLoka) ? 'twice' : 'changed', factor };
  }
  return isSameGain(inDevice, inLoka) ? { where: 'twice', factor: inDevice } : { where: 'once', factor: 1 };
}

const isSame = (a: number, b: number): boolean => Math.abs(a / b - 1) <= SAME_RATIO;

const isSameGain = (a: number, b: number): boolean =>
  Math.abs(a - 1) > NO_GAIN &&
  Math.abs(b - 1) > NO_GAIN &&
  Math.abs(a - b) <= SAME_GAIN * Math.max(Math.abs(a - 1), Math.abs(b - 1));
