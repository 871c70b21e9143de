import { bisectRight, mean } from 'd3-array';
import { cannotTell, fail, pass, type Check } from '../check.js';
import type { DcSide, Look } from '../circuit.js';
import type { Trace } from '../trace.js';
import { inWords } from '../words.js';

/** Less than this is no voltage, V, and no current, A (trade). */
const NO_VOLTS = 1;
const NO_AMPERES = 0.2;
/** Mean power from which two devices are compared, W. */
const COMPARED = 50;
/** Two powers are the same one when they are this much alike. */
const ALIKE = 0.98;
/** They agree within this before anything is calibrated (trade). */
const AGREES = 0.15;

/** Polarity of the DC side: plus and minus of the voltage, and which way the current counts. Null where nothing DC is measured. */
export function checkDc({ dc }: Look): Check | null {
  if (!dc) return null;
  const volts = dc.voltage ? mean(dc.voltage.v) : undefined;
  const most = Math.max(0, ...(dc.current?.v ?? []).map(Math.abs));
  const rests = [
    volts === undefined ? '' : inWords(volts, 'V'),
    dc.current && dc.current.v.length > 0 ? inWords(dc.current.v.at(-1) as number, 'A') : '',
  ]
    .filter(Boolean)
    .join(' · ');
  if (volts !== undefined && volts < -NO_VOLTS)
    return fail(
      'dc',
      'The DC voltage is negative.',
      rests,
      'Plus and minus are exchanged at its tap.',
      'Exchange the two wires of the tap; look at the sensor’s supply as well.',
    );
  if (volts !== undefined && Math.abs(volts) <= NO_VOLTS && most > NO_AMPERES)
    return fail(
      'dc',
      'A DC current flows, and no voltage is read.',
      rests,
      'The tap is not connected, or its fuse is open.',
      'Look at the tap and its fuse.',
    );
  return directionOf(dc, rests);
}

/** Which way the current counts, by another device that reads the same power: of several the one that moves as it does. */
function directionOf(dc: DcSide, rests: string): Check | null {
  if (!dc.current || !dc.voltage || dc.voltage.v.length === 0) return null;
  const compared = dc.beside.flatMap(({ name, power }) => compare(dc, name, power) ?? []);
  const best = compared.sort((a, b) => b.likeness - a.likeness)[0];
  if (!best || best.likeness < ALIKE)
    return cannotTell(
      'dc',
      'Plus is at plus; the sign of the current is still to be checked.',
      'Charge or discharge, and look at its sign.',
      rests,
    );
  const { name, factor } = best;
  const figures = `${rests}; ${factor.toFixed(2).replace('-', '−')} times what ${name} reads`;
  if (Math.abs(factor + 1) <= AGREES)
    return fail(
      'dc',
      'The DC current counts the wrong way.',
      figures,
      'The sensor’s arrow points the other way, or the shunt is in the other conductor.',
      'Turn the sensor round, or say under Transducer that its arrow points away.',
    );
  if (Math.abs(factor - 1) <= AGREES)
    return pass('dc', 'The DC side has its plus at plus, and counts the right way.', figures);
  return fail(
    'dc',
    `The DC power is ${factor.toFixed(2).replace('-', '−')} times what ${name} reads.`,
    figures,
    'The range of the sensor or its scaling is another, or only a part of the current goes through it.',
    'Look at the sensor’s rating and at its map.',
  );
}

interface Compared {
  name: string;
  /** Voltage times current over the other power, by least squares through nought. */
  factor: number;
  /** How much of one the other explains: |Σxy| / √(Σx²·Σy²). */
  likeness: number;
}

function compare({ voltage, current }: DcSide, name: string, power: Trace): Compared | null {
  let [cross, own, other] = [0, 0, 0];
  current?.t.forEach((t, i) => {
    const there = at(power, t);
    const volts = voltage && at(voltage, t);
    if (there === null || volts === null) return;
    const here = volts * (current.v[i] as number);
    cross += here * there;
    own += here * here;
    other += there * there;
  });
  const count = current?.t.length ?? 0;
  if (count === 0 || other < count * COMPARED ** 2 || own === 0) return null;
  return { name, factor: cross / other, likeness: Math.abs(cross) / Math.sqrt(own * other) };
}

/** The last value at or before an instant. */
const at = ({ t, v }: Trace, instant: number): number | null => v[bisectRight(t, instant) - 1] ?? null;
