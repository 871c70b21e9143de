import { extraLag, lineAmperes, phasesIn, type SupplySystem } from '../installation/system.js';
import type { Channel, Look, Metered } from './circuit.js';
import { diagnose } from './diagnose.js';
import type { Line } from './phasors.js';
import type { Trace } from './trace.js';

// Circuits with a load between two lines: worked with complex numbers here, with angles and tables there.

/** A complex number. */
type C = readonly [re: number, im: number];
const times = ([a, b]: C, [c, d]: C): C => [a * c - b * d, a * d + b * c];
const over = ([a, b]: C, [c, d]: C): C => times([a, b], [c / (c * c + d * d), -d / (c * c + d * d)]);
const minus = ([a, b]: C, [c, d]: C): C => [a - c, b - d];
const negative = ([a, b]: C): C => [-a, -b];
const size = ([a, b]: C): number => Math.hypot(a, b);
const polar = (r: number, degrees: number): C => [
  r * Math.cos((degrees * Math.PI) / 180),
  r * Math.sin((degrees * Math.PI) / 180),
];
/** W: real part of U · I*. */
const watts = (u: C, [a, b]: C): number => times(u, [a, -b])[0];

/** Voltages against neutral. */
const supply: Record<SupplySystem, { volts: number; of: Record<Line, C> }> = {
  'split-phase': { volts: 120, of: { L1: polar(120, 0), L2: polar(120, 180), L3: [0, 0] } },
  'three-phase': { volts: 230, of: { L1: polar(230, 0), L2: polar(230, -120), L3: polar(230, 120) } },
};

/** Currents in two lines of a load of an impedance between them. */
function between(
  system: SupplySystem,
  [a, b]: readonly [Line, Line],
  impedance: C,
): Partial<Record<Line, C>> {
  const { of } = supply[system];
  const i = over(minus(of[a], of[b]), impedance);
  return { [a]: i, [b]: negative(i) };
}

it.each([
  // 4500 W at 240 V are 18.75 A in both lines; 3000 W at 400 V (√3 · 230.9 V) 7.5 A.
  ['split-phase', 'L1 L2', 240 ** 2 / 4500, 4500, 18.75],
  ['three-phase', 'L1 L2', (230 * Math.sqrt(3)) ** 2 / 3000, 3000, 3000 / (230 * Math.sqrt(3))],
  ['three-phase', 'L2 L3', (230 * Math.sqrt(3)) ** 2 / 3000, 3000, 3000 / (230 * Math.sqrt(3))],
] as const)(
  '%s, a heater between %s draws in each line what its plate says',
  (system, phases, ohms, plate, amperes) => {
    const [a, b] = phases.split(' ') as [Line, Line];
    const currents = between(system, [a, b], [ohms, 0]);
    expect(size(currents[a] as C)).toBeCloseTo(amperes, 6);
    expect(lineAmperes({ watts: plate, powerFactor: 1 }, 2, supply[system].volts, system)).toBeCloseTo(
      amperes,
      6,
    );
  },
);

it.each([
  ['L1', 'L2'],
  ['L2', 'L3'],
  ['L3', 'L1'],
] as const)(
  'the current of a heater between %s and %s of three leads in one and lags in the other',
  (a, b) => {
    const currents = between('three-phase', [a, b], [50, 0]);
    for (const line of [a, b]) {
      const [re, im] = times(supply['three-phase'].of[line], [
        (currents[line] as C)[0],
        -(currents[line] as C)[1],
      ]);
      const lag = (Math.atan2(im, re) * 180) / Math.PI;
      const lines = (['L1', 'L2', 'L3'] as const).filter((l) => l === a || l === b);
      expect(lag).toBeCloseTo(extraLag(line, lines, 'three-phase'), 6);
    }
  },
);

it('a split-phase supply has two lines', () =>
  expect(phasesIn('split-phase')).toEqual(['L1', 'L2', 'L1 L2']));

const SECONDS = 130;
const isOn = (s: number) => (s >= 30 && s < 55) || (s >= 80 && s < 105);
const noise = (s: number, k: number) => 1 + 0.001 * Math.sin(s * (12.9898 + k));
const trace = (of: (s: number) => number): Trace => ({
  t: Array.from({ length: SECONDS }, (_, s) => s * 1000),
  v: Array.from({ length: SECONDS }, (_, s) => of(s)),
});

interface Fitted {
  /** The conductor that the clamp of each label is on, and whether it is turned. */
  [label: string]: { on: Line; turned?: boolean };
}

