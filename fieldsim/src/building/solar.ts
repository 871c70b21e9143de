import { drift } from './noise.js';

/** Bakehouse roof: latitude in degrees, peak power of the modules in W, and what reaches the inverter's output. */
const LATITUDE = 38.7;
const PEAK = 12_000;
const LOSSES = 0.86;
const DAY = 86_400_000;

/**
 * Power of the PV plant in W: height of the sun by date and hour (declination after Cooper, 1969), clouds that
 * drift over the day. Good enough for a load profile; no irradiance model.
 * @param hour local hours since midnight; the sun stands highest about 12:40
 */
export function solarWatts(seed: number, t: number, hour: number): number {
  const dayOfYear = (t / DAY) % 365.25;
  const declination = ((23.45 * Math.PI) / 180) * Math.sin((2 * Math.PI * (284 + dayOfYear)) / 365);
  const latitude = (LATITUDE * Math.PI) / 180;
  const angle = ((hour - 12.66) * Math.PI) / 12;
  const height =
    Math.sin(latitude) * Math.sin(declination) + Math.cos(latitude) * Math.cos(declination) * Math.cos(angle);
  if (height <= 0.02) return 0;
  const cover = 0.5 + 0.5 * drift(seed, 'cloud', t, 5_400_000);
  const flicker = 0.5 + 0.5 * drift(seed, 'gap', t, 90_000);
  const clear = 1 - 0.75 * cover * flicker;
  return PEAK * LOSSES * height ** 1.15 * clear;
}
