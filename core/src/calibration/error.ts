/**
 * Error of a reading against the reference in percent of the reference, as meter standards count it
 * (IEC 62053-21, "percentage error"). Null against a reference of zero, where only the absolute error speaks.
 */
export const percentError = (reading: number, reference: number): number | null =>
  reference === 0 ? null : (100 * (reading - reference)) / Math.abs(reference);
