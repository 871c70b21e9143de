import {
  lagOf,
  neutralCurrent,
  phasorsOf,
  phasorsOnceRight,
  wrapAngle,
  type LineReading,
} from './phasors.js';

const reading = (
  line: LineReading['line'],
  amperes: number,
  watts: number | null,
  vars: number | null = null,
) => ({
  line,
  volts: 230,
  amperes,
  watts,
  vars,
});

describe('phasors', () => {
  it('gives the lag of a line by power and current, and by reactive power with its sign', () => {
    // By hand: 230 V, 10 A, φ = 30°: P = 2300 · 0.8660 = 1991.86 W, Q = 2300 · 0.5 = 1150 var.
    const open = lagOf(reading('L1', 10, 1991.858));
    expect(open?.degrees).toBeCloseTo(30, 3);
    expect(open?.signed).toBe(false);
    expect(lagOf(reading('L1', 10, 1991.858, -1150))?.degrees).toBeCloseTo(-30, 3);
    expect(lagOf(reading('L1', 10, -1150, 1991.858))?.degrees).toBeCloseTo(120, 3);
    expect(lagOf(reading('L1', 0, 0))).toBeNull();
    expect(lagOf(reading('L1', 10, null))).toBeNull();
    // More than U·I by a meter's error: not an angle that cannot be.
    expect(lagOf(reading('L1', 10, 2330))?.degrees).toBe(0);
  });

  it('draws a three-phase load and adds up its neutral current, as worked by hand', () => {
    // L1 10 A at φ 30°, L2 10 A at φ 30°, L3 4 A at φ 0: I1 = 10∠−30°, I2 = 10∠−150°, I3 = 4∠120°.
    // Sum: x = 8.660 − 8.660 − 2 = −2, y = −5 − 5 + 3.464 = −6.536; |I_N| = 6.835 A.
    const phasors = phasorsOf([
      reading('L1', 10, 1991.858, 1150),
      reading('L2', 10, 1991.858, 1150),
      reading('L3', 4, 920, 0),
    ]);
    expect(phasors.map((p) => Math.round(p.currentAngle as number))).toEqual([-30, -150, 120]);
    expect(neutralCurrent(phasors)).toBeCloseTo(6.835, 3);
    // The same current in all three lines: nothing in the neutral.
    expect(
      neutralCurrent(phasorsOf((['L1', 'L2', 'L3'] as const).map((l) => reading(l, 7, 1610, 0)))),
    ).toBeCloseTo(0, 9);
    expect(neutralCurrent(phasorsOf([reading('L1', 7, null)]))).toBeNull();
  });

  it('draws two exchanged clamps where they are, and once more as they would be', () => {
    // A heater of 10 A a line; clamp 2 is on L3 and clamp 3 on L2: each reads cos φ = −0.5 without its sign.
    const way = { on: ['L1', 'L3', 'L2'], turned: [false, false, false] } as const;
    const readings = [reading('L1', 10, 2300), reading('L2', 9, -1035), reading('L3', 8, -920)];
    expect(phasorsOf(readings, way).map((p) => Math.round(p.currentAngle as number))).toEqual([0, 120, -120]);
    const right = phasorsOnceRight(readings, way);
    expect(right.map((p) => [p.line, p.amperes, Math.round(p.currentAngle as number)])).toEqual([
      ['L1', 10, 0],
      ['L2', 8, -120],
      ['L3', 9, 120],
    ]);
  });

  it('keeps angles between −180° and 180°', () => {
    expect([190, -190, 360, 540, -180, 0].map(wrapAngle)).toEqual([-170, 170, 0, 180, 180, 0]);
  });
});
