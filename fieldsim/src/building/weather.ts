import { drift } from './noise.js';

const DAY = 86_400_000;

/**
 * Temperature outside the bakehouse, °C: the season (warmest at the beginning of August), the hour (warmest about 15:00) and weather
 * that passes in days. Good enough for a load profile; no model of a climate.
 * @param hour local hours since midnight
 */
export function outdoorCelsius(seed: number, t: number, hour: number): number {
  const season = 16.5 - 5.5 * Math.cos((2 * Math.PI * (t / DAY - 30)) / 365.25);
  const day = 3.2 * Math.cos((2 * Math.PI * (hour - 15)) / 24);
  return season + day + 4.5 * drift(seed, 'air', t, 2.5 * DAY);
}
