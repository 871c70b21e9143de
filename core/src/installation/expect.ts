import type { Phase, Quantity } from '../quantities/index.js';
import { betweenLines, type SupplySystem } from './system.js';
import type { FitFinding } from './fit.js';

/** What is known of the place at which a first reading is looked at. */
export interface Expected {
  /** V against neutral. */
  nominalVoltage: number;
  /** Missing: three-phase. */
  system?: SupplySystem;
  frequency: number;
  /** A, null when it is not known. */
  ratedCurrent: number | null;
  /** Whether the place feeds in (an inverter): then negative power is right. */
  feedsIn: boolean;
}

/**
 * What a first reading at a circuit tells of the fitting: whether it is what one would expect (trade), and what to
 * look at when it is not. Null for quantities of which nothing is expected.
 * @param value base unit
 */
export function expectation(
  quantity: Quantity,
  phase: Phase | null,
  value: number,
  { nominalVoltage, system = 'three-phase', frequency, ratedCurrent, feedsIn }: Expected,
): FitFinding | null {
  const ok = (message: string): FitFinding => ({ level: 'ok', message });
  const warn = (message: string): FitFinding => ({ level: 'warn', message });
  switch (quantity) {
    case 'voltage': {
      if (phase === 'DC') return null;
      const between = nominalVoltage * betweenLines(system);
      if (near(value, nominalVoltage, 0.1)) return ok(`near ${nominalVoltage} V`);
      if (near(value, between, 0.1))
        return warn(`near ${Math.round(between)} V: its tap is between two lines, not against neutral`);
      if (Math.abs(value) < 0.1 * nominalVoltage)
        return warn('no voltage: the supply is off, or the tap is not connected');
      return warn(`far from ${nominalVoltage} V: look at the register, its scaling, and the tap`);
    }
    case 'frequency':
      return near(value, frequency, 0.02)
        ? ok(`near ${frequency} Hz`)
        : warn(`far from ${frequency} Hz: look at the register and its scaling`);
    case 'current':
      // The DC side has a protective device of its own.
      if (phase !== 'DC' && ratedCurrent !== null && value > ratedCurrent * 1.1)
        return warn(
          `more than the ${ratedCurrent} A of the protective device: look at the ratio and the scaling`,
        );
      if (Math.abs(value) < 0.02)
        return warn('nothing flows: switch the load on; a clamp around both conductors reads this, too');
      return ok('something flows; switch the load off and see it fall');
    case 'active-power':
      if (feedsIn) return ok(value < 0 ? 'it feeds in' : 'it takes power');
      if (value < -5)
        return warn(
          'negative: the clamp’s arrow points away from the load, or voltage and current are on different phases',
        );
      if (value < 1) return warn('almost nothing: switch the load on');
      return ok('it takes power');
    case 'power-factor':
      if (Math.abs(value) > 1) return warn('more than 1: look at the scaling');
      if (value < 0 && !feedsIn) return warn('negative: arrow or phase, as for the power');
      return Math.abs(value) < 0.3
        ? warn('very low: are voltage and current on the same phase?')
        : ok('plausible');
    case 'energy-import':
      return ok('it should rise while the load is on');
    default:
      return null;
  }
}

const near = (value: number, goal: number, share: number): boolean => Math.abs(value - goal) <= goal * share;
