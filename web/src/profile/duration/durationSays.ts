import type { PlaceDuration } from '@loka/contract/profile';
import { siteClock } from '@loka/core/time';
import { everyInWords } from '../backup/backupSays.js';
import { number, percent, plain, type Sentence } from '../parts.js';

const HOUR = 3_600_000;
const YEAR_HOURS = 365.25 * 24;
/** What differs by less of the highest is the same. */
const ALIKE = 0.005;

/** The curve that tells most: of every reading where there is one. */
export const bestCurve = ({ byReadings, byMeans }: PlaceDuration) => byReadings ?? byMeans;

/** For how much of the time how much, the highest, utilisation and coincidence. */
export function durationSays(found: PlaceDuration, timeZone: string): Sentence[] {
  const curve = bestCurve(found);
  if (!curve) return [];
  const { byReadings, byMeans, readings, highest, readEvery, step, coincidence } = found;
  const at = (share: number) => curve.watts[Math.round(share * (curve.watts.length - 1))] as number;
  const of = byReadings
    ? `of ${readings.toLocaleString('en-GB').replace(/,/g, ' ')} readings, each for as long as it held`
    : `by the means of ${step > 60_000 ? 'quarter-hours' : 'minutes'}; up to a week by every reading`;
  const says: Sentence[] = [
    {
      says: [
        'Above ',
        number(at(0.05), 'W'),
        ' for ',
        percent(0.05),
        ' of the time, above ',
        number(at(0.5), 'W'),
        ' for half of it, above ',
        number(curve.base, 'W'),
        ' for ',
        percent(0.95),
        '.',
      ],
      known: of,
    },
  ];
  if (highest) {
    const means = byMeans?.highest ?? highest.watts;
    const differs = highest.watts - means > ALIKE * Math.abs(highest.watts);
    says.push({
      says: [
        'Highest reading ',
        number(highest.watts, 'W'),
        ', on ',
        siteClock(timeZone, highest.at, 'ccc d LLL HH:mm:ss'),
        '.',
      ],
      known: `${everyInWords(readEvery)}: what is shorter is not seen${
        differs
          ? `; the highest mean of a ${step > 60_000 ? 'quarter-hour' : 'minute'} is ${plain(means, 'W')}`
          : ''
      }`,
    });
  }
  if (curve.utilisation !== null && curve.mean > 0) {
    const hours = (curve.utilisation * HOUR * YEAR_HOURS) / curve.known;
    says.push({
      says: [
        'Utilisation ',
        { digits: hours.toFixed(0), unit: 'h' },
        ' a year, load factor ',
        { digits: (curve.loadFactor ?? 0).toFixed(2), unit: '' },
        '.',
      ],
      known: 'so long at its highest would take as much energy; its mean over its highest',
    });
  }
  return [...says, ...coincidenceSays(coincidence, timeZone)];
}

function coincidenceSays(found: PlaceDuration['coincidence'], timeZone: string): Sentence[] {
  if (!found) return [];
  const { loads, together, apart, factor } = found;
  return [
    {
      says: [
        `The ${loads} metered places behind it reach `,
        number(together.watts, 'W'),
        ' together over a quarter-hour, ',
        percent(factor),
        ' of the sum of their own highest.',
      ],
      known: `on ${siteClock(timeZone, together.at, 'ccc d LLL HH:mm')}; ${plain(apart, 'W')} if all of them fell together: coincidence ${factor.toFixed(2)}, diversity factor ${(1 / factor).toFixed(2)}`,
    },
  ];
}
