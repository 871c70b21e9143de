import fc from 'fast-check';
import { emptySpans, profileCalendar, voltageFigures, weeksOf, type VoltageSpans } from './index.js';

const MINUTE = 60_000;
const DAY = 1440 * MINUTE;
const WEEK = 7 * DAY;

/** A week by the minute: its mean, or lowest, mean and highest. */
function volts(of: (minute: number) => number | [number, number, number], minutes = 7 * 1440): VoltageSpans {
  const spans = emptySpans(0, MINUTE, minutes);
  for (let i = 0; i < minutes; i++) {
    const v = of(i);
    const [min, mean, max] = typeof v === 'number' ? [v, v, v] : v;
    [spans.min[i], spans.mean[i], spans.max[i], spans.last[i]] = [min, mean, max, mean];
  }
  return spans;
}
const week = [{ start: 0, end: WEEK }];

it('a week by hand: 5 % of 1008 ten-minute means are 50.4', () => {
  // Below 207 V for the first n ten minutes.
  const low = (n: number) =>
    voltageFigures(
      volts((m) => (m < 10 * n ? 200 : 231)),
      230,
      week,
    );
  expect(low(50)).toMatchObject({ known: 1008, possible: 1008, withinWide: 1, weeks: [{ keeps: true }] });
  expect(low(50).within).toBeCloseTo(958 / 1008, 12);
  expect(low(51).weeks[0]).toMatchObject({ keeps: false });
  // One mean of 195 V is below 85 %.
  expect(
    voltageFigures(
      volts((m) => (m < 10 ? 195 : 231)),
      230,
      week,
    ).weeks[0],
  ).toMatchObject({
    keeps: false,
    withinWide: 1007 / 1008,
  });
  expect(
    voltageFigures(
      volts((m) => (m < 10 ? 253.1 : 231)),
      230,
      week,
    ).weeks[0],
  ).toMatchObject({ keeps: false });
});

it('lowest and highest with when, and the ends of the band belong to it', () => {
  const got = voltageFigures(
    volts((m) => (m >= 60 && m < 70 ? 207 : m >= 600 && m < 610 ? 253 : 230)),
    230,
    week,
  );
  expect(got).toMatchObject({
    within: 1,
    lowest: { volts: 207, at: 60 * MINUTE },
    highest: { volts: 253, at: 600 * MINUTE },
    dips: [],
    swells: [],
  });
});

it('dips and swells from the lowest and highest readings, joined where they follow one another', () => {
  const got = voltageFigures(
    volts((m) =>
      m === 100 ? [181, 229, 231] : m === 101 ? [190, 228, 231] : m === 500 ? [229, 231, 260] : 230,
    ),
    230,
    week,
  );
  expect(got.dips).toEqual([{ start: 100 * MINUTE, end: 102 * MINUTE, volts: 181 }]);
  expect(got.swells).toEqual([{ start: 500 * MINUTE, end: 501 * MINUTE, volts: 260 }]);
  expect(got.within).toBe(1);
});

it('ten minutes with two of them unknown have no mean, and a week with a day missing no verdict', () => {
  const got = voltageFigures(
    volts((m) => (m === 3 || m === 7 || (m >= 1440 && m < 2880) ? NaN : 230)),
    230,
    week,
  );
  expect(got).toMatchObject({ known: 1008 - 1 - 144, possible: 1008, within: 1, weeks: [{ keeps: null }] });
  expect(
    voltageFigures(
      volts(() => NaN),
      230,
      week,
    ),
  ).toMatchObject({ known: 0, lowest: null, highest: null, dips: [] });
});

it('of a part of a week nothing is said of the week', () =>
  expect(
    voltageFigures(
      volts(() => 230, 4 * 1440),
      230,
      [{ start: 0, end: 4 * DAY }],
    ).weeks[0],
  ).toMatchObject({
    known: 576,
    keeps: null,
  }));

it('begins with the ten minutes of the clock', () => {
  const spans = { ...volts(() => 230, 25), start: 4 * MINUTE };
  // 00:04 to 00:29: only 00:10 to 00:20 is whole.
  expect(voltageFigures(spans, 230, [])).toMatchObject({ start: 10 * MINUTE, possible: 1 });
});

it('shares agree with a count, whatever the voltage', () =>
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 150, max: 280 }), { minLength: 1, maxLength: 60 }), (tens) => {
      const got = voltageFigures(
        volts((m) => tens[Math.floor(m / 10)] as number, 10 * tens.length),
        230,
        [],
      );
      expect(got.within * tens.length).toBeCloseTo(tens.filter((v) => v >= 207 && v <= 253).length, 9);
      expect(got.withinWide * tens.length).toBeCloseTo(tens.filter((v) => v >= 195.5 && v <= 253).length, 9);
    }),
  ));

it('weeks begin on Monday, one with the change of the clock has an hour more', () => {
  // Friday 23 to Thursday 29 October 2026, London: the clock goes back on Sunday the 25th.
  const start = Date.UTC(2026, 9, 22, 23);
  const spans = { ...emptySpans(start, MINUTE, 7 * 1440 + 60) };
  const weeks = weeksOf(profileCalendar('Europe/London', spans));
  expect(weeks.map((w) => (w.end - w.start) / 3_600_000)).toEqual([73, 96]);
});
