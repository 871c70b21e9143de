import type { PlaceProfile } from '@loka/contract/profile';
import type { Site } from '@loka/contract/site';
import { mediansDiffer } from '@loka/core/profile';
import { siteClock } from '@loka/core/time';
import { durationInWords } from '../shared/duration.js';
import type { Finding } from './finding.js';
import { amount, number, plain, type Part } from './parts.js';

const DAY = 86_400_000;
const YEAR = 365.25 * DAY;

export function days({ dayTypes }: PlaceProfile): Finding[] {
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

export function demand(
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

export function energy(
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

export function month({ month: found }: PlaceProfile, site: Pick<Site, 'currency' | 'price'>): Finding[] {
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
