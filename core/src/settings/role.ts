/** What is set inside a device, as far as Loka takes it into account; `other` is only shown and written. */
export const SETTING_ROLES = [
  'primary-current',
  'secondary-current',
  'current-ratio',
  'voltage-ratio',
  'current-gain',
  'voltage-gain',
  'power-gain',
  'reversed',
  'wiring-mode',
  'report-interval',
  'other',
] as const;
export type SettingRole = (typeof SETTING_ROLES)[number];

export const SETTING_LABELS: Readonly<Record<SettingRole, string>> = {
  'primary-current': 'Transformer, primary current',
  'secondary-current': 'Transformer, secondary current',
  'current-ratio': 'Ratio of the current transformer',
  'voltage-ratio': 'Ratio of the voltage transformer',
  'current-gain': 'Gain of the current',
  'voltage-gain': 'Gain of the voltage',
  'power-gain': 'Gain of the power',
  reversed: 'Direction turned round',
  'wiring-mode': 'Wiring mode',
  'report-interval': 'Report interval',
  other: 'Other',
};

/** Whether a change of it changes what the device reads from then on. */
export const movesReadings = (role: SettingRole): boolean => role !== 'report-interval' && role !== 'other';

/** Whether it corrects the one device that it is set in, and is of no use to another. */
export const isOfOneDevice = (role: SettingRole): boolean => role.endsWith('-gain') || role === 'reversed';

/** Whether only a value above 0 makes sense. */
export const isPositiveOnly = (role: SettingRole): boolean => /-(current|ratio|gain|interval)$/.test(role);
