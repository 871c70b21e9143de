import type { PlaceProfile } from '@loka/contract/profile';
import type { Site } from '@loka/contract/site';
import { siteClock } from '@loka/core/time';
import { durationInWords } from '../shared/duration.js';
import type { Finding } from './finding.js';
import { lasting, number, type Part } from './parts.js';

export function runs({ runs: found }: PlaceProfile): Finding[] {
  const figures = found?.figures;
  if (!figures) return [];
  const { perDay, on, pause, count, energy } = figures;
  const says: Part[] =
    perDay >= 1.5
      ? [
          'Starts ',
          { digits: perDay < 10 ? perDay.toFixed(1) : perDay.toFixed(0), unit: '' },
          ' times a day: ',
        ]
      : ['Started ', { digits: String(count), unit: '' }, ' times: '];
  says.push(...lasting(on.median), ' on');
  if (pause) says.push(', ', ...lasting(pause.median), ' off');
  says.push('.');
  return [
    {
      of: 'runs',
      says,
      known: `${count} runs, half of them ${durationInWords(on.low)} to ${durationInWords(on.high)}; ${(energy.median / 1000).toPrecision(3)} kWh each above standby`,
    },
  ];
}

/** As many further kinds of runs are told. */
const MOST_KINDS = 3;

/** Runs of another length than most. */
export function kinds({ runs: found }: PlaceProfile, { timeZone }: Pick<Site, 'timeZone'>): Finding[] {
  return (found?.kinds ?? []).slice(1, 1 + MOST_KINDS).map((kind): Finding => {
    const { on, energy, count, days: on_, clock, shortest, longest, last } = kind;
    return {
      of: 'lengths',
      between: [shortest, longest],
      says: [
        'Runs for ',
        ...lasting(on.median),
        ' as well, ',
        ...(clock === null ? [] : ['about ', { digits: clockTime(clock), unit: '' }, ' ']),
        'on ',
        { digits: String(on_), unit: '' },
        on_ === 1 ? ' day: ' : ' days: ',
        number(energy.median, 'Wh'),
        ' each.',
      ],
      known: `${count} runs of ${durationInWords(shortest)} to ${durationInWords(longest)}, above standby; the last on ${siteClock(timeZone, last.start, 'ccc d LLL HH:mm')}`,
    };
  });
}

const clockTime = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;

export function unusual({ runs: found }: PlaceProfile, { timeZone }: Pick<Site, 'timeZone'>): Finding[] {
  const one = found?.unusual[0];
  if (!found || !one) return [];
  const others = Math.max(...found.kinds.map((k) => k.longest));
  const more = found.unusual.length - 1;
  return [
    {
      of: 'lengths',
      unusual: true,
      between: [one.end - one.start, one.end - one.start],
      says: [
        'Ran ',
        ...lasting(one.end - one.start),
        ' without a pause on ',
        { digits: siteClock(timeZone, one.start, 'ccc d LLL'), unit: '' },
        ' from ',
        { digits: siteClock(timeZone, one.start, 'HH:mm'), unit: '' },
        '.',
      ],
      known: `the longest that it runs as a rule is ${durationInWords(others)}${more > 0 ? `; ${more} more ran longer than that` : ''}`,
    },
  ];
}

/** A change of the runs that chance brings about less often than once in so many times, and that is so large, is told. */
const CHANCE = 0.001;
const CHANGED = 0.05;

export function drift({ runs: found }: PlaceProfile): Finding[] {
  const [trend, kind] = [found?.trend, found?.kinds[0]];
  if (!trend || !kind || trend.chance > CHANCE || !(trend.from > 0)) return [];
  const by = trend.to - trend.from;
  if (Math.abs(by) < CHANGED * trend.from) return [];
  return [
    {
      of: 'lengths',
      unusual: true,
      between: [kind.shortest, kind.longest],
      says: [
        'A run has become ',
        ...lasting(Math.abs(by)),
        by > 0 ? ' longer: ' : ' shorter: ',
        ...lasting(trend.from),
        ' at first, ',
        ...lasting(Math.max(0, trend.to)),
        ' at the end.',
      ],
      known: `by the medians of ${trend.count} days; by chance ${odds(trend.chance)}`,
    },
  ];
}

const odds = (chance: number): string =>
  `less than once in ${chance < 1e-9 ? 'a billion' : String(Math.floor(1 / chance))}`;

export function recurring(
  { recurring: all, runs, levels: { levels: known } }: PlaceProfile,
  { timeZone }: Pick<Site, 'timeZone'>,
  now: number,
): Finding[] {
  return all.flatMap(
    ({ level, recurrence: { period, seen, expected, off, chance }, duration, last, next }): Finding[] => {
      const at = known[level];
      // What comes nearly as often as the load starts is told with its starts, unless it keeps time like a clock.
      const isRuns = runs?.figures != null && seen > 0.8 * runs.figures.count && off > 0.03 * period;
      if (!at || isRuns) return [];
      return [
        {
          of: 'recurring',
          level,
          says: [
            'Goes to ',
            number(at.watts, 'W'),
            ' for ',
            ...lasting(duration),
            ' every ',
            ...lasting(period),
            // Of a period that is over nobody can say when it comes next.
            next >= now
              ? `. Next at ${siteClock(timeZone, next, 'ccc HH:mm')}.`
              : `. Last at ${siteClock(timeZone, last, 'ccc d LLL HH:mm')}.`,
          ],
          known: `${seen} of ${expected} came, half of them within ${durationInWords(off)}; by chance ${odds(chance)}`,
        },
      ];
    },
  );
}
