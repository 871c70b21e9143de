import { mean } from 'd3-array';
import { betweenLines } from '../../installation/system.js';
import { cannotTell, fail, pass, type Check } from '../check.js';
import type { Look } from '../circuit.js';
import { inWords } from '../words.js';

/** EN 50160: voltage within ±10 %, frequency within ±1 % (of 10-minute and 10-second means; recalled). */
const VOLTAGE = 0.1;
const FREQUENCY = 0.01;

/** Whether voltages and frequency are as they should be: a tap between two lines, or on none, shows here. */
export function checkSupply({ circuit, own, frequency }: Look): Check {
  const volts = own.channels.flatMap((c) => {
    const level = c.voltage ? mean(c.voltage.v) : undefined;
    return level === undefined ? [] : [{ line: c.line, level }];
  });
  const hertz = frequency ? mean(frequency.v) : undefined;
  if (volts.length === 0 && hertz === undefined)
    return cannotTell(
      'supply',
      'No voltage is measured here.',
      'Power is then worked out with the nominal voltage. Measure the voltage once on each phase of the site.',
    );
  const rests = [
    ...volts.map(({ line, level }) => `${line} ${inWords(level, 'V')}`),
    ...(hertz === undefined ? [] : [inWords(hertz, 'Hz')]),
  ].join(' · ');
  const nominal = circuit.nominalVoltage;
  const off = volts.filter(({ level }) => Math.abs(level / nominal - 1) > VOLTAGE);
  const between = off.filter(
    ({ level }) => Math.abs(level / (nominal * betweenLines(circuit.system)) - 1) <= VOLTAGE,
  );
  if (between.length > 0)
    return fail(
      'supply',
      `The voltage of ${between.map((o) => o.line).join(', ')} is one between two lines.`,
      rests,
      'Its tap is between two line conductors, not against neutral.',
      'Put the neutral tap on neutral.',
    );
  const none = off.filter(({ level }) => Math.abs(level) < 0.1 * nominal);
  if (none.length > 0)
    return fail(
      'supply',
      `There is no voltage on ${none.map((o) => o.line).join(', ')}.`,
      rests,
      'The supply is off, or the tap is not connected.',
      'Look at the tap and at its fuse.',
    );
  if (off.length > 0)
    return fail(
      'supply',
      `The voltage of ${off.map((o) => o.line).join(', ')} is outside ±10 % of ${nominal} V.`,
      rests,
      'The supply itself, a loose neutral, or the scaling of the voltage.',
      'Measure it with a handheld meter.',
    );
  if (hertz !== undefined && Math.abs(hertz / circuit.frequency - 1) > FREQUENCY)
    return fail(
      'supply',
      'The frequency is more than 1 % off.',
      rests,
      'A generator, or the scaling of the register.',
      'Compare with another meter of the site.',
    );
  return pass(
    'supply',
    hertz === undefined ? 'The voltage is in order.' : 'Voltage and frequency are in order.',
    rests,
  );
}
