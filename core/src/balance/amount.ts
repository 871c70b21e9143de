/** What flows between a place and what it hangs on: a power in W or an energy in Wh, both directions by themselves. */
export interface Amount {
  /** Taken from above, not negative. */
  in: number;
  /** Given back to above, not negative. */
  out: number;
  /** Within so much the net of it is known, 95 %; same unit. */
  u: number;
  /** Share of the time for which it is known, 0–1; at an instant 1. */
  known: number;
}

export const net = ({ in: taken, out }: Pick<Amount, 'in' | 'out'>): number => taken - out;

/** A power at an instant: it flows one way. @param value W, below zero for what flows out */
export const ofPower = (value: number, u = 0): Amount => ({
  in: Math.max(0, value),
  out: Math.max(0, -value),
  u,
  known: 1,
});

/** Uncertainties that do not depend on one another, added in quadrature (JCGM 100:2008, 5.1.2). */
export const together = (list: readonly number[]): number => Math.hypot(...list);
