import type { DeviceSetting } from '@loka/contract/settings';
import { settingState, type SettingState } from '@loka/core/settings';

/** A value of a setting to the last digit, with its unit or by its name. */
export function settingInWords(
  { names, unit }: Pick<DeviceSetting, 'names' | 'unit'>,
  value: number,
): string {
  const name = names.find((n) => n.value === value)?.name;
  return name ?? `${exact(value)}${unit === '' ? '' : ` ${unit}`}`;
}

/** All digits that a device can hold, and none that come from binary arithmetic. */
export const exact = (value: number): string => String(Number(value.toPrecision(7)));

export const stateOf = ({ read, wanted, step }: DeviceSetting): SettingState =>
  settingState(read, wanted, step);

/** The settings that are to be written so that the device is as wanted. */
export const toWriteOf = (settings: readonly DeviceSetting[]) =>
  settings.flatMap((s) =>
    s.writable && s.read !== null && s.wanted !== null && stateOf(s) === 'differs'
      ? [{ setting: s, value: s.wanted, seen: s.read }]
      : [],
  );

export type ToWrite = ReturnType<typeof toWriteOf>[number];
