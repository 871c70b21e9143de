import type { InstallationNode } from '@loka/contract/installation';
import type { Point } from '@loka/contract/points';
import type { Site } from '@loka/contract/site';

/** A scale with the band in which a value should lie, as on a switchboard instrument. */
export interface Scale {
  low: number;
  high: number;
  /** Where it should be. */
  from: number;
  to: number;
  /** Marked with a triangle: the nominal value, or the rating. */
  nominal: number;
  /** What it is to be outside: wrong, or only to be looked at. */
  outside: 'danger' | 'warn';
}

/** Where a quantity should lie: the supply by EN 50160, the current by its protective device, the power factor by practice (trade). */
export function usualScale(
  { definition, phase }: Point,
  node: InstallationNode | undefined,
  site: Site | null,
): Scale | null {
  if (!site || phase === 'DC') return null;
  switch (definition.quantity) {
    case 'voltage': {
      const v = site.nominalVoltage;
      return { low: v * 0.85, high: v * 1.15, from: v * 0.9, to: v * 1.1, nominal: v, outside: 'danger' };
    }
    case 'frequency': {
      const f = site.frequency;
      return { low: f * 0.98, high: f * 1.02, from: f * 0.99, to: f * 1.01, nominal: f, outside: 'danger' };
    }
    case 'current': {
      const rated = node?.ratedCurrent;
      return rated
        ? { low: 0, high: rated * 1.2, from: 0, to: rated, nominal: rated, outside: 'danger' }
        : null;
    }
    case 'power-factor':
      return { low: 0, high: 1, from: 0.9, to: 1, nominal: 1, outside: 'warn' };
    case 'state-of-charge':
      return { low: 0, high: 100, from: 10, to: 100, nominal: 100, outside: 'warn' };
    default:
      return null;
  }
}
