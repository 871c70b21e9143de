import type { PlaceProfile } from '@loka/contract/profile';
import type { Site } from '@loka/contract/site';
import type { Level } from '@loka/core/profile';
import type { Finding } from './finding.js';
import { amount, number, percent, plain, type Part } from './parts.js';

const HOUR = 3_600_000;
const YEAR = 365.25 * 24 * HOUR;

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

export function levels({ levels: { levels: all, floor, between }, duration }: PlaceProfile): Finding {
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

export function standby(
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
