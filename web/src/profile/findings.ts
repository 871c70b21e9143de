import type { PlaceProfile } from '@loka/contract/profile';
import type { Site } from '@loka/contract/site';
import { printNumber } from '@loka/core/formats';
import { mediansDiffer, type Level } from '@loka/core/profile';
import { siteClock } from '@loka/core/time';
import { durationInWords } from '../shared/duration.js';
import { amount, lasting, number, percent, type Part, type Sentence } from './parts.js';

/** What was found of a load, as a sentence with how it is known. */
export interface Finding extends Sentence {
  of: 'levels' | 'runs' | 'lengths' | 'recurring' | 'days' | 'demand' | 'energy' | 'month';
  /** The level that it speaks of, for its evidence. */
  level?: number;
  /** It is not as it is as a rule. */
  unusual?: true;
  /** Of runs those between two lengths, ms. */
  between?: [number, number];
}

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const YEAR = 365.25 * DAY;

/** Of what only counts less can be said. */
const COUNTED: Finding = {
  of: 'levels',
  says: ['Its meter only counts energy.'],
  known: 'told by quarter-hours: of levels, runs and peaks nothing can be said',
};

/** All that can be said of a load over a period, the plainest first. */
export function findingsOf(
  profile: PlaceProfile,
  site: Pick<Site, 'currency' | 'price' | 'carbon' | 'timeZone'>,
  now: number,
): Finding[] {
  if (!profile.duration) return [];
  return [
    profile.source === 'counter' ? COUNTED : levels(profile),
    ...standby(profile, site),
    ...runs(profile),
    ...kinds(profile, site),
    ...unusual(profile, site),
    ...drift(profile),
    ...recurring(profile, site, now),
    ...days(profile),
    ...demand(profile, site),
    ...energy(profile, site),
    ...month(profile, site),
  ];
}

/** Whether it counts as nothing: below it a meter tells nothing apart. */
const isOff = ({ watts }: Level, floor: number): boolean => Math.abs(watts) < floor / 3;

const atLevel = (l: Level, floor: number): Part[] =>
  l.varies
    ? ['anywhere between ', number(l.low, 'W'), ' and ', number(l.high, 'W')]
    : isOff(l, floor)
      ? ['at nothing']
      : ['at ', number(l.watts, 'W')];

/** As many levels as a sentence holds. */
const TOLD = 3;
const byTime = (levels: readonly Level[], count: number): Level[] =>
  [...levels].sort((a, b) => b.time - a.time).slice(0, count);

function levels({ levels: { levels: all, floor, between }, duration }: PlaceProfile): Finding {
  const known =
    all.length === 0
      ? `it goes from ${plain(duration?.lowest ?? 0)} to ${plain(duration?.highest ?? 0)} and stays nowhere`
      : `${all.length === 1 ? 'one level holds' : `${all.length} levels hold`} ${(100 * (1 - between)).toFixed(1)} % of the time`;
  const [first, ...above] = all;
  if (!first) return { of: 'levels', says: ['Stays at no level.'], known };
  if (above.length === 0) {
    const says = ['Stays ', ...atLevel(first, floor), ' for ', percent(first.time), ' of the time.'];
    return { of: 'levels', says, known };
  }
  // What gives has no level to wait at: those that it holds longest are told, from the lowest up.
  const waits = !first.varies && first.watts >= -floor;
  const told = waits ? [first, ...byTime(above, TOLD - 1)] : all.filter((l) => byTime(all, TOLD).includes(l));
  const says = told.flatMap((l, i): Part[] => [
    ...(i > 0
      ? [
          i === told.length - 1 ? ', and ' : ', ',
          ...(waits && i === 1 ? ['runs '] : []),
          ...atLevel(l, floor),
        ]
      : !waits
        ? ['Is ', ...atLevel(l, floor)]
        : isOff(l, floor)
          ? ['Is off']
          : ['Stands by at ', number(l.watts, 'W')]),
    ' for ',
    percent(l.time),
    ...(i === 0 ? [' of the time'] : []),
  ]);
  return { of: 'levels', says: [...says, '.'], known };
}

const plain = (value: number, base = 'W'): string => {
  const { digits, unit } = printNumber(value, base);
  return `${digits} ${unit}`;
};

function standby(
  { levels: { levels: all, floor } }: PlaceProfile,
  site: Pick<Site, 'currency' | 'price'>,
): Finding[] {
  const [first, ...above] = all;
  if (!first || above.length === 0 || first.varies || isOff(first, floor) || first.watts < 0) return [];
  const yearly = (first.watts * first.time * YEAR) / HOUR;
  const says: Part[] = ['Its standby is ', percent(first.energy), ' of its energy'];
  if (site.price !== null) says.push(`, ${amount((yearly / 1000) * site.price, site)} a year`);
  says.push('.');
  return [
    {
      of: 'levels',
      level: 0,
      says,
      known: `${(yearly / 1000).toFixed(0)} kWh a year, while it stands by as it did here`,
    },
  ];
}

