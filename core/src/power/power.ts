/** Thrown when watts, volts and power factor do not give a current. */
export class PowerError extends Error {
  override name = 'PowerError';
}

/** Active power in W of one phase: P = V · I · PF (definition of the power factor, IEEE 1459). */
export const activePower = (volts: number, amperes: number, powerFactor: number): number =>
  volts * amperes * powerFactor;

/** The current in A that a known load draws: I = P / (V · PF). @throws PowerError */
export function currentOfLoad(watts: number, volts: number, powerFactor: number): number {
  if (!(volts > 0))
    throw new PowerError(
      `${volts} V is not a voltage that a load can run on; type what is measured, for example 230`,
    );
  if (!(powerFactor > 0 && powerFactor <= 1))
    throw new PowerError(
      `a power factor of ${powerFactor} cannot be; it lies above 0 and at most at 1 (a heater has 1)`,
    );
  if (!(watts >= 0)) throw new PowerError(`${watts} W is not the power of a load; type what the load draws`);
  return watts / (volts * powerFactor);
}
