import type { Phase, Quantity } from '../quantities/index.js';

/** How places at which something is generated or stored are called, where nothing else tells (trade). */
const BY_NAME = /inverter|\bpv\b|photovoltaic|solar|\bbattery\b(?! charger)|generator|wind turbine/i;

/** What a person has said of a place: it only takes power, or power flows both ways. */
export const POWER_FLOWS = ['in', 'both'] as const;
export type PowerFlow = (typeof POWER_FLOWS)[number];

/**
 * Whether power may flow out of a place: what was said of it or, where nothing was, something with a DC side or a state of charge is there, or it is called what
 * such places are. Negative power is right there, and a sign of a reversed clamp elsewhere.
 */
export const feedsIn = (
  { name, flow = null }: { name: string; flow?: PowerFlow | null },
  values: readonly { quantity: Quantity; phase: Phase | null }[],
): boolean =>
  flow === null
    ? values.some(({ quantity, phase }) => phase === 'DC' || quantity === 'state-of-charge') ||
      BY_NAME.test(name)
    : flow === 'both';