function runs({ runs: found }: PlaceProfile): Finding[] {
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
function kinds({ runs: found }: PlaceProfile, { timeZone }: Pick<Site, 'timeZone'>): Finding[] {
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

function unusual({ runs: found }: PlaceProfile, { timeZone }: Pick<Site, 'timeZone'>): Finding[] {
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

function drift({ runs: found }: PlaceProfile): Finding[] {
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

function recurring(
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

function days({ dayTypes }: PlaceProfile): Finding[] {
  const [working, closed] = ['working', 'closed'].map(
    (name) => dayTypes.find((d) => d.name === name)?.energy,
  );
  if (!working || !closed || working.count < 3 || closed.count < 2) return [];
  const [a, b] = [working.median, closed.median];
  if (Math.abs(a - b) < 0.05 * Math.max(Math.abs(a), Math.abs(b)) || !mediansDiffer(working, closed))
    return [];
  const gives = a < 0 && b < 0;
  return [
    {
      of: 'days',
      says: [
        gives ? 'Gives ' : 'Takes ',
        number(Math.abs(a - b), 'Wh'),
        a > b === gives ? ' less' : ' more',
        ' on a working day than on a closed one.',
      ],
      known: `by the medians of ${working.count} and ${closed.count} days; more than chance makes of them`,
    },
  ];
}

function demand(
  { demand: all, duration, levels: { floor } }: PlaceProfile,
  { timeZone }: Pick<Site, 'timeZone'>,
): Finding[] {
  const quarter = all.find((d) => d.block === 900_000);
  if (!quarter?.highest || !duration) return [];
  const { highest, given } = quarter;
  const gives = given !== null && -given.watts > highest.watts;
  const one = gives ? given : highest;
  const says: Part[] = [
    gives ? 'Gives most over a quarter-hour: ' : 'Highest quarter-hour ',
    number(Math.abs(one.watts), 'W'),
    ', on ',
    siteClock(timeZone, one.at, 'ccc d LLL HH:mm'),
    '; mean ',
    number(duration.mean, 'W'),
  ];
  if (!gives && highest.watts > floor && duration.mean > 0)
    says.push(', load factor ', { digits: (duration.mean / highest.watts).toFixed(2), unit: '' });
  says.push('.');
  return [
    {
      of: 'demand',
      says,
      known:
        Math.abs(duration.base) < floor
          ? 'at nothing for more than 5 % of the time'
          : `above ${plain(duration.base)} for 95 % of the time`,
    },
  ];
}

function energy(
  { energy: wh, known, from, to }: PlaceProfile,
  site: Pick<Site, 'currency' | 'price' | 'carbon'>,
): Finding[] {
  if (known <= 0) return [];
  const perDay = (wh / known) * DAY;
  const share = known / (to - from);
  const takes = perDay >= 0;
  const says: Part[] = [
    takes ? 'Took ' : 'Gave ',
    number(Math.abs(wh), 'Wh'),
    ...(takes && site.price !== null ? [`, ${amount((wh / 1000) * site.price, site)}`] : []),
    ': ',
    number(Math.abs(perDay), 'Wh'),
    ' a day',
    ...(takes && site.price !== null
      ? [`, ${amount(((perDay / 1000) * site.price * YEAR) / DAY, site)} a year at this rate`]
      : []),
    '.',
  ];
  const carbon = takes && site.carbon !== null ? `; ${plain((wh * site.carbon) / 1000, 'g')} of CO₂` : '';
  return [
    {
      of: 'energy',
      says,
      known: `in ${durationInWords(known)} that were read, ${(100 * share).toFixed(1)} % of the period${carbon}`,
    },
  ];
}

/** From so many whole days on the period says itself what a month takes. */
const A_MONTH = 28;

function month({ month: found }: PlaceProfile, site: Pick<Site, 'currency' | 'price'>): Finding[] {
  if (!found || found.working + found.closed >= A_MONTH) return [];
  const { energy: wh, low, high, working, closed } = found;
  if (Math.abs(wh) < 10) return [];
  const surely = high - low < 0.01 * Math.abs(wh);
  const at = (value: number) => amount((value / 1000) * (site.price ?? 0), site);
  const cost = site.price === null || low < 0 ? '' : surely ? `, ${at(wh)}` : `, ${at(low)} to ${at(high)}`;
  const gives = high < 0;
  const [least, most] = gives ? [-high, -low] : [low, high];
  return [
    {
      of: 'month',
      says: [
        gives ? 'A month gives ' : 'A month takes ',
        ...(surely ? [] : [number(least, 'Wh'), ' to ']),
        number(most, 'Wh'),
        cost,
        '.',
      ],
      known: `95 times in 100, if its days are like the ${inWords(working, closed)}`,
    },
  ];
}

/** Which days were seen, and which were not. */
function inWords(working: number, closed: number): string {
  if (closed === 0) return `${working} working days seen; no closed one was`;
  if (working === 0) return `${closed} closed days seen; no working day was`;
  return `${working} working and ${closed} closed days seen`;
}
