import type { Line, LineReading } from './phasors.js';
import { ANY_LOAD, isRight, lagOfPowerFactor, RESISTIVE, tryWays, type KnownLag } from './ways.js';

const all = (lag: KnownLag) => ({ L1: lag, L2: lag, L3: lag });
const factors = (...list: number[]): LineReading[] =>
  list.map((factor, i) => ({
    line: `L${i + 1}` as Line,
    volts: 230,
    amperes: 20,
    watts: 230 * 20 * factor,
    vars: null,
  }));

describe('ways to fit the clamps', () => {
  it('tries 48 for three clamps and 6 for one', () => {
    expect(tryWays(factors(1, 1, 1), { known: all(RESISTIVE) }).ways).toHaveLength(48);
    expect(tryWays(factors(1), { known: all(RESISTIVE) }).ways).toHaveLength(6);
  });

  // A heater behind exchanged clamps: each of the two is multiplied with the voltage of a line 120° off, cos 120° = −0.5.
  it('finds two clamps that have changed places on a heater', () => {
    const { ways, equal, apart, asItShouldBe } = tryWays(factors(1, -0.5, -0.5), { known: all(RESISTIVE) });
    expect(equal).toHaveLength(1);
    expect(ways[0]).toMatchObject({ on: ['L1', 'L3', 'L2'], turned: [false, false, false] });
    expect(ways[0]?.off).toBeLessThan(1);
    expect(apart).toBeGreaterThan(20);
    // Two of three are 120° off: the root mean square is 98°.
    expect(asItShouldBe.off).toBeCloseTo(Math.sqrt((2 * 120 ** 2) / 3), -1);
  });

  it('finds one clamp that is turned round', () => {
    const { ways, equal } = tryWays(factors(1, -1, 1), { known: all(RESISTIVE) });
    expect(equal).toHaveLength(1);
    expect(ways[0]).toMatchObject({ on: ['L1', 'L2', 'L3'], turned: [false, true, false] });
  });

  it('cannot tell which way round all three have moved without the sign of the angle, and can with it', () => {
    const moved = tryWays(factors(-0.5, -0.5, -0.5), { known: all(RESISTIVE) });
    expect(moved.equal.map((w) => w.on.join())).toEqual(expect.arrayContaining(['L2,L3,L1', 'L3,L1,L2']));
    // Clamp 1 on L2: its current is 120° behind the voltage of L1, so it lags: Q = +0.866 S.
    const signed = factors(-0.5, -0.5, -0.5).map((r) => ({
      ...r,
      vars: 230 * 20 * Math.sin((120 * Math.PI) / 180),
    }));
    const { equal } = tryWays(signed, { known: all(RESISTIVE) });
    expect(equal.map((w) => w.on.join())).toEqual(['L2,L3,L1']);
  });

  it('does not tell a motor’s clamp that is turned round from one on the next phase where its lag is 30°', () => {
    // cos 150° both ways: 180° − 30°, and 120° + 30°.
    const { equal } = tryWays(factors(Math.cos((150 * Math.PI) / 180)), {
      known: all(lagOfPowerFactor(Math.cos(Math.PI / 6))),
    });
    expect(equal.length).toBeGreaterThan(1);
  });

  it('believes the label where a load is not known and nothing speaks against it', () => {
    const reading = factors(0.9);
    const { ways, equal } = tryWays(reading, { known: all(ANY_LOAD) });
    expect(isRight(ways[0]!, reading)).toBe(true);
    expect(equal.length).toBeGreaterThan(1);
  });

  it('tells a single clamp’s line by a meter above, also without power', () => {
    const [reading] = factors(1) as [LineReading];
    const { ways } = tryWays([{ ...reading, watts: null }], {
      known: all(ANY_LOAD),
      trueAmperes: { L1: 0, L2: 20, L3: 0 },
    });
    expect(ways[0]?.on).toEqual(['L2']);
  });

  it('uses the sum of power where the lines are not read', () => {
    const lines = factors(1, 1, 1).map((r) => ({ ...r, watts: null }));
    // One of three turned round: 1 + 1 − 1 of 3.
    const { equal } = tryWays(lines, { known: all(RESISTIVE), totalWatts: 230 * 20 });
    expect(equal.every((w) => w.turned.filter(Boolean).length === 1)).toBe(true);
  });
});
