import { printInUnit } from '@loka/core/formats';

/** Of no more than this, Wh, no share is told: it would be large and mean nothing. */
const LITTLE = 5;

/** By how much energy, Wh, is more or less than before: "−1.20 kWh (−12 %)", "+12 Wh (under 0.1 %)", "no change". */
export function changeInWords(now: number, before: number): string {
  const apart = now - before;
  if (apart === 0) return 'no change';
  const sign = apart < 0 ? '−' : '+';
  const change = `${sign}${printInUnit(Math.abs(apart), 'Wh')}`;
  if (before <= LITTLE) return change;
  const percent = Math.abs((100 * apart) / before);
  if (percent < 0.1) return `${change} (under 0.1 %)`;
  return `${change} (${sign}${percent < 9.5 ? percent.toFixed(1) : Math.round(percent)} %)`;
}
