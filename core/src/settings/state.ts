/** A float that went through 32 bits comes back within this share of itself. */
const FLOAT = 1e-6;

/** How a setting stands against what is wanted. */
export type SettingState = 'not-read' | 'nothing-wanted' | 'as-wanted' | 'differs';

/** Whether two values of a setting are the same to the device. @param step its smallest change; 0 for floats */
export const isSameSetting = (a: number, b: number, step: number): boolean =>
  Math.abs(a - b) <= Math.max(step / 2, FLOAT * Math.max(Math.abs(a), Math.abs(b)));

export function settingState(read: number | null, wanted: number | null, step: number): SettingState {
  if (read === null) return 'not-read';
  if (wanted === null) return 'nothing-wanted';
  return isSameSetting(read, wanted, step) ? 'as-wanted' : 'differs';
}
