/** Exception codes of Modbus Application Protocol V1.1b3, section 7, with what they mean to the person fitting. */
const EXCEPTIONS: Record<number, { name: string; hint: string }> = {
  1: {
    name: 'illegal function',
    hint: 'the device does not know this kind of register; try input instead of holding, or the other way round',
  },
  2: {
    name: 'illegal data address',
    hint: 'the device has no such register; check the address and whether its table counts from 0 or from 1',
  },
  3: { name: 'illegal data value', hint: 'the device refuses the length or the value' },
  4: { name: 'server device failure', hint: 'the device failed while answering' },
  5: { name: 'acknowledge', hint: 'the device needs longer' },
  6: { name: 'server device busy', hint: 'the device is busy; poll it less often' },
  8: { name: 'memory parity error', hint: 'the device found its memory damaged' },
  10: { name: 'gateway path unavailable', hint: 'the gateway has no path to this unit' },
  11: {
    name: 'gateway target device failed to respond',
    hint: 'nothing answers behind the gateway; check the unit id and the wiring of the line',
  },
};

/** What exception 1 means where something was written. */
const NOT_WRITTEN =
  'the device does not accept this way of writing; if its table asks for function 15 or 16, tick “Always write with function 15” or “16” in the map';

/** "exception 2, illegal data address: the device has no such register; …" */
export function exceptionInWords(code: number, doing: 'reading' | 'writing' = 'reading'): string {
  const known = EXCEPTIONS[code];
  const hint = code === 1 && doing === 'writing' ? NOT_WRITTEN : known?.hint;
  return known
    ? `exception ${code}, ${known.name}: ${hint}`
    : `exception ${code}, which the protocol does not define`;
}

/** Acknowledge, busy, and the two of a gateway: what is asked for has nothing to do with it. */
const UNIT_FAULTS = new Set([5, 6, 10, 11]);

/** Whether an exception says of the unit, and not of the registers asked for, that it cannot answer now. */
export const isUnitFault = (code: number): boolean => UNIT_FAULTS.has(code);