/** A look at a circuit whose clamps are fitted in some way, and a meter above that reads everything rightly. */
function look(
  system: SupplySystem,
  lines: Line[],
  currents: Partial<Record<Line, C>>,
  plate: number,
  fitted: Fitted,
): Look {
  const { volts, of } = supply[system];
  const channel = (line: Line, i: C, extra = 0): Channel => ({
    line,
    voltage: trace((s) => volts * noise(s, 3)),
    current: trace((s) => (isOn(s) ? size(i) : 0.01) * noise(s, 1) + extra),
    power: trace((s) => (isOn(s) ? watts(of[line], i) : 1) * noise(s, 2) + extra * volts),
    reactive: null,
  });
  const metered = (id: number, name: string, channels: Channel[]): Metered => ({
    id,
    name,
    channels,
    total: null,
    counter: null,
  });
  const seen = lines.map((label) => {
    const { on, turned } = fitted[label] ?? { on: label };
    const i = currents[on] ?? [0, 0];
    return channel(label, turned ? negative(i) : i);
  });
  return {
    circuit: {
      name: 'Water heater',
      lines,
      system,
      nominalVoltage: volts,
      frequency: 50,
      ratedCurrent: 30,
      feedsIn: false,
      reach: 'clamp',
      range: null,
      loads: [{ name: 'Water heater', watts: plate, powerFactor: 1 }],
    },
    own: metered(2, 'Water heater', seen),
    above: metered(
      1,
      'Supply',
      lines.map((line) => channel(line, currents[line] as C, 3)),
    ),
    others: [],
    below: [],
    beside: [],
    switchings: [30, 55, 80, 105].map((s) => ({
      t: s * 1000,
      on: isOn(s),
      load: { name: 'Water heater', watts: plate, powerFactor: 1 },
    })),
    offSpans: [],
    frequency: null,
  };
}

const split = (fitted: Fitted = {}) =>
  diagnose(
    look(
      'split-phase',
      ['L1', 'L2'],
      between('split-phase', ['L1', 'L2'], [240 ** 2 / 4500, 0]),
      4500,
      fitted,
    ),
  );
const three = (fitted: Fitted = {}) =>
  diagnose(
    look(
      'three-phase',
      ['L1', 'L2'],
      between('three-phase', ['L1', 'L2'], [(230 * Math.sqrt(3)) ** 2 / 6000, 0]),
      6000,
      fitted,
    ),
  );
const verdicts = ({ checks }: ReturnType<typeof split>) =>
  Object.fromEntries(checks.map((c) => [c.kind, c.verdict]));

it('a water heater on both lines of a split-phase supply, clamps as they should be', () => {
  const healthy = split();
  expect(healthy.faults).toEqual([]);
  expect(verdicts(healthy)).toMatchObject({ supply: 'pass', through: 'pass', phases: 'pass', ratio: 'pass' });
});

it('one of its clamps turned round is named; two exchanged read as two turned, and are not told apart', () => {
  expect(split({ L1: { on: 'L1', turned: true } }).faults).toMatchObject([
    { kind: 'reversed', lines: ['L1'] },
  ]);
  const exchanged = split({ L1: { on: 'L2' }, L2: { on: 'L1' } });
  expect(exchanged.faults).toMatchObject([{ kind: 'reversed', lines: ['L1', 'L2'] }]);
  expect(exchanged.checks.find((c) => c.kind === 'phases')?.cause).toContain('both read alike');
});

it('a single 120 V circuit whose clamp is on the other line reads minus', () => {
  const i = over(supply['split-phase'].of.L1, [12, 0]);
  const found = diagnose(look('split-phase', ['L1'], { L1: i }, 1200, { L1: { on: 'L1', turned: true } }));
  expect(found.faults).toMatchObject([{ kind: 'reversed', lines: ['L1'] }]);
});

it('a heater between two lines of three, clamps as they should be, turned, and exchanged', () => {
  const healthy = three();
  expect(healthy.faults).toEqual([]);
  expect(verdicts(healthy)).toMatchObject({ supply: 'pass', through: 'pass', phases: 'pass', ratio: 'pass' });
  expect(three({ L2: { on: 'L2', turned: true } }).faults).toMatchObject([
    { kind: 'reversed', lines: ['L2'] },
  ]);
  expect(three({ L1: { on: 'L2' }, L2: { on: 'L1' } }).faults).toMatchObject([
    // The same current flows in both: exchanged they read as both turned do.
    { kind: 'reversed', lines: ['L1', 'L2'] },
  ]);
});
