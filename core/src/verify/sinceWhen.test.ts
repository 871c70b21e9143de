import { sinceWhen, type HourOfPower } from './sinceWhen.js';

const HOUR = 3_600_000;
/** Hours of a dishwasher: two of each day at full power, else its standby. */
const hours = (days: number, peak: (day: number) => number, read = (_h: number) => true): HourOfPower[] =>
  Array.from({ length: days * 24 }, (_, h) => {
    const high = h % 24 === 9 || h % 24 === 15 ? peak(Math.floor(h / 24)) : 3;
    return read(h)
      ? { t: h * HOUR, min: Math.min(3, high), max: Math.max(3, high) }
      : { t: h * HOUR, min: null, max: null };
  });

describe('since when a fault stands', () => {
  it('is after the last hour that was read as it is right', () => {
    const bridged = hours(30, (day) => (day < 23 ? 3180 : 730));
    expect(sinceWhen(bridged, { kind: 'bypassed', lines: ['L2'], factor: 0.23 })).toEqual({
      t: (22 * 24 + 16) * HOUR,
      because: 'last-right',
    });
  });

  it('is always, where no hour was right', () => {
    const fault = { kind: 'bypassed', lines: ['L2'], factor: 0.23 } as const;
    expect(
      sinceWhen(
        hours(30, () => 730),
        { ...fault, lines: ['L2'] },
      ),
    ).toEqual({ t: 0, because: 'always' });
    // Nothing was read in the first day.
    expect(
      sinceWhen(
        hours(
          9,
          () => 730,
          (h) => h >= 24,
        ),
        { ...fault, lines: ['L2'] },
      ).t,
    ).toBe(24 * HOUR);
    expect(sinceWhen([], { ...fault, lines: ['L2'] })).toEqual({ t: 0, because: 'always' });
  });

  it('goes by the direction for a clamp that is turned round, and by the factor for one that reads too much', () => {
    expect(
      sinceWhen(
        hours(10, (day) => (day < 4 ? 3000 : -3000)),
        { kind: 'reversed', lines: ['L1'] },
      ).t,
    ).toBe((3 * 24 + 16) * HOUR);
    expect(
      sinceWhen(
        hours(10, (day) => (day < 6 ? 3000 : 6000)),
        { kind: 'wrong-ratio', lines: ['L1'], factor: 2 },
      ).t,
    ).toBe((5 * 24 + 16) * HOUR);
  });
});
